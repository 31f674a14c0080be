import { z } from 'zod';
import type { FilterPart } from '../figures/index.ts';
import { segmentInput } from '../report/filterSchema.ts';
import { done, EVERYONE, MAKERS, route } from './route.ts';

const segment = z.object({
  id: z.string(),
  name: z.string(),
  parts: z.custom<FilterPart[]>(),
  /** Of the agency, for all clients: an owner's to change. */
  shared: z.boolean(),
  /** Titles of the client's reports that name it. */
  usedIn: z.array(z.string()),
});
export type SegmentRow = z.infer<typeof segment>;

const input = segmentInput.extend({ shared: z.boolean().default(false) });

export const segmentRoutes = {
  'GET /api/clients/:client/segments': route({
    about: 'The named filters of a client, and those of the agency.',
    roles: EVERYONE,
    reply: z.array(segment),
  }),
  'POST /api/clients/:client/segments': route({
    about: 'Save a filter as a segment; only owners can do this for all clients.',
    roles: MAKERS,
    body: input,
    reply: z.object({ id: z.string() }),
  }),
  'PUT /api/clients/:client/segments/:segment': route({
    about: 'Change a segment; whatever uses it follows.',
    roles: MAKERS,
    body: segmentInput,
    reply: done,
  }),
  'DELETE /api/clients/:client/segments/:segment': route({
    about: 'Remove a segment that no report uses.',
    roles: MAKERS,
    reply: done,
  }),
};
