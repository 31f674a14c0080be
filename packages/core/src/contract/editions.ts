import { z } from 'zod';
import { scopeQuery } from './clients.ts';
import { done, EVERYONE, MANAGERS, range, route } from './route.ts';
import { scenePage } from './scenePage.ts';

export const EDITION_STATES = [
  'planned',
  'collecting',
  'review',
  'ready',
  'sending',
  'sent',
  'part-sent',
  'held',
  'skipped',
  'replaced',
] as const;

const delivery = z.object({
  email: z.string(),
  name: z.string(),
  state: z.enum(['queued', 'sending', 'accepted', 'deferred', 'uncertain', 'refused', 'withdrawn', 'bounced']),
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
  /** When data or files were last looked for. */
  lookedAt: z.string().nullable(),
  dueAt: z.string(),
  /** When it went out; null for one that has not. */
  sentAt: z.string().nullable(),
  /** Seconds until it goes, of one that a person let go and that can still be taken back; null for any other. */
  goesIn: z.int().nullable(),
  local: z.object({ date: z.string(), time: z.string() }),
  zone: z.string(),
  /** What a person may do with it now. */
  may: z.object({
    send: z.boolean(),
    retry: z.boolean(),
    skip: z.boolean(),
    takeUp: z.boolean(),
    /** Take a sign-off back, before it goes. */
    takeBack: z.boolean(),
  }),
  /** The value whose readers it is for, of a schedule with groups. */
  group: z.string().nullable(),
  /** Who is asked before it goes, and until when; null for one that asks nobody. */
  asks: z.object({ who: z.string(), until: z.string().nullable() }).nullable(),
  hasPdf: z.boolean(),
  /** To whom it goes, by name; deliveries tell what became of it. */
  readers: z.array(z.string()),
  deliveries: z.array(delivery),
});

export type Edition = z.infer<typeof edition>;

/** All that a person has to see before an edition goes: its pages, each mail, whom it reaches, for which dates. */
const review = z.object({
  edition,
  lang: z.string(),
  pages: z.array(scenePage),
  mails: z.array(
    z.object({
      reader: z.string(),
      name: z.string(),
      email: z.string(),
      /** The line of a mail for many; null where each gets a mail of their own. */
      line: z.enum(['to', 'cc', 'bcc']).nullable(),
      subject: z.string(),
      text: z.string(),
      fileName: z.string(),
      /** What goes with it beside the PDF. */
      tables: z.array(z.string()),
    }),
  ),
  /** Readers who get nothing, with the reason, in sentences. */
  withheld: z.array(z.string()),
  from: z.object({ name: z.string(), address: z.string(), replyTo: z.string().nullable() }),
  /** What the manager writes in its mails; null where its mails have no place for it. */
  note: z.string().nullable(),
  /** Why it cannot go as it is; null when it can. */
  problem: z.string().nullable(),
  /** Verdicts that odd days turn round, in sentences: said before all else. */
  turned: z.array(z.string()),
  /** Letters that are lost, too many sheets: in sentences. */
  remarks: z.array(z.string()),
  /** It is being drawn anew, since something that it is made of has changed. */
  stale: z.boolean(),
  /** What was seen: sent back with the word that it may go. */
  hash: z.string().nullable(),
});
export type Review = z.infer<typeof review>;

const many = z.object({ editions: z.array(z.string()).min(1, 'Choose an edition.').max(200) });

export const editionRoutes = {
  'GET /api/editions': route({
    about: 'Editions, newest first.',
    roles: EVERYONE,
    query: z.object({
      client: z.string().optional(),
      scope: scopeQuery,
      state: z.enum(EDITION_STATES).optional(),
      text: z.string().max(100).optional(),
      /** Tests instead of what is sent. */
      tests: z.stringbool().default(false),
      page: z.coerce.number().int().min(1).max(100_000).default(1),
    }),
    reply: z.object({
      editions: z.array(edition),
      /** One more than is counted one by one (`MOST_COUNTED`) where there are more. */
      total: z.int(),
      pageSize: z.int(),
    }),
  }),
  'GET /api/editions/:edition': route({ about: 'One edition.', roles: EVERYONE, reply: edition }),
  'GET /api/editions/:edition/review': route({
    about: 'What an edition would send: its current pages, emails and readers.',
    roles: EVERYONE,
    reply: review,
  }),
  'POST /api/editions/:edition/send': route({
    about:
      'Approve an edition as it was seen: it is sent at its send time, or immediately if that has passed. Refused if it changed since.',
    roles: MANAGERS,
    body: z.object({ hash: z.string().max(100) }),
    reply: done,
  }),
  'POST /api/editions/:edition/take-back': route({
    about: 'Undo an approval before the edition is sent: it needs review again.',
    roles: MANAGERS,
    reply: done,
  }),
  'POST /api/editions/take-up': route({
    about: 'Restore skipped or missed editions; after their send time they need review.',
    roles: MANAGERS,
    body: many,
    reply: done,
  }),
  'POST /api/editions/put-away': route({
    about: 'Dismiss skipped or missed editions.',
    roles: MANAGERS,
    body: many,
    reply: done,
  }),
  'POST /api/editions/:edition/retry': route({
    about: 'Retry an edition that is on hold: check for its data, or retry failed deliveries.',
    roles: MANAGERS,
    reply: done,
  }),
  'POST /api/editions/:edition/skip': route({
    about: 'Skip an edition that was not sent.',
    roles: MANAGERS,
    reply: done,
  }),
};
