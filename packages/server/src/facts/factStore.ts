import { join } from 'node:path';
import {
  addMonths,
  type CivilDate,
  fromDayNumber,
  monthStart,
  type Range,
  toDayNumber,
} from '@chronicon/core/calendar';
import { type Kysely, sql, type Transaction } from 'kysely';
import { openSqlite } from '../store/sqlite.ts';
import { type Chunk, decodeChunk, encodeChunk } from './chunkCodec.ts';
import { createFactTables, type FactTables } from './schema.ts';

/** Rows as a feed delivers them: a day, a label for each dimension, a number for each measure. */
export interface FactRow {
  day: CivilDate;
  dims: string[];
  measures: number[];
}

export interface DatasetSpec {
  key: string;
  name: string;
  firstDay: CivilDate;
  dimensions: string[];
  measures: string[];
}

export interface DatasetState {
  id: string;
  name: string;
  firstDay: CivilDate;
  coveredThrough: CivilDate | null;
  coveredDays: number;
  rows: number;
}

export type FactDb = Kysely<FactTables>;
type Tx = Transaction<FactTables>;

export const factPath = (folder: string): string => join(folder, 'facts.db');

export async function openFacts(folder: string): Promise<FactDb> {
  const db = openSqlite<FactTables>(factPath(folder));
  await createFactTables(db);
  return db;
}

/** Adds a feed's dataset, or brings its description up to date. Dimensions and measures only grow. */
export async function saveDataset(
  db: FactDb,
  owner: { feedId: string; clientId: string; position: number },
  spec: DatasetSpec,
): Promise<string> {
  return db.transaction().execute(async (tx) => {
    const old = await tx
      .selectFrom('dataset')
      .selectAll()
      .where('feed_id', '=', owner.feedId)
      .where('key', '=', spec.key)
      .executeTakeFirst();
    const grown = (kept: string | undefined, now: string[]) =>
      JSON.stringify([...new Set([...(kept ? (JSON.parse(kept) as string[]) : []), ...now])]);
    const values = {
      name: spec.name,
      position: owner.position,
      first_day: old && old.first_day < spec.firstDay ? old.first_day : spec.firstDay,
      dimensions: grown(old?.dimensions, spec.dimensions),
      measures: grown(old?.measures, spec.measures),
    };
    const id = old?.id ?? `${owner.feedId}.${spec.key}`;
    if (old) {
      await tx.updateTable('dataset').set(values).where('id', '=', id).execute();
      // Rows from before a dimension came read as code 0: it has to mean "unnamed".
      const known = JSON.parse(old.dimensions) as string[];
      for (const dim of spec.dimensions.filter((d) => !known.includes(d))) {
        await tx.insertInto('dim_value').values({ dataset_id: id, dim, code: 0, label: '' }).execute();
      }
    } else {
      await tx
        .insertInto('dataset')
        .values({ id, feed_id: owner.feedId, client_id: owner.clientId, key: spec.key, ...values })
        .execute();
    }
    return id;
  });
}

/** Codes of labels, dense from 0 for each dimension; new labels are added. */
async function codesFor(
  tx: Tx,
  datasetId: string,
  dim: string,
  labels: Iterable<string>,
): Promise<Map<string, number>> {
  const known = await tx
    .selectFrom('dim_value')
    .select(['code', 'label'])
    .where('dataset_id', '=', datasetId)
    .where('dim', '=', dim)
    .execute();
  const codes = new Map(known.map((k) => [k.label, k.code]));
  const fresh: FactTables['dim_value'][] = [];
  for (const label of labels) {
    if (codes.has(label)) continue;
    fresh.push({ dataset_id: datasetId, dim, code: codes.size, label });
    codes.set(label, codes.size);
  }
  for (let i = 0; i < fresh.length; i += 500)
    await tx
      .insertInto('dim_value')
      .values(fresh.slice(i, i + 500))
      .execute();
  return codes;
}

interface Slice {
  dims: string[];
  measures: string[];
  /** Per row: day in the month, codes by dimension, values by measure. */
  rows: { day: number; codes: number[]; values: number[] }[];
}

const rowsOfChunk = (chunk: Chunk, slice: Slice): Slice['rows'] =>
  Array.from(chunk.days, (day, i) => ({
    day,
    codes: slice.dims.map((d) => chunk.dims[d]![i]!),
    values: slice.measures.map((m) => chunk.measures[m]![i]!),
  }));

/** By day, then by codes: the same rows always give the same bytes. */
function inOrder(a: Slice['rows'][number], b: Slice['rows'][number]): number {
  if (a.day !== b.day) return a.day - b.day;
  for (let i = 0; i < a.codes.length; i++) if (a.codes[i] !== b.codes[i]) return a.codes[i]! - b.codes[i]!;
  return 0;
}

const chunkOf = (slice: Slice): Chunk => ({
  days: Int32Array.from(slice.rows, (r) => r.day),
  dims: Object.fromEntries(slice.dims.map((d, i) => [d, Int32Array.from(slice.rows, (r) => r.codes[i]!)])),
  measures: Object.fromEntries(slice.measures.map((m, i) => [m, Float64Array.from(slice.rows, (r) => r.values[i]!)])),
});

