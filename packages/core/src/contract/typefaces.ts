import { z } from 'zod';
import { done, EVERYONE, MAKERS, route } from './route.ts';

const brought = z.object({
  id: z.string(),
  name: z.string(),
  /** SHA-256 of its files; null: the usual weight stands for what is bold. */
  regular: z.string(),
  bold: z.string().nullable(),
  /** What whoever chooses it ought to know. */
  said: z.array(z.string()),
  /** Kits that write with it. */
  usedBy: z.array(z.string()),
});
export type BroughtRow = z.infer<typeof brought>;

/** The weight that a file is brought for. */
export const TYPEFACE_WEIGHTS = ['regular', 'bold'] as const;

export const typefaceRoutes = {
  'GET /api/typefaces': route({
    about: 'Uploaded fonts, in addition to the built-in ones.',
    roles: EVERYONE,
    reply: z.array(brought),
  }),
  'DELETE /api/typefaces/:typeface': route({
    about: 'Delete a font that no brand kit uses; sent editions keep it.',
    roles: MAKERS,
    reply: done,
  }),
};
