import { z } from 'zod';
import { FILTER_PARTS, FILTER_VALUES, SEGMENT_NAME } from '../bounds/index.ts';
import { DIMENSION_KEYS, FILTER_HOWS, type FilterPart, SEGMENT } from '../figures/index.ts';

const values: z.ZodType<readonly string[]> = z
  .array(z.string().max(200, 'Maximum 200 characters.'))
  .min(1, 'Choose a value.')
  .max(FILTER_VALUES, `Choose at most ${FILTER_VALUES} values.`);

/** Parts of these dimensions; a text that is looked for is not empty, as every value holds that. */
const partsOf = (dimensions: readonly string[]): z.ZodType<FilterPart[]> => {
  const part = z
    .strictObject({
      dimension: z.string().refine((d) => dimensions.includes(d), 'Dimension not found.'),
      how: z.enum(FILTER_HOWS),
      values,
    })
    .refine((p) => p.dimension !== SEGMENT || p.how === 'only', {
      path: ['how'],
      error: 'Segments can’t be changed here.',
    })
    .refine((p) => p.how === 'only' || p.how === 'except' || p.values.every((v) => v.trim() !== ''), {
      path: ['values'],
      error: 'Enter a text to match.',
    });
  return z.array(part).max(FILTER_PARTS, `A filter has at most ${FILTER_PARTS} parts.`);
};

/** What a report or a block counts: dimensions and segments. */
export const filterSchema = partsOf([...DIMENSION_KEYS, SEGMENT]);

/** A named filter as somebody words it: of dimensions alone. */
export const segmentInput = z.strictObject({
  name: z.string().trim().min(1, 'Enter a segment name.').max(SEGMENT_NAME, `Maximum ${SEGMENT_NAME} characters.`),
  parts: partsOf(DIMENSION_KEYS).refine((parts) => parts.length > 0, 'Choose what the segment includes.'),
});
export type SegmentInput = z.infer<typeof segmentInput>;