async function rewriteMonth(
  tx: Tx,
  datasetId: string,
  month: string,
  fresh: Slice,
  from: number,
  to: number,
): Promise<void> {
  const first = toDayNumber(`${month}-01`);
  const old = await tx
    .selectFrom('chunk')
    .select('body')
    .where('dataset_id', '=', datasetId)
    .where('month', '=', month)
    .executeTakeFirst();
  const kept = old
    ? rowsOfChunk(decodeChunk(old.body, fresh.dims, fresh.measures), fresh).filter(
        (r) => first + r.day < from || first + r.day > to,
      )
    : [];
  const rows = [...kept, ...fresh.rows].sort(inOrder);
  if (rows.length === 0) {
    await tx.deleteFrom('chunk').where('dataset_id', '=', datasetId).where('month', '=', month).execute();
    return;
  }
  const body = encodeChunk(chunkOf({ ...fresh, rows }));
  await tx
    .insertInto('chunk')
    .values({ dataset_id: datasetId, month, rows: rows.length, body })
    .onConflict((c) => c.columns(['dataset_id', 'month']).doUpdateSet({ rows: rows.length, body }))
    .execute();
}

/**
 * Replaces a dataset's rows of `range`, both ends included, and marks its days as delivered at `fetchedAt`:
 * all in one transaction, so that nobody sees half of it. Writing the same twice changes nothing.
 * @throws RangeError for a row outside the range
 */
export async function replaceDays(
  db: FactDb,
  datasetId: string,
  spec: Pick<DatasetSpec, 'dimensions' | 'measures'>,
  range: Range,
  rows: readonly FactRow[],
  fetchedAt: string,
): Promise<void> {
  const [from, to] = [toDayNumber(range.from), toDayNumber(range.to)];
  const stray = rows.find((r) => r.day < range.from || r.day > range.to);
  if (stray) throw new RangeError(`a row of ${stray.day} lies outside ${range.from} to ${range.to}`);
  await db.transaction().execute(async (tx) => {
    const stored = await tx
      .selectFrom('dataset')
      .select(['dimensions', 'measures'])
      .where('id', '=', datasetId)
      .executeTakeFirstOrThrow();
    const dims = JSON.parse(stored.dimensions) as string[];
    const measures = JSON.parse(stored.measures) as string[];
    const codes: Map<string, number>[] = [];
    for (const dim of dims) {
      const at = spec.dimensions.indexOf(dim);
      codes.push(await codesFor(tx, datasetId, dim, new Set(rows.map((r) => (at < 0 ? '' : r.dims[at]!)))));
    }
    const dimAt = dims.map((d) => spec.dimensions.indexOf(d));
    const measureAt = measures.map((m) => spec.measures.indexOf(m));
    const byMonth = new Map<string, Slice['rows']>();
    for (let day = range.from; day <= range.to; day = addMonths(monthStart(day), 1)) {
      byMonth.set(day.slice(0, 7), []);
    }
    for (const row of rows) {
      byMonth.get(row.day.slice(0, 7))!.push({
        day: Number(row.day.slice(8, 10)) - 1,
        codes: dimAt.map((at, i) => codes[i]!.get(at < 0 ? '' : row.dims[at]!)!),
        values: measureAt.map((at) => (at < 0 ? 0 : row.measures[at]!)),
      });
    }
    for (const [month, monthRows] of byMonth) {
      await rewriteMonth(tx, datasetId, month, { dims, measures, rows: monthRows }, from, to);
    }
    const days = Array.from({ length: to - from + 1 }, (_, i) => ({
      dataset_id: datasetId,
      day: from + i,
      fetched_at: fetchedAt,
    }));
    for (let i = 0; i < days.length; i += 500) {
      await tx
        .insertInto('coverage')
        .values(days.slice(i, i + 500))
        .onConflict((c) => c.columns(['dataset_id', 'day']).doUpdateSet({ fetched_at: fetchedAt }))
        .execute();
    }
  });
}

/** What is there of each dataset of a feed. */
export async function datasetStates(
  db: FactDb,
  feedIds: readonly string[],
): Promise<(DatasetState & { feedId: string })[]> {
  if (feedIds.length === 0) return [];
  const rows = await db
    .selectFrom('dataset')
    .select((q) => [
      'id',
      'feed_id',
      'name',
      'first_day',
      q
        .selectFrom('coverage')
        .select((c) => c.fn.max('day').as('d'))
        .whereRef('coverage.dataset_id', '=', 'dataset.id')
        .as('through'),
      q
        .selectFrom('coverage')
        .select((c) => c.fn.countAll<number>().as('n'))
        .whereRef('coverage.dataset_id', '=', 'dataset.id')
        .as('days'),
      q
        .selectFrom('chunk')
        .select(() => sql<number>`coalesce(sum(rows), 0)`.as('n'))
        .whereRef('chunk.dataset_id', '=', 'dataset.id')
        .as('rows'),
    ])
    .where('feed_id', 'in', feedIds)
    .orderBy('position')
    .execute();
  return rows.map((r) => ({
    id: r.id,
    feedId: r.feed_id,
    name: r.name,
    firstDay: r.first_day,
    coveredThrough: r.through === null ? null : fromDayNumber(Number(r.through)),
    coveredDays: Number(r.days ?? 0),
    rows: Number(r.rows ?? 0),
  }));
}

/** Days of a dataset that were delivered, as day numbers. */
export async function coveredDayNumbers(db: FactDb, datasetId: string): Promise<Set<number>> {
  const rows = await db.selectFrom('coverage').select('day').where('dataset_id', '=', datasetId).execute();
  return new Set(rows.map((r) => r.day));
}
