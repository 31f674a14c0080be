import type { Range } from '@chronicon/core/calendar';
import { filterKey, type PlainFilter, type Reported } from '@chronicon/core/figures';
import type { Kysely } from 'kysely';
import { z } from 'zod';
import { stored } from '../store/stored.ts';
import type { FactTables } from './schema.ts';

type Db = Kysely<FactTables>;

/** A number that a feed counted over a whole range and filter, and when it said so. */
export interface ReportedCount extends Reported {
  at: string;
}

/** Sorted by dimension, so that one filter has one text. */
const filterPairs = stored(z.array(z.tuple([z.string(), z.array(z.string())])), 'the filter of a count');

/** Everything that a feed counted itself for a dataset. */
export async function reportedOf(db: Db, datasetId: string): Promise<ReportedCount[]> {
  const rows = await db.selectFrom('reported').selectAll().where('dataset_id', '=', datasetId).execute();
  return rows.map((r) => ({
    measure: r.measure,
    from: r.first,
    to: r.last,
    filter: r.filter === '' ? {} : Object.fromEntries(filterPairs(r.filter)),
    value: r.value,
    at: r.fetched_at,
  }));
}

/** Keeps what a feed counted; a newer count of the same takes the place of the older. */
export async function saveReported(
  db: Db,
  datasetId: string,
  counted: { measure: string; range: Range; filter: PlainFilter; value: number },
  at: string,
): Promise<void> {
  const { measure, range, value } = counted;
  await db
    .insertInto('reported')
    .values({
      dataset_id: datasetId,
      measure,
      first: range.from,
      last: range.to,
      filter: filterKey(counted.filter),
      value,
      fetched_at: at,
    })
    .onConflict((c) =>
      c.columns(['dataset_id', 'measure', 'first', 'last', 'filter']).doUpdateSet({ value, fetched_at: at }),
    )
    .execute();
}

/** The labels of a dimension, in the order in which they came to be known; at most `limit` and one more. */
export async function labelsOf(db: Db, datasetId: string, dimension: string, limit: number): Promise<string[]> {
  const rows = await db
    .selectFrom('dim_value')
    .select('label')
    .where('dataset_id', '=', datasetId)
    .where('dim', '=', dimension)
    .orderBy('code')
    .limit(limit + 1)
    .execute();
  return rows.map((r) => r.label);
}
