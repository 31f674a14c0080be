import { z } from 'zod';
import { MOST_READERS } from '../bounds/index.ts';

/** The line of a mail in which somebody stands. */
export const MAIL_LINES = ['to', 'cc', 'bcc'] as const;
export type MailLine = (typeof MAIL_LINES)[number];

const as = z.enum(MAIL_LINES).optional();
const id = z.string().max(60);

/**
 * Somebody whom a schedule addresses: a contact or a list of its client, or a member of the agency. Without a line of
 * its own, a contact stands where it stands by default, and a member in To.
 */
export const scheduleReader = z.union([
  z.strictObject({ contact: id, as }),
  z.strictObject({ list: id, as }),
  z.strictObject({ member: id, as }),
]);
export type ScheduleReader = z.infer<typeof scheduleReader>;

/** What a reader is told by, whatever line it stands in. */
export const readerKey = (r: ScheduleReader): string => ('contact' in r ? r.contact : 'list' in r ? r.list : r.member);

export const scheduleReaders = z
  .array(scheduleReader)
  .max(MOST_READERS, `Choose at most ${MOST_READERS} readers.`)
  .refine((readers) => new Set(readers.map(readerKey)).size === readers.length, 'Choose each reader once.');

/** One mail for each reader, or one for all of them. */
export const MAILINGS = ['each', 'one'] as const;
export type Mailing = (typeof MAILINGS)[number];

/** What goes with a mail beside the PDF: the figures of its pages as a table of text, or as a workbook. */
export const FORMATS = ['csv', 'xlsx'] as const;
export type Format = (typeof FORMATS)[number];
