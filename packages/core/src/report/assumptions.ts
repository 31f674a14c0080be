import { z } from 'zod';
import { ASSUMPTION_NAME, MOST_ASSUMPTIONS } from '../bounds/index.ts';
import { OWN_UNITS } from '../figures/index.ts';
import { metricKey } from './blocks/fields.ts';
import { boundedNumber } from './specs.ts';

/** A named number of a report (an uplift, a margin, a budget), which formulas and the What-if block read. */
export const assumptionSchema = z.strictObject({
  key: metricKey,
  label: z
    .string()
    .trim()
    .min(1, 'Enter an assumption name.')
    .max(ASSUMPTION_NAME, `Maximum ${ASSUMPTION_NAME} characters.`),
  unit: z.enum(OWN_UNITS),
  /** By default. Of a percentage the fraction: 0.05 is 5 %. */
  value: boundedNumber,
});
export type Assumption = z.infer<typeof assumptionSchema>;

export const assumptionsSchema = z
  .array(assumptionSchema)
  .max(MOST_ASSUMPTIONS, `A report has at most ${MOST_ASSUMPTIONS} assumptions.`)
  .refine((all) => new Set(all.map((a) => a.key)).size === all.length, 'Two assumptions have the same key.');

/** Values that are set anew, by key. */
export const assumedSchema = z.record(metricKey, boundedNumber);
export type Assumed = z.infer<typeof assumedSchema>;

/** The values of a report's assumptions: as they are set anew, else by default. What it does not name is left out. */
export const assumedBy = (assumptions: readonly Assumption[] = [], set: Assumed = {}): Assumed =>
  Object.fromEntries(assumptions.map(({ key, value }) => [key, set[key] ?? value]));
