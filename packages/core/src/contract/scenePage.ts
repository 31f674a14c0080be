import { z } from 'zod';
import type { Scene } from '../page/index.ts';

/** A page as the renderer laid it out: what wrote it is the renderer alone, and it is taken as it is. */
export const scenePage = z.custom<Scene['pages'][number]>((v) => typeof v === 'object' && v !== null);
