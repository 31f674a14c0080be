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
import { coverageById, markDelivered } from './coverage.ts';
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

/** A connection that only reads: it waits for no writer, and no writer for it. The database has to be there. */
export const openFactReader = (folder: string): FactDb => openSqlite<FactTables>(factPath(folder), { readonly: true });

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

/** Columns for so many rows, to be filled. */
const emptyChunk = (rows: number, dims: readonly string[], measures: readonly string[]): Chunk => ({
  days: new Int32Array(rows),
  dims: Object.fromEntries(dims.map((d) => [d, new Int32Array(rows)])),
  measures: Object.fromEntries(measures.map((m) => [m, new Float64Array(rows)])),
});

/** Row numbers by day, then by codes: the same rows always give the same bytes. */
function orderOf(chunk: Chunk, rows: number): Uint32Array {
  const keys = [chunk.days, ...Object.values(chunk.dims)];
  const spans = keys.map((k) => k.reduce((most, v) => Math.max(most, v), 0) + 1);
  const order = new Uint32Array(rows);
  // One number for each row when they all fit: sorting numbers is several times faster than comparing columns.
  if (spans.reduce((n, s) => n * s, rows) < Number.MAX_SAFE_INTEGER) {
    const packed = new Float64Array(rows);
    for (let i = 0; i < rows; i++) {
      let key = 0;
      for (let k = 0; k < keys.length; k++) key = key * spans[k]! + keys[k]![i]!;
      packed[i] = key * rows + i;
    }
    packed.sort();
    for (let i = 0; i < rows; i++) order[i] = packed[i]! % rows;
    return order;
  }
  for (let i = 0; i < rows; i++) order[i] = i;
  return order.sort((a, b) => {
    for (const k of keys) if (k[a] !== k[b]) return k[a]! - k[b]!;
    return a - b;
  });
}

/** The values that `order` names, in its order; a loop, since `from` with a function is several times slower. */
function picked<T extends Int32Array | Float64Array>(column: T, order: Uint32Array, out: T): T {
  for (let i = 0; i < order.length; i++) out[i] = column[order[i]!]!;
  return out;
}

/** A chunk of the rows that `order` names, in its order. */
function pick(chunk: Chunk, order: Uint32Array): Chunk {
  const n = order.length;
  const map = <T>(columns: Record<string, T>, take: (c: T) => T) =>
    Object.fromEntries(Object.entries(columns).map(([name, c]) => [name, take(c)]));
  return {
    days: picked(chunk.days, order, new Int32Array(n)),
    dims: map(chunk.dims, (c) => picked(c, order, new Int32Array(n))),
    measures: map(chunk.measures, (c) => picked(c, order, new Float64Array(n))),
  };
}

/** Rows of `a`, then those of `b`; both have the same columns. */
function joined(a: Chunk, b: Chunk): Chunk {
  const ints = (x: Int32Array, y: Int32Array) => {
    const out = new Int32Array(x.length + y.length);
    out.set(x);
    out.set(y, x.length);
    return out;
  };
  return {
    days: ints(a.days, b.days),
    dims: Object.fromEntries(Object.entries(b.dims).map(([d, codes]) => [d, ints(a.dims[d]!, codes)])),
    measures: Object.fromEntries(
      Object.entries(b.measures).map(([m, values]) => {
        const out = new Float64Array(a.days.length + values.length);
        out.set(a.measures[m]!);
        out.set(values, a.days.length);
        return [m, out];
      }),
    ),
  };
}

/** Puts fresh rows in the place of those that a month has between two day numbers, both included. */
async function rewriteMonth(
  tx: Tx,
  datasetId: string,
  month: string,
  fresh: Chunk,
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
  let all: Chunk = fresh;
  if (old) {
    const present = decodeChunk(old.body, Object.keys(fresh.dims), Object.keys(fresh.measures));
    const kept = Uint32Array.from(present.days.keys()).filter((i) => {
      const day = first + present.days[i]!;
      return day < from || day > to;
    });
    all = joined(pick(present, kept), fresh);
  }
  const rows = all.days.length;
  if (rows === 0) {
    await tx.deleteFrom('chunk').where('dataset_id', '=', datasetId).where('month', '=', month).execute();
    return;
  }
  const body = encodeChunk(pick(all, orderOf(all, rows)));
  await tx
    .insertInto('chunk')
    .values({ dataset_id: datasetId, month, rows, body })
    .onConflict((c) => c.columns(['dataset_id', 'month']).doUpdateSet({ rows, body }))
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
      const labels = new Set<string>();
      if (at < 0 && rows.length > 0) labels.add('');
      if (at >= 0) for (const row of rows) labels.add(row.dims[at]!);
      codes.push(await codesFor(tx, datasetId, dim, labels));
    }
    const byMonth = new Map<string, FactRow[]>();
    for (let day = range.from; day <= range.to; day = addMonths(monthStart(day), 1)) {
      byMonth.set(day.slice(0, 7), []);
    }
    for (const row of rows) byMonth.get(row.day.slice(0, 7))!.push(row);
    for (const [month, monthRows] of byMonth) {
      const slice = emptyChunk(monthRows.length, dims, measures);
      const days = slice.days;
      for (let i = 0; i < monthRows.length; i++) days[i] = Number(monthRows[i]!.day.slice(8, 10)) - 1;
      for (const [d, dim] of dims.entries()) {
        const at = spec.dimensions.indexOf(dim);
        const [column, known] = [slice.dims[dim]!, codes[d]!];
        for (let i = 0; i < monthRows.length; i++) column[i] = known.get(at < 0 ? '' : monthRows[i]!.dims[at]!)!;
      }
      for (const measure of measures) {
        const at = spec.measures.indexOf(measure);
        const column = slice.measures[measure]!;
        if (at >= 0) for (let i = 0; i < monthRows.length; i++) column[i] = monthRows[i]!.measures[at]!;
      }
      await rewriteMonth(tx, datasetId, month, slice, from, to);
    }
    await markDelivered(tx, datasetId, from, to, fetchedAt);
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
        .select((c) => c.fn.max('last').as('d'))
        .whereRef('coverage.dataset_id', '=', 'dataset.id')
        .as('through'),
      q
        .selectFrom('coverage')
        .select(() => sql<number>`sum(last - first + 1)`.as('n'))
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
  const runs = (await coverageById(db, [datasetId])).get(datasetId) ?? [];
  return new Set(runs.flatMap(([a, b]) => Array.from({ length: b - a + 1 }, (_, i) => a + i)));
}
