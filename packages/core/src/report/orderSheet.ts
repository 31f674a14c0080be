import { z } from 'zod';
import { assumedSchema } from './assumptions.ts';
import { filterSchema } from './filterSchema.ts';
import { mailDesign } from './mailDesign.ts';
import { FORMATS, MAIL_LINES, MAILINGS } from './readers.ts';
import { comparisonSpec, periodSpec } from './specs.ts';

/** To whom an edition goes, and in which line. Whoever it is is looked up again when it is sent. */
const as = z.enum(MAIL_LINES).optional();
const reader = z.union([z.strictObject({ contact: z.string(), as }), z.strictObject({ member: z.string(), as })]);
export type ReaderRef = z.infer<typeof reader>;

/** What an edition is made from, settled when it is planned. */
export const orderSheetSchema = z.strictObject({
  title: z.string(),
  /** Of a test: made from what is being edited, not from the release. */
  draft: z.literal(true).optional(),
  period: periodSpec,
  comparison: comparisonSpec,
  /** Assumptions that are set anew. */
  assumed: assumedSchema.optional(),
  /** What alone is counted. */
  filter: filterSchema.optional(),
  /** The civil date that period and comparison are relative to. */
  asOf: z.string(),
  readers: z.array(reader),
  /** The value whose readers it is for. */
  group: z.string().optional(),
  /** Where it is not one mail for each. */
  mailing: z.enum(MAILINGS).optional(),
  /** Pages that it has, by id; all of them where none are named. */
  pages: z.array(z.string()).optional(),
  /** Blocks that it leaves out, by id. */
  leftOut: z.array(z.string()).optional(),
  /** The locale of its pages and mails where it is not the client's. */
  language: z.string().optional(),
  /** What its file is called: a text with merge fields. */
  fileName: z.string().optional(),
  /** What goes with its mails beside the PDF. */
  formats: z.array(z.enum(FORMATS)).optional(),
  /** How its mails are made up; left out: of their message alone. */
  mail: mailDesign.optional(),
  subject: z.string(),
  message: z.string(),
});
export type OrderSheet = z.infer<typeof orderSheetSchema>;
