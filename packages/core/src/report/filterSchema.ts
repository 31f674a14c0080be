import { z } from 'zod';
import { FILTER_PARTS, FILTER_VALUES, SEGMENT_NAME } from '../bounds/index.ts';
import { DIMENSION_KEYS, FILTER_HOWS, type FilterPart, SEGMENT } from '../figures/index.ts';

const values: z.ZodType<readonly string[]> = z
  .array(z.string().max(200, 'Keep a value to 200 characters.'))
  .min(1, 'Choose a value.')
  .max(FILTER_VALUES, `Choose at most ${FILTER_VALUES} values.`);

const dimension = z
  .string()
  .refine((d) => (DIMENSION_KEYS as readonly string[]).includes(d), 'There is no such dimension.');
const ofDimension = z.strictObject({ dimension, how: z.enum(FILTER_HOWS), values });
const ofSegments = z.strictObject({ dimension: z.literal(SEGMENT), how: z.literal('only'), values });

const listOf = <T extends z.ZodType<FilterPart>>(part: T) =>
  z.array(part).max(FILTER_PARTS, `A filter has at most ${FILTER_PARTS} parts.`);

/** What a report, a block or a schedule counts: dimensions and segments. */
export const filterSchema: z.ZodType<FilterPart[]> = listOf(z.union([ofSegments, ofDimension]));

/** A named filter as somebody words it: of dimensions alone. */
export const segmentInput = z.strictObject({
  name: z
    .string()
    .trim()
    .min(1, 'Give the segment a name.')
    .max(SEGMENT_NAME, `Keep the name to ${SEGMENT_NAME} characters.`),
  parts: listOf(ofDimension).min(1, 'Choose what the segment keeps.'),
});
export type SegmentInput = z.infer<typeof segmentInput>;
