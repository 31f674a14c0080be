import { z } from 'zod';
import { assumedSchema } from './assumptions.ts';
import { filterSchema } from './filterSchema.ts';
import { comparisonSpec, periodSpec } from './specs.ts';

/** To whom an edition goes. A contact is looked up again when it is sent; a member gets tests. */
const reader = z.union([z.strictObject({ contact: z.string() }), z.strictObject({ member: z.string() })]);
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
  subject: z.string(),
  message: z.string(),
});
export type OrderSheet = z.infer<typeof orderSheetSchema>;
