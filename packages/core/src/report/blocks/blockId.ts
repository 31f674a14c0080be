import { z } from 'zod';
import { isObjectName } from '../../bounds/index.ts';

/** What a page, a row or a block is known by: any short text that no object answers to of its own accord. */
export const blockId = z
  .string()
  .max(80, 'An identifier has at most 80 characters.')
  .refine((id) => !isObjectName(id), 'This is no identifier.');
