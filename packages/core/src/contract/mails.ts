import { z } from 'zod';
import { language as clientLanguage } from '../client/settings/language.ts';
import { assumedSchema } from '../report/assumptions.ts';
import { MAIL_SHOWS } from '../report/blocks/mailPiece.ts';
import { filterSchema } from '../report/filterSchema.ts';
import { mailDesign } from '../report/mailDesign.ts';
import { FORMATS, MAILINGS, scheduleReaders } from '../report/readers.ts';
import { readersGroups } from '../report/readersGroups.ts';
import { comparisonSpec, periodSpec } from '../report/specs.ts';
import { done, EVERYONE, MANAGERS, route } from './route.ts';

/** By day, by night, or as the reader's program asks. */
export const MAIL_SCHEMES = ['light', 'dark'] as const;
const scheme = z.enum(MAIL_SCHEMES).default('light');

/** A mail as one reader gets it. */
const mailShown = z.object({
  to: z.object({ id: z.string(), name: z.string(), email: z.string() }).nullable(),
  from: z.object({ name: z.string(), address: z.string(), replyTo: z.string().nullable() }),
  subject: z.string(),
  /** What programs show beside the subject. */
  preview: z.string(),
  /** Whole by itself: its pictures are within. */
  html: z.string(),
  text: z.string(),
  /** What goes with it, by name. */
  files: z.array(z.string()),
});
export type MailShown = z.infer<typeof mailShown>;

const mailFile = z.object({ file: z.string(), name: z.string(), type: z.string(), size: z.int() });

const attempt = z.object({
  at: z.string(),
  endedAt: z.string().nullable(),
  email: z.string(),
  /** Null while it lasts, or where the server was ended meanwhile. */
  outcome: z.enum(['accepted', 'deferred', 'refused', 'uncertain', 'aborted', 'server']).nullable(),
  /** In the mail server's words. */
  reply: z.string().nullable(),
});

const deliveryDetail = z.object({
  id: z.string(),
  reader: z.string(),
  name: z.string(),
  email: z.string(),
  state: z.enum(['queued', 'sending', 'accepted', 'deferred', 'uncertain', 'refused', 'withdrawn', 'bounced']),
  reply: z.string().nullable(),
  nextTry: z.string().nullable(),
  messageId: z.string(),
  subject: z.string(),
  /** Which time it was sent to this reader: 0 is the first. */
  round: z.int(),
  /** Who asked for it; null where it went of itself. */
  askedBy: z.string().nullable(),
  attempts: z.array(attempt),
  mayResend: z.boolean(),
});
export type DeliveryDetail = z.infer<typeof deliveryDetail>;

export const mailRoutes = {
  'POST /api/clients/:client/schedules/mail': route({
    about: 'Preview a schedule’s email for a reader, before it is saved, with the last period’s data.',
    roles: EVERYONE,
    body: z.object({
      reportId: z.string(),
      period: periodSpec,
      comparison: comparisonSpec,
      assumed: assumedSchema.default({}),
      filter: filterSchema.default([]),
      pages: z.array(z.string().max(60)).max(60).nullable().default(null),
      language: clientLanguage.schema.nullable().default(null),
      formats: z.array(z.enum(FORMATS)).default([]),
      fileName: z.string().max(200).default(''),
      readers: scheduleReaders.default([]),
      groups: readersGroups.nullable().default(null),
      mailing: z.enum(MAILINGS).default('each'),
      subject: z.string().max(200),
      message: z.string().max(4000),
      mail: mailDesign,
      /** Whose mail is shown; null for the first. */
      reader: z.string().max(60).nullable().default(null),
      scheme,
    }),
    reply: z.object({
      readers: z.array(z.object({ id: z.string(), name: z.string(), email: z.string() })),
      mail: mailShown.nullable(),
      /** Which dates its figures are of. */
      period: z.string(),
      /** Why it cannot be written; null where it can. */
      problem: z.string().nullable(),
      /** What its figures lack, in sentences: such a mail waits. */
      lacks: z.array(z.string()),
    }),
  }),
  'GET /api/reports/:report/mail-parts': route({
    about: 'The blocks of a released report that emails can show.',
    roles: EVERYONE,
    reply: z.array(
      z.object({ block: z.string(), page: z.string(), as: z.enum(MAIL_SHOWS), kind: z.string(), about: z.string() }),
    ),
  }),
  'GET /api/clients/:client/mail-files': route({
    about: 'A client’s email attachments.',
    roles: EVERYONE,
    reply: z.array(mailFile),
  }),
  'GET /api/editions/:edition/mails/:reader': route({
    about: 'The email of an edition for one reader.',
    roles: EVERYONE,
    query: z.object({ scheme }),
    reply: mailShown,
  }),
  'PUT /api/editions/:edition/note': route({
    about: 'Set the manager’s note in the emails of one edition.',
    roles: MANAGERS,
    body: z.object({ note: z.string().trim().max(2000, 'Maximum 2,000 characters.') }),
    reply: done,
  }),
  'GET /api/editions/:edition/deliveries': route({
    about: 'The emails of an edition by reader, with every delivery attempt.',
    roles: EVERYONE,
    reply: z.array(deliveryDetail),
  }),
  'POST /api/editions/:edition/resend': route({
    about: 'Resend an edition: to everyone, to some readers, or to another one.',
    roles: MANAGERS,
    body: z.object({
      /** Contacts and members by their ids; null for all who had it. */
      readers: z.array(z.string().max(60)).min(1, 'Choose whom it goes to.').max(500).nullable(),
    }),
    reply: z.object({ mails: z.int() }),
  }),
};
