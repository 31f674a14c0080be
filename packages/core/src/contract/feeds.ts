import { z } from 'zod';
import { done, EVERYONE, MAKERS, route } from './route.ts';

const dataset = z.object({
  id: z.string(),
  name: z.string(),
  firstDay: z.string(),
  coveredThrough: z.string().nullable(),
  coveredDays: z.int(),
  rows: z.int(),
});

const feed = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.string(),
  account: z.string(),
  /** `new` until its first load is done. */
  state: z.enum(['new', 'loading', 'fresh', 'troubled']),
  /** What is wrong, what was kept and what happens next; null when nothing is. */
  trouble: z.string().nullable(),
  progress: z.object({ done: z.int(), of: z.int() }).nullable(),
  lastSuccess: z.string().nullable(),
  nextSync: z.string().nullable(),
  datasets: z.array(dataset),
});

export type Feed = z.infer<typeof feed>;

export const feedRoutes = {
  'GET /api/feed-kinds': route({
    about: 'The services that a feed can be connected to.',
    roles: EVERYONE,
    reply: z.array(z.object({ kind: z.string(), label: z.string(), about: z.string(), available: z.boolean() })),
  }),
  'GET /api/clients/:client/feeds': route({ about: 'The feeds of a client.', roles: EVERYONE, reply: z.array(feed) }),
  'POST /api/clients/:client/feeds': route({
    about: 'Connect a feed; the account is looked up first, and the first load begins.',
    roles: MAKERS,
    body: z.object({
      kind: z.string(),
      account: z.string().trim().min(1, 'Give the account’s number.').max(100),
      token: z.string().trim().min(1, 'Give the access token.').max(500),
    }),
    reply: feed,
  }),
  'PUT /api/clients/:client/feeds/:feed/token': route({
    about: 'Give a feed a new access token, and try it.',
    roles: MAKERS,
    body: z.object({ token: z.string().trim().min(1, 'Give the access token.').max(500) }),
    reply: feed,
  }),
  'POST /api/clients/:client/feeds/:feed/sync': route({ about: 'Fetch now.', roles: MAKERS, reply: done }),
};
