import { z } from 'zod';
import { GALLERY_STATES } from '../page/gallery/index.ts';
import { EVERYONE, route } from './route.ts';
import { scenePage } from './scenePage.ts';

export const galleryRoutes = {
  'GET /api/gallery': route({
    about:
      'Every kind of block in three widths, with what is wrong with each page: for whoever writes a block; not on a production server.',
    roles: EVERYONE,
    query: z.object({
      language: z.string().max(20).default('en-GB'),
      state: z.enum(GALLERY_STATES).default('full'),
    }),
    reply: z.object({
      lang: z.string(),
      languages: z.array(z.object({ value: z.string(), label: z.string() })).readonly(),
      states: z.array(z.enum(GALLERY_STATES)),
      pages: z.array(z.object({ page: scenePage, faults: z.array(z.string()) })),
    }),
  }),
};
