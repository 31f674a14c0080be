import { z } from 'zod';
import type { Scene } from '../page/index.ts';

/** A page as the press laid it out: what wrote it is the press alone, and it is taken as it is. */
export const scenePage = z.custom<Scene['pages'][number]>((v) => typeof v === 'object' && v !== null);
