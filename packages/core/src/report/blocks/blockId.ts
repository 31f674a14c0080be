import { z } from 'zod';
import { isObjectName } from '../../bounds/index.ts';

/** The id of a page, a row or a block: any short text but the name of a member of Object. */
export const blockId = z
  .string()
  .max(80, 'An identifier has at most 80 characters.')
  .refine((id) => !isObjectName(id), 'This is no identifier.');
