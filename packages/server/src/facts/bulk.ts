import { addMonths, fromDayNumber, monthStart, type Range, rangesOfDays, toDayNumber } from '@chronicon/core/calendar';
import type { Transaction } from 'kysely';
import { storedNames } from '../store/stored.ts';
import { type Chunk, decodeChunk, encodeChunk } from './chunkCodec.ts';
import { emptyChunk, joined, orderOf, pick } from './chunkRows.ts';
import { cleanLabel } from './cleanLabel.ts';
import { markDelivered, unmarkDelivered } from './coverage.ts';
import {
  codesFor,
  type DatasetOwner,
  type DatasetSpec,
  type FactDb,
  inFactTransaction,
  saveDataset,
} from './factStore.ts';
import type { FactTables } from './schema.ts';

type Tx = Transaction<FactTables>;

/** Rows of one month, growing; labels by a code of their own until they are written. */
interface MonthRows {
  rows: number;
  /** Days of the month, from 0. */
  days: Int32Array;
  dims: Int32Array[];
  measures: Float64Array[];
}

const FIRST_ROOM = 1_024;

function grown<T extends Int32Array | Float64Array>(column: T, room: number): T {
  const wider = (column instanceof Int32Array ? new Int32Array(room) : new Float64Array(room)) as T;
  wider.set(column as never);
  return wider;
}

/** Many rows gathered as columns, to be written all at once: 4 bytes a label, 8 a measure. */
export interface Bulk {
  readonly rows: number;
  /** The first and last day that any row is of, or null without rows. */
  range(): Range | null;
  /** Runs of days with rows. */
  runs(): Range[];
  add(day: number, labels: readonly string[], values: Float64Array): void;
  /** @internal for {@link writeBulk} */
  readonly months: ReadonlyMap<string, MonthRows>;
  readonly labels: readonly (readonly string[])[];
}

export function createBulk(dimensions: number, measures: number): Bulk {
  const months = new Map<string, MonthRows>();
  const codes = Array.from({ length: dimensions }, () => new Map<string, number>());
  const labels = codes.map((): string[] => []);
  const monthOf = new Map<number, { month: MonthRows; first: number }>();
  let rows = 0;
  const place = (day: number) => {
    const known = monthOf.get(day);
    if (known) return known;
    const date = fromDayNumber(day);
    const key = date.slice(0, 7);
    const month = months.get(key) ?? {
      rows: 0,
      days: new Int32Array(FIRST_ROOM),
      dims: codes.map(() => new Int32Array(FIRST_ROOM)),
      measures: Array.from({ length: measures }, () => new Float64Array(FIRST_ROOM)),
    };
    months.set(key, month);
    const found = { month, first: toDayNumber(monthStart(date)) };
    monthOf.set(day, found);
    return found;
  };
  return {
    get rows() {
      return rows;
    },
    months,
    labels,
    range() {
      const days = [...monthOf.keys()];
      if (days.length === 0) return null;
      const [from, to] = days.reduce(([a, b], d) => [Math.min(a, d), Math.max(b, d)], [days[0]!, days[0]!]);
      return { from: fromDayNumber(from), to: fromDayNumber(to) };
    },
    runs() {
      return rangesOfDays([...monthOf.keys()].map(fromDayNumber));
    },
    add(day, own, values) {
      const { month, first } = place(day);
      if (month.rows === month.days.length) {
        const room = month.rows * 2;
        month.days = grown(month.days, room);
        month.dims = month.dims.map((c) => grown(c, room));
        month.measures = month.measures.map((c) => grown(c, room));
      }
      const at = month.rows++;
      month.days[at] = day - first;
      for (let d = 0; d < own.length; d++) {
        const label = cleanLabel(own[d]!);
        let code = codes[d]!.get(label);
        if (code === undefined) {
          code = labels[d]!.push(label) - 1;
          codes[d]!.set(label, code);
        }
        month.dims[d]![at] = code;
      }
      for (let m = 0; m < values.length; m++) month.measures[m]![at] = values[m]!;
      rows++;
    },
  };
}

