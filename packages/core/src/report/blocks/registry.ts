import { z } from 'zod';
import type { AnyBlock, BlockKind } from './block.ts';
import { commentary } from './commentary.ts';
import { cover } from './cover.ts';
import { drivers } from './drivers.ts';
import { heading } from './heading.ts';
import { kpi } from './kpi.ts';
import { kpiRow } from './kpiRow.ts';
import { notes } from './notes.ts';
import { opening } from './opening.ts';
import { pace } from './pace.ts';
import { peers } from './peers.ts';
import { picture } from './picture.ts';
import { ranking } from './ranking.ts';
import { rhythm } from './rhythm.ts';
import { share } from './share.ts';
import { stages } from './stages.ts';
import { standouts } from './standouts.ts';
import { topics } from './topics.ts';
import { trend } from './trend.ts';
import { whatIf } from './whatIf.ts';
import { workLog } from './workLog.ts';

/** Every kind of block, in the order in which they are offered. */
const KINDS = {
  opening,
  heading,
  kpi,
  kpiRow,
  trend,
  ranking,
  share,
  rhythm,
  stages,
  pace,
  whatIf,
  drivers,
  standouts,
  peers,
  topics,
  commentary,
  workLog,
  picture,
  notes,
  cover,
};

type BlockIn<K> = K extends BlockKind<infer B> ? B : never;
export type Block = { [K in keyof typeof KINDS]: BlockIn<(typeof KINDS)[K]> }[keyof typeof KINDS];

/** Every kind of block; what is done for all of them asks no kind by name. */
export const BLOCK_KINDS = Object.values(KINDS) as unknown as readonly BlockKind<Block>[];

export const blockSchema = z.discriminatedUnion(
  'kind',
  BLOCK_KINDS.map((k) => k.schema) as unknown as [z.core.$ZodTypeDiscriminable],
) as unknown as z.ZodType<Block>;

export const blockKind = (block: AnyBlock): BlockKind<Block> =>
  KINDS[block.kind as keyof typeof KINDS] as unknown as BlockKind<Block>;
