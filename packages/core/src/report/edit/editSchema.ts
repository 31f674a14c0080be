import { z } from 'zod';
import { assumptionsSchema } from '../assumptions.ts';
import { blockSchema } from '../blocks/registry.ts';
import { pageSchema, rowSchema, titleSchema } from '../document.ts';
import { filterSchema } from '../filterSchema.ts';
import { paperChoice } from '../paper.ts';
import { comparisonSpec, periodSpec } from '../specs.ts';
import type { Edit } from './edit.ts';

const id = z.string().min(1).max(60);
const after = id.nullable();

/** Edits as they come over a line. What they make of the document is held against its schema as a whole. */
export const editSchema: z.ZodType<Edit> = z.discriminatedUnion('op', [
  z.strictObject({ op: z.literal('title'), title: titleSchema }),
  z.strictObject({ op: z.literal('period'), period: periodSpec }),
  z.strictObject({ op: z.literal('comparison'), comparison: comparisonSpec }),
  z.strictObject({ op: z.literal('filter'), filter: filterSchema }),
  z.strictObject({ op: z.literal('assumptions'), assumptions: assumptionsSchema }),
  z.strictObject({ op: z.literal('attachFigures'), attach: z.boolean() }),
  z.strictObject({ op: z.literal('contents'), contents: z.boolean() }),
  z.strictObject({ op: z.literal('paper'), page: id.nullable(), paper: paperChoice }),
  z.strictObject({ op: z.literal('addPage'), page: pageSchema, after }),
  z.strictObject({ op: z.literal('namePage'), page: id, title: z.string() }),
  z.strictObject({ op: z.literal('dropPage'), page: id, dropped: z.boolean() }),
  z.strictObject({ op: z.literal('movePage'), page: id, after }),
  z.strictObject({ op: z.literal('removePage'), page: id }),
  z.strictObject({ op: z.literal('addRow'), page: id, row: rowSchema, after }),
  z.strictObject({ op: z.literal('moveRow'), row: id, page: id, after }),
  z.strictObject({ op: z.literal('removeRow'), row: id }),
  z.strictObject({ op: z.literal('addBlock'), row: id, block: blockSchema, after }),
  z.strictObject({ op: z.literal('moveBlock'), block: id, row: id, after }),
  z.strictObject({ op: z.literal('liftBlock'), block: id, row: id, page: id, after }),
  z.strictObject({
    op: z.literal('setBlock'),
    block: id,
    set: z
      .record(z.string(), z.unknown())
      .refine((set) => !('id' in set) && !('kind' in set), 'A block keeps its id and its kind.'),
  }),
  z.strictObject({ op: z.literal('removeBlock'), block: id }),
]);