export interface BulkWrite {
  importId: string;
  owner: DatasetOwner;
  spec: DatasetSpec;
  /** Days whose rows are replaced, and which count as delivered. */
  ranges: readonly Range[];
  /** Of these, days that are not known all the same. */
  unknown: readonly Range[];
  at: string;
}

function* monthsIn(ranges: readonly Range[]): Generator<string> {
  let last = '';
  for (const { from, to } of ranges) {
    for (let m = monthStart(from); m <= to; m = addMonths(m, 1)) {
      const key = m.slice(0, 7);
      if (key !== last) yield key;
      last = key;
    }
  }
}

async function keepForUndo(tx: Tx, w: BulkWrite, datasetId: string, firstDay: string | null): Promise<boolean> {
  const [first, last] = [toDayNumber(w.ranges[0]!.from), toDayNumber(w.ranges.at(-1)!.to)];
  const kept = await tx
    .insertInto('undo_dataset')
    .values({ import_id: w.importId, dataset_id: datasetId, first_day: firstDay, first, last })
    .onConflict((c) => c.doNothing())
    .executeTakeFirst();
  // An import that is written a second time after a crash keeps what was there before the first.
  if (!kept.numInsertedOrUpdatedRows) return false;
  await tx
    .insertInto('undo_coverage')
    .columns(['import_id', 'dataset_id', 'first', 'last', 'fetched_at'])
    .expression((q) =>
      q
        .selectFrom('coverage')
        .select((c) => [c.val(w.importId).as('import_id'), 'dataset_id', 'first', 'last', 'fetched_at'])
        .where('dataset_id', '=', datasetId),
    )
    .execute();
  return true;
}

/**
 * Writes gathered rows in the place of those of `ranges`, and marks these days as delivered: all in one transaction.
 * What was there before is kept under the import's id, for {@link undoBulk}.
 */
export async function writeBulk(db: FactDb, bulk: Bulk, w: BulkWrite): Promise<void> {
  await inFactTransaction(db, async (tx) => {
    const before = await tx
      .selectFrom('dataset')
      .select('first_day')
      .where('feed_id', '=', w.owner.feedId)
      .where('key', '=', w.spec.key)
      .executeTakeFirst();
    const id = await saveDataset(tx, w.owner, w.spec);
    const stored = await tx.selectFrom('dataset').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
    const dims = storedNames(stored.dimensions);
    const measures = storedNames(stored.measures);
    const codes: (Int32Array | null)[] = [];
    let unnamed = 0;
    for (const dim of dims) {
      const at = w.spec.dimensions.indexOf(dim);
      const own = at < 0 ? [''] : bulk.labels[at]!;
      const known = await codesFor(tx, id, dim, own);
      if (at < 0) unnamed = known.get('')!;
      codes.push(at < 0 ? null : Int32Array.from(own.map((l) => known.get(l)!)));
    }
    const fresh = await keepForUndo(tx, w, id, before?.first_day ?? null);
    const numbers = w.ranges.map((r) => [toDayNumber(r.from), toDayNumber(r.to)] as const);
    const isReplaced = (day: number) => numbers.some(([a, b]) => day >= a && day <= b);
    for (const month of monthsIn(w.ranges)) {
      const first = toDayNumber(`${month}-01`);
      const gathered = bulk.months.get(month);
      const n = gathered?.rows ?? 0;
      const chunk: Chunk = emptyChunk(n, dims, measures);
      if (gathered) {
        chunk.days = gathered.days.slice(0, n);
        dims.forEach((dim, d) => {
          const column = chunk.dims[dim]!;
          const map = codes[d]!;
          if (map === null) column.fill(unnamed);
          else {
            const own = gathered.dims[w.spec.dimensions.indexOf(dim)]!;
            for (let i = 0; i < n; i++) column[i] = map[own[i]!]!;
          }
        });
        for (const m of measures) {
          const at = w.spec.measures.indexOf(m);
          if (at >= 0) chunk.measures[m] = gathered.measures[at]!.slice(0, n);
        }
      }
      const old = await tx
        .selectFrom('chunk')
        .select(['rows', 'body'])
        .where('dataset_id', '=', id)
        .where('month', '=', month)
        .executeTakeFirst();
      if (fresh) {
        await tx
          .insertInto('undo_chunk')
          .values({ import_id: w.importId, dataset_id: id, month, rows: old?.rows ?? 0, body: old?.body ?? null })
          .execute();
      }
      let all = chunk;
      if (old) {
        const present = decodeChunk(old.body, dims, measures);
        const kept = Uint32Array.from(present.days.keys()).filter((i) => !isReplaced(first + present.days[i]!));
        all = joined(pick(present, kept), chunk);
      }
      await putMonth(tx, id, month, all);
    }
    for (const [from, to] of numbers) await markDelivered(tx, id, from, to, w.at);
    for (const { from, to } of w.unknown) await unmarkDelivered(tx, id, toDayNumber(from), toDayNumber(to));
  });
}

