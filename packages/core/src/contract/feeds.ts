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

const restatement = z.object({
  dataset: z.string(),
  day: z.string(),
  /** The measure, as it is called where it is known. */
  measure: z.string(),
  before: z.number(),
  after: z.number(),
  at: z.string(),
});

/**
 * What an account was before its first day here, and what it is since its last one: it `ran` without us, `began` then, or
 * `continues` another feed of the client; since it was removed it is `unread`, or has `ended` (SEMANTICS §4).
 */
export const feedPast = z.object({
  before: z.enum(['ran', 'began', 'continues']),
  /** The feed that it continues; null otherwise. */
  continues: z.string().nullable(),
  after: z.enum(['unread', 'ended']),
});
export type FeedPast = z.infer<typeof feedPast>;

/** How a feed is: what a person is to be told first. */
export const FEED_STATES = ['new', 'loading', 'fresh', 'troubled', 'stopped', 'removed'] as const;

const feed = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.string(),
  /** A service that is asked, files that are brought, or figures that are typed in. */
  source: z.enum(['service', 'file', 'typed']),
  account: z.string(),
  /** `new` until its first load is done; `stopped` until a person looked. */
  state: z.enum(FEED_STATES),
  /** What is wrong, what was kept and what happens next; null when nothing is. */
  trouble: z.string().nullable(),
  /** The one thing to do about it. */
  action: z.enum(['fetch', 'authorise', 'token', 'confirm', 'reconnect', 'import', 'type']),
  /** For `stopped`: whether a person can say that the account is the right one. */
  canConfirm: z.boolean(),
  connection: z.string().nullable(),
  progress: z.object({ done: z.int(), of: z.int() }).nullable(),
  lastSuccess: z.string().nullable(),
  nextSync: z.string().nullable(),
  coveredThrough: z.string().nullable(),
  /** Days that are not known, since rows of the last file could not be read. */
  open: z.array(z.object({ from: z.string(), to: z.string() })),
  quota: z.object({ used: z.int(), limit: z.int(), resets: z.string() }).nullable(),
  restated: restatement.nullable(),
  datasets: z.array(dataset),
  past: feedPast,
});

export type Feed = z.infer<typeof feed>;
export type Restatement = z.infer<typeof restatement>;

const token = z.string().trim().min(1, 'Enter the access token.').max(500);

export const feedRoutes = {
  'GET /api/feed-kinds': route({
    about: 'The services you can connect.',
    roles: EVERYONE,
    reply: z.array(z.object({ kind: z.string(), label: z.string(), about: z.string(), available: z.boolean() })),
  }),
  'GET /api/clients/:client/feeds': route({
    about: 'The feeds of a client; removed ones come last.',
    roles: EVERYONE,
    reply: z.array(feed),
  }),
  'POST /api/clients/:client/feeds': route({
    about: 'Connect one account by number and access token; it is checked first, then the first import starts.',
    roles: MAKERS,
    body: z.object({
      kind: z.string(),
      account: z.string().trim().min(1, 'Enter the account number.').max(100),
      token,
    }),
    reply: feed,
  }),
  'PUT /api/clients/:client/feeds/:feed/token': route({
    about: 'Enter a feed a new access token, and test it.',
    roles: MAKERS,
    body: z.object({ token }),
    reply: feed,
  }),
  'PUT /api/clients/:client/feeds/:feed/past': route({
    about: 'Set what a feed was before its first day, and what it is after its last.',
    roles: MAKERS,
    body: feedPast,
    reply: done,
  }),
  'POST /api/clients/:client/feeds/:feed/sync': route({ about: 'Fetch now.', roles: MAKERS, reply: done }),
  'POST /api/clients/:client/feeds/:feed/confirm': route({
    about: 'Confirm the account of a stopped feed; fetching resumes.',
    roles: MAKERS,
    reply: done,
  }),
  'GET /api/clients/:client/feeds/:feed/restatements': route({
    about: 'Days with revised data, newest first.',
    roles: EVERYONE,
    reply: z.array(restatement),
  }),
  'GET /api/clients/:client/feeds/:feed/removal': route({
    about: 'What removing a feed would stop.',
    roles: MAKERS,
    reply: z.object({ schedules: z.array(z.string()) }),
  }),
  'DELETE /api/clients/:client/feeds/:feed': route({
    about: 'Remove a feed. Its data is kept; schedules that need it stop.',
    roles: MAKERS,
    reply: z.object({ schedules: z.array(z.string()) }),
  }),
  'POST /api/clients/:client/feeds/:feed/reconnect': route({
    about: 'Restore a removed feed, with the schedules that stopped because of it.',
    roles: MAKERS,
    reply: z.object({ schedules: z.array(z.string()) }),
  }),
};
