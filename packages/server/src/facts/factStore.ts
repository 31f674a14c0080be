import { join } from 'node:path';
import {
  addMonths,
  type CivilDate,
  fromDayNumber,
  monthStart,
  type Range,
  toDayNumber,
} from '@chronicon/core/calendar';
import type { Grain } from '@chronicon/core/figures';
import { type Kysely, sql, type Transaction } from 'kysely';
import { cached } from '../store/cache.ts';
import { openSqlite } from '../store/sqlite.ts';
import { storedNames } from '../store/stored.ts';
import { runTransaction } from '../store/transactions.ts';
import { noteArrival } from './arrivals.ts';
import { type Chunk, decodeChunk, encodeChunk } from './chunkCodec.ts';
import { emptyChunk, joined, orderOf, pick } from './chunkRows.ts';
import { cleanLabel } from './cleanLabel.ts';
import { coverageById, coveredIn, markDelivered } from './coverage.ts';
import { type FeedPast, PAST } from './feedPast.ts';
import { keepRestated, type Restated, restatedDays } from './restated.ts';
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

/** A transaction of the facts, see {@link runTransaction}. */
export const inFactTransaction = <T>(db: FactDb, work: (tx: Tx) => Promise<T>): Promise<T> => runTransaction(db, work);

export const factPath = (folder: string): string => join(folder, 'facts.db');

export async function openFacts(folder: string): Promise<FactDb> {
  const db = openSqlite<FactTables>(factPath(folder));
  await createFactTables(db);
  return db;
}

/** A second connection that writes, for another thread. The database has to be there. */
export const openFactWriter = (folder: string): FactDb => openSqlite<FactTables>(factPath(folder));

/** A connection that only reads: it waits for no writer, and no writer for it. The database has to be there. */
export const openFactReader = (folder: string): FactDb => openSqlite<FactTables>(factPath(folder), { readonly: true });

/** Whose a dataset is. */
export interface DatasetOwner {
  feedId: string;
  clientId: string;
  position: number;
  feedName?: string;
  /** Left out for a dataset that stands alone; else those of other feeds with the same one are read together with it. */
  family?: string;
  grain?: Grain;
}