async function putMonth(tx: Tx, datasetId: string, month: string, all: Chunk): Promise<void> {
  const rows = all.days.length;
  await tx.deleteFrom('chunk').where('dataset_id', '=', datasetId).where('month', '=', month).execute();
  if (rows === 0) return;
  const body = encodeChunk(pick(all, orderOf(all, rows)));
  await tx.insertInto('chunk').values({ dataset_id: datasetId, month, rows, body }).execute();
}

/** Whether an import was written, whole. */
export async function wasWritten(db: FactDb, importId: string): Promise<boolean> {
  const found = await db
    .selectFrom('undo_dataset')
    .select('import_id')
    .where('import_id', '=', importId)
    .executeTakeFirst();
  return found !== undefined;
}

/**
 * Marks days of an import as delivered that were left open: a person said that nothing of theirs is missing. False when
 * nothing is known of the import any more.
 */
export async function markKnown(db: FactDb, importId: string, days: readonly Range[], at: string): Promise<boolean> {
  return inFactTransaction(db, async (tx) => {
    const known = await tx.selectFrom('undo_dataset').selectAll().where('import_id', '=', importId).executeTakeFirst();
    if (!known) return false;
    for (const { from, to } of days) {
      await markDelivered(tx, known.dataset_id, toDayNumber(from), toDayNumber(to), at);
    }
    return true;
  });
}

/** Puts back what was there before an import, in one transaction. False when nothing is known of it. */
export async function undoBulk(db: FactDb, importId: string): Promise<boolean> {
  return inFactTransaction(db, async (tx) => {
    const known = await tx.selectFrom('undo_dataset').selectAll().where('import_id', '=', importId).executeTakeFirst();
    if (!known) return false;
    const id = known.dataset_id;
    const months = await tx.selectFrom('undo_chunk').selectAll().where('import_id', '=', importId).execute();
    for (const { month, rows, body } of months) {
      await tx.deleteFrom('chunk').where('dataset_id', '=', id).where('month', '=', month).execute();
      if (body !== null) await tx.insertInto('chunk').values({ dataset_id: id, month, rows, body }).execute();
    }
    await tx.deleteFrom('coverage').where('dataset_id', '=', id).execute();
    const runs = await tx.selectFrom('undo_coverage').selectAll().where('import_id', '=', importId).execute();
    for (const { import_id: _, ...run } of runs) await tx.insertInto('coverage').values(run).execute();
    for (const table of ['undo_chunk', 'undo_coverage', 'undo_dataset'] as const) {
      await tx.deleteFrom(table).where('import_id', '=', importId).execute();
    }
    if (known.first_day !== null) {
      await tx.updateTable('dataset').set({ first_day: known.first_day }).where('id', '=', id).execute();
      return true;
    }
    for (const table of ['restatement', 'dim_value'] as const) {
      await tx.deleteFrom(table).where('dataset_id', '=', id).execute();
    }
    await tx.deleteFrom('dataset').where('id', '=', id).execute();
    return true;
  });
}

/** Forgets how to take imports back. */
export async function forgetUndo(db: FactDb, importIds: readonly string[]): Promise<void> {
  if (importIds.length === 0) return;
  for (const table of ['undo_chunk', 'undo_coverage', 'undo_dataset'] as const) {
    await db.deleteFrom(table).where('import_id', 'in', importIds).execute();
  }
}
