import { type CivilDate, fromDayNumber } from '@chronicon/core/calendar';
import type { Kysely, Transaction } from 'kysely';
import type { Chunk } from './chunkCodec.ts';
import type { FactTables } from './schema.ts';

/** A day that came again with another total of a measure. */
export interface Restated {
  day: number;
  measure: string;
  before: number;
  after: number;
}

/** Totals of a measure by day of the month; sums in another order may differ in their last digits. */
function totals(chunk: Chunk | null, measure: string): Float64Array {
  const sums = new Float64Array(31);
  const values = chunk?.measures[measure];
  if (chunk && values) for (let i = 0; i < values.length; i++) sums[chunk.days[i]!]! += values[i]!;
  return sums;
}

const differs = (a: number, b: number): boolean => Math.abs(a - b) > 1e-9 * Math.max(1, Math.abs(a), Math.abs(b));

/** Days among `known`, which had been delivered, whose totals in `fresh` are others than before. */
export function restatedDays(
  before: Chunk | null,
  fresh: Chunk,
  monthFirst: number,
  known: ReadonlySet<number>,
): Restated[] {
  const found: Restated[] = [];
  for (const measure of Object.keys(fresh.measures)) {
    const [old, now] = [totals(before, measure), totals(fresh, measure)];
    for (let i = 0; i < 31; i++) {
      if (!known.has(monthFirst + i) || !differs(old[i]!, now[i]!)) continue;
      found.push({ day: monthFirst + i, measure, before: old[i]!, after: now[i]! });
    }
  }
  return found;
}

/** Restated days are kept for this many, the newest of each dataset. */
const KEPT = 2_000;

export async function keepRestated(
  tx: Transaction<FactTables>,
  datasetId: string,
  restated: readonly Restated[],
  at: string,
): Promise<void> {
  for (let i = 0; i < restated.length; i += 500) {
    await tx
      .insertInto('restatement')
      .values(restated.slice(i, i + 500).map((r) => ({ dataset_id: datasetId, ...r, noticed_at: at })))
      .execute();
  }
  if (restated.length === 0) return;
  const oldest = await tx
    .selectFrom('restatement')
    .select('noticed_at')
    .where('dataset_id', '=', datasetId)
    .orderBy('noticed_at', 'desc')
    .offset(KEPT)
    .limit(1)
    .executeTakeFirst();
  if (!oldest) return;
  await tx
    .deleteFrom('restatement')
    .where('dataset_id', '=', datasetId)
    .where('noticed_at', '<', oldest.noticed_at)
    .execute();
}

export interface Restatement {
  datasetId: string;
  feedId: string;
  dataset: string;
  day: CivilDate;
  measure: string;
  before: number;
  after: number;
  at: string;
}

/** What feeds restated, the newest notice and the newest day first. */
export async function restatementsOf(
  db: Kysely<FactTables>,
  feedIds: readonly string[],
  limit: number,
): Promise<Restatement[]> {
  if (feedIds.length === 0) return [];
  const rows = await db
    .selectFrom('restatement')
    .innerJoin('dataset', 'dataset.id', 'restatement.dataset_id')
    .select(['dataset_id', 'feed_id', 'name', 'day', 'measure', 'before', 'after', 'noticed_at'])
    .where('feed_id', 'in', feedIds)
    .orderBy('noticed_at', 'desc')
    .orderBy('day', 'desc')
    .orderBy('measure')
    .limit(limit)
    .execute();
  return rows.map((r) => ({
    datasetId: r.dataset_id,
    feedId: r.feed_id,
    dataset: r.name,
    day: fromDayNumber(r.day),
    measure: r.measure,
    before: r.before,
    after: r.after,
    at: r.noticed_at,
  }));
}