/** Adds a feed's dataset, or brings its description up to date. Dimensions and measures only grow. */
export async function saveDataset(db: FactDb, owner: DatasetOwner, spec: DatasetSpec): Promise<string> {
  return inFactTransaction(db, async (tx) => {
    const old = await tx
      .selectFrom('dataset')
      .selectAll()
      .where('feed_id', '=', owner.feedId)
      .where('key', '=', spec.key)
      .executeTakeFirst();
    const grown = (kept: string | undefined, now: string[]) =>
      JSON.stringify([...new Set([...(kept ? storedNames(kept) : []), ...now])]);
    const values = {
      name: spec.name,
      position: owner.position,
      first_day: old && old.first_day < spec.firstDay ? old.first_day : spec.firstDay,
      dimensions: grown(old?.dimensions, spec.dimensions),
      measures: grown(old?.measures, spec.measures),
      feed_name: owner.feedName ?? '',
      family: owner.family ?? '',
      grain: owner.grain ?? 'day',
      ended: null,
    };
    const id = old?.id ?? `${owner.feedId}.${spec.key}`;
    if (old) {
      await tx.updateTable('dataset').set(values).where('id', '=', id).execute();
      // Rows from before a dimension came read as code 0: it has to mean "unnamed".
      const known = storedNames(old.dimensions);
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
export async function codesFor(
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

/**
 * Puts fresh rows in the place of those that a month has between two day numbers, both included.
 * @returns days among `known` whose totals are others now
 */
async function rewriteMonth(
  tx: Tx,
  datasetId: string,
  month: string,
  fresh: Chunk,
  range: { from: number; to: number; known: ReadonlySet<number> },
): Promise<Restated[]> {
  const { from, to, known } = range;
  const first = toDayNumber(`${month}-01`);
  const old = await tx
    .selectFrom('chunk')
    .select('body')
    .where('dataset_id', '=', datasetId)
    .where('month', '=', month)
    .executeTakeFirst();
  let all: Chunk = fresh;
  let restated: Restated[] = [];
  if (!old && known.size > 0) restated = restatedDays(null, fresh, first, known);
  if (old) {
    const present = decodeChunk(old.body, Object.keys(fresh.dims), Object.keys(fresh.measures));
    const kept = Uint32Array.from(present.days.keys()).filter((i) => {
      const day = first + present.days[i]!;
      return day < from || day > to;
    });
    if (known.size > 0) restated = restatedDays(present, fresh, first, known);
    all = joined(pick(present, kept), fresh);
  }
  const rows = all.days.length;
  if (rows === 0) {
    await tx.deleteFrom('chunk').where('dataset_id', '=', datasetId).where('month', '=', month).execute();
    return restated;
  }
  const body = encodeChunk(pick(all, orderOf(all, rows)));
  await tx
    .insertInto('chunk')
    .values({ dataset_id: datasetId, month, rows, body })
    .onConflict((c) => c.columns(['dataset_id', 'month']).doUpdateSet({ rows, body }))
    .execute();
  return restated;
}

/**
 * Replaces a dataset's rows of `range`, both ends included, and marks its days as delivered at `fetchedAt`:
 * all in one transaction, so that nobody sees half of it. Writing the same twice changes nothing. Days that had been
 * delivered before with other totals are kept as restated.
 * @throws RangeError for a row outside the range
 */
export async function replaceDays(
  db: FactDb,
  datasetId: string,
  spec: Pick<DatasetSpec, 'dimensions' | 'measures'>,
  range: Range,
  given: readonly FactRow[],
  fetchedAt: string,
): Promise<void> {
  const rows = given.map((r) => ({ ...r, dims: r.dims.map(cleanLabel) }));
  const [from, to] = [toDayNumber(range.from), toDayNumber(range.to)];
  const stray = rows.find((r) => r.day < range.from || r.day > range.to);
  if (stray) throw new RangeError(`a row of ${stray.day} lies outside ${range.from} to ${range.to}`);
  await inFactTransaction(db, async (tx) => {
    const stored = await tx
      .selectFrom('dataset')
      .select(['dimensions', 'measures'])
      .where('id', '=', datasetId)
      .executeTakeFirstOrThrow();
    const dims = storedNames(stored.dimensions);
    const measures = storedNames(stored.measures);
    const codes: Map<string, number>[] = [];
    for (const dim of dims) {
      const at = spec.dimensions.indexOf(dim);
      const labels = new Set<string>();
      if (at < 0 && rows.length > 0) labels.add('');
      if (at >= 0) for (const row of rows) labels.add(row.dims[at]!);
      codes.push(await codesFor(tx, datasetId, dim, labels));
    }
    const known = await coveredIn(tx, datasetId, from, to);
    const restated: Restated[] = [];
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
      restated.push(...(await rewriteMonth(tx, datasetId, month, slice, { from, to, known })));
    }
    await keepRestated(tx, datasetId, restated, fetchedAt);
    if (!known.has(to)) await noteArrival(tx, datasetId, range.to, fetchedAt);
    await markDelivered(tx, datasetId, from, to, fetchedAt);
  });
}

/** Says with which datasets of other feeds those of a feed are read together. */
export async function setFamily(db: FactDb, feedId: string, family: string): Promise<void> {
  await db
    .updateTable('dataset')
    .set((q) => ({ family, revision: q('revision', '+', 1) }))
    .where('feed_id', '=', feedId)
    .execute();
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

/** What a feed's datasets are described by, as they were last fetched. */
export async function storedShapes(
  db: FactDb,
  feedId: string,
): Promise<{ id: string; key: string; name: string; grain: Grain; dimensions: string[]; measures: string[] }[]> {
  const rows = await db.selectFrom('dataset').selectAll().where('feed_id', '=', feedId).orderBy('position').execute();
  return rows.map(({ id, key, name, grain, dimensions, measures }) => ({
    id,
    key,
    name,
    grain: grain as Grain,
    dimensions: storedNames(dimensions),
    measures: storedNames(measures),
  }));
}

/** Marks that a feed brings no more: days after its last one are not missed. Saving a dataset again takes it back. */
export async function endDatasets(db: FactDb, feedId: string): Promise<void> {
  await db
    .updateTable('dataset')
    .set((q) => ({
      ended: q
        .selectFrom('coverage')
        .select((c) => c.fn.max('last').as('d'))
        .whereRef('coverage.dataset_id', '=', 'dataset.id'),
    }))
    .where('feed_id', '=', feedId)
    .execute();
}

/** Keeps what a person said of a feed's past; the rest of it stays as it was. */
export async function setPast(db: FactDb, feedId: string, past: Partial<FeedPast>): Promise<void> {
  const values = { ...PAST, ...past };
  await db
    .insertInto('feed_past')
    .values({ feed_id: feedId, ...values })
    .onConflict((c) => c.column('feed_id').doUpdateSet(past))
    .execute();
}

/** Reads something of it. @throws Error where it cannot be read */
export async function askFacts(db: FactDb): Promise<void> {
  await db.selectFrom('dataset').select('id').limit(1).execute();
}

/** Takes it back that a feed brings no more. */
export async function reopenDatasets(db: FactDb, feedId: string): Promise<void> {
  await db.updateTable('dataset').set({ ended: null }).where('feed_id', '=', feedId).execute();
}

/** Days of a dataset that were delivered, as day numbers. */
export async function coveredDayNumbers(db: FactDb, datasetId: string): Promise<Set<number>> {
  const runs = (await coverageById(db, [datasetId])).get(datasetId) ?? [];
  return new Set(runs.flatMap(([a, b]) => Array.from({ length: b - a + 1 }, (_, i) => a + i)));
}

/**
 * The last day up to which all datasets are known of each feed of which one has brought nothing from `day` on; absent where
 * one never brought anything.
 */
export const coveredThroughOfLate = async (db: FactDb, day: CivilDate): Promise<Map<string, CivilDate>> =>
  new Map(await cached(db, ['dataset', 'coverage'], `late ${day}`, () => lateFrom(db, day)));

/** Stands for a dataset that never brought anything: before any day. */
const NEVER_BROUGHT = -1;

async function lateFrom(db: FactDb, day: CivilDate): Promise<[string, CivilDate][]> {
  const rows = await db
    .selectFrom((q) =>
      q
        .selectFrom('dataset')
        .select((d) => [
          'feed_id',
          d.fn
            .coalesce(
              // Runs never overlap: the one that begins last ends last.
              d
                .selectFrom('coverage')
                .select('last')
                .whereRef('coverage.dataset_id', '=', 'dataset.id')
                .orderBy('first', 'desc')
                .limit(1),
              d.lit(NEVER_BROUGHT),
            )
            .as('through'),
        ])
        .as('known'),
    )
    .select((q) => ['feed_id', q.fn.min('through').as('least')])
    .groupBy('feed_id')
    .having((q) => q.fn.min('through'), '<', toDayNumber(day))
    .execute();
  return rows.flatMap(({ feed_id: id, least }): [string, CivilDate][] =>
    Number(least) === NEVER_BROUGHT ? [] : [[id, fromDayNumber(Number(least))]],
  );
}
