import { z } from 'zod';
import { done, EVERYONE, MANAGERS, range, route } from './route.ts';

export const EDITION_STATES = [
  'planned',
  'gathering',
  'proof',
  'cleared',
  'sending',
  'sent',
  'part-sent',
  'held',
  'skipped',
  'superseded',
] as const;

const delivery = z.object({
  email: z.string(),
  name: z.string(),
  state: z.enum(['queued', 'sending', 'accepted', 'deferred', 'refused', 'bounced']),
  tries: z.int(),
  /** What the mail server last said. */
  reply: z.string().nullable(),
  nextTry: z.string().nullable(),
});

const edition = z.object({
  id: z.string(),
  number: z.int().nullable(),
  clientId: z.string(),
  clientName: z.string(),
  colour: z.string(),
  title: z.string(),
  kind: z.enum(['scheduled', 'by-hand', 'test']),
  period: range.extend({ label: z.string() }).nullable(),
  compared: range.extend({ label: z.string() }).nullable(),
  state: z.enum(EDITION_STATES),
  reason: z.string().nullable(),
  dueAt: z.string(),
  local: z.object({ date: z.string(), time: z.string() }),
  hasPdf: z.boolean(),
  /** To whom it goes, by name; deliveries tell what became of it. */
  readers: z.array(z.string()),
  deliveries: z.array(delivery),
});

export type Edition = z.infer<typeof edition>;

export const editionRoutes = {
  'GET /api/editions': route({
    about: 'Editions, newest first.',
    roles: EVERYONE,
    query: z.object({
      client: z.string().optional(),
      state: z.enum(EDITION_STATES).optional(),
      text: z.string().max(100).optional(),
      page: z.coerce.number().int().min(1).default(1),
    }),
    reply: z.object({ editions: z.array(edition), total: z.int(), pageSize: z.int() }),
  }),
  'GET /api/editions/:edition': route({ about: 'One edition.', roles: EVERYONE, reply: edition }),
  'POST /api/editions/:edition/retry': route({
    about: 'Take up a held edition where it stopped: look for its data, or send to whom it could not.',
    roles: MANAGERS,
    reply: done,
  }),
  'POST /api/editions/:edition/skip': route({
    about: 'Give up an edition that is not sent.',
    roles: MANAGERS,
    reply: done,
  }),
};
