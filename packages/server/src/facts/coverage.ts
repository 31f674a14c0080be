import { fromDayNumber, type Range, toDayNumber } from '@chronicon/core/calendar';
import type { Coverage } from '@chronicon/core/figures';
import type { Kysely, Transaction } from 'kysely';
import type { FactTables } from './schema.ts';

type Db = Kysely<FactTables>;

/** Days that were delivered together, both ends included, and when. */
export interface Fetch extends Range {
  at: string;
}

const overlapping = (db: Db, datasetId: string, from: number, to: number) =>
  db
    .selectFrom('coverage')
    .selectAll()
    .where('dataset_id', '=', datasetId)
    .where('first', '<=', to)
    .where('last', '>=', from);

/** Takes days out of what was delivered; runs that were there keep what lies outside. Day numbers, both included. */
export async function unmarkDelivered(
  tx: Transaction<FactTables>,
  datasetId: string,
  from: number,
  to: number,
): Promise<void> {
  const old = await overlapping(tx, datasetId, from, to).execute();
  for (const run of old) {
    await tx.deleteFrom('coverage').where('dataset_id', '=', datasetId).where('first', '=', run.first).execute();
  }
  const kept = old.flatMap((run) => [
    ...(run.first < from ? [{ ...run, last: from - 1 }] : []),
    ...(run.last > to ? [{ ...run, first: to + 1 }] : []),
  ]);
  if (kept.length > 0) await tx.insertInto('coverage').values(kept).execute();
}

/** Marks days as delivered at an instant, whenever they were before. Day numbers, both included. */
export async function markDelivered(
  tx: Transaction<FactTables>,
  datasetId: string,
  from: number,
  to: number,
  at: string,
): Promise<void> {
  await unmarkDelivered(tx, datasetId, from, to);
  await tx.insertInto('coverage').values({ dataset_id: datasetId, first: from, last: to, fetched_at: at }).execute();
}

/** The day numbers of a range, both ends included, that were delivered. */
export async function coveredIn(db: Db, datasetId: string, from: number, to: number): Promise<Set<number>> {
  const days = new Set<number>();
  for (const run of await overlapping(db, datasetId, from, to).execute()) {
    for (let day = Math.max(from, run.first); day <= Math.min(to, run.last); day++) days.add(day);
  }
  return days;
}

/** Delivered days by dataset. */
export async function coverageById(db: Db, ids: readonly string[]): Promise<Map<string, Coverage>> {
  const runs = await db
    .selectFrom('coverage')
    .select(['dataset_id', 'first', 'last'])
    .where('dataset_id', 'in', ids)
    .orderBy('dataset_id')
    .orderBy('first')
    .execute();
  const covered = new Map<string, [number, number][]>();
  for (const { dataset_id, first, last } of runs) {
    const list = covered.get(dataset_id) ?? [];
    covered.set(dataset_id, list);
    const end = list.at(-1);
    if (end && end[1] + 1 === first) end[1] = last;
    else list.push([first, last]);
  }
  return covered;
}

/** When each day of a range was last fetched, in order of days. */
export async function fetchesOf(db: Db, datasetId: string, range: Range): Promise<Fetch[]> {
  const [from, to] = [toDayNumber(range.from), toDayNumber(range.to)];
  const runs = await overlapping(db, datasetId, from, to).orderBy('first').execute();
  const fetches: Fetch[] = [];
  for (const { first, last, fetched_at: at } of runs) {
    const run = { from: fromDayNumber(Math.max(first, from)), to: fromDayNumber(Math.min(last, to)), at };
    const before = fetches.at(-1);
    if (before?.at === at && toDayNumber(before.to) + 1 === toDayNumber(run.from)) before.to = run.to;
    else fetches.push(run);
  }
  return fetches;
}
