import { z } from 'zod';
import { commentary, commentarySchema } from './commentary.ts';
import { drivers, driversSchema } from './drivers.ts';
import { heading, headingSchema } from './heading.ts';
import { kpiRow, kpiRowSchema } from './kpiRow.ts';
import { ranking, rankingSchema } from './ranking.ts';
import type { BlockKind } from './sheet.ts';
import { trend, trendSchema } from './trend.ts';

export const blockSchema = z.discriminatedUnion('kind', [
  headingSchema,
  kpiRowSchema,
  trendSchema,
  rankingSchema,
  driversSchema,
  commentarySchema,
]);

export type Block = z.infer<typeof blockSchema>;

const KINDS: { [K in Block['kind']]: BlockKind<Extract<Block, { kind: K }>> } = {
  heading,
  kpiRow,
  trend,
  ranking,
  drivers,
  commentary,
};

export const blockKind = (block: Block): BlockKind<Block> => KINDS[block.kind] as BlockKind<Block>;

/** The metrics that a block shows. */
export const blockMetrics = (block: Block): readonly string[] =>
  'metrics' in block ? block.metrics : 'metric' in block ? [block.metric] : [];
