import { closeSync, fsyncSync, openSync, statSync, writeSync } from 'node:fs';
import {
  addDays,
  type CivilDate,
  fromDayNumber,
  joinRanges,
  minDate,
  monthEnd,
  monthStart,
  type Range,
} from '@chronicon/core/calendar';
import type { Reading } from '@chronicon/core/contract';
import {
  type Cell,
  type FileMapping,
  grainOfDates,
  rowReader,
  totalsSieve,
  type WideTable,
} from '@chronicon/core/feeds';
import Papa from 'papaparse';
import { createBulk, writeBulk } from '../../facts/bulk.ts';
import type { FactDb } from '../../facts/factStore.ts';
import { harmless } from '../../platform/harmless.ts';
import { sourceOf } from './look.ts';
import { FileError, type RawRow } from './rows.ts';
import { rowsOfDays } from './rowsOfDays.ts';

/** Rows that one file may bring: they are gathered in memory before any of them is seen. */
const MOST_ROWS = 5_000_000;
/** Rows that are set aside are listed up to so many; the others are only counted. */
const MOST_REJECTS = 200_000;
const LONGEST_CELL = 2_000;

export interface LoadOrder {
  importId: string;
  path: string;
  rejects: string;
  reading: Reading;
  /** The row before the first one of figures, in rows of the file that hold anything. */
  headerAt: number;
  names: string[];
  /** Of a table with a column for each day; its names are those of rows of one day. */
  wide: WideTable | null;
  mapping: FileMapping;
  /** Measures that count something and cannot be below zero. */
  counts: string[];
  today: CivilDate;
  zone: string;
  currency: string;
  /** Measures that are money. */
  money: string[];
  /** For measures that hold rates, those that weigh them. */
  weights: Record<string, string>;
  /** `family`: with which datasets of other feeds it is read together; empty for none. */
  feed: { id: string; clientId: string; name: string; family: string };
  /** The instant of the import. */
  at: string;
}

export interface LoadProgress {
  /** 0 to 1000 of the file's bytes. */
  thousandths: number;
  good: number;
  bad: number;
}

export interface Loaded extends LoadProgress {
  range: Range;
  hasRejects: boolean;
  /** Days that are not known because of rows that were set aside. */
  unknown: Range[];
}

/** Rows that were set aside, as CSV with their number and the reason before the cells. */
function openRejects(path: string, names: readonly string[]) {
  let handle: number | null = null;
  let listed = 0;
  const write = (row: readonly unknown[]) => {
    if (handle === null) {
      handle = openSync(path, 'w');
      const head = Papa.unparse([['Row', 'Reason', ...names.map(harmless)]], { newline: '\r\n' });
      writeSync(handle, `\ufeff${head}\r\n`);
    }
    writeSync(handle, `${Papa.unparse([row as string[]], { newline: '\r\n' })}\r\n`);
  };
  return {
    add(number: number, reason: string, cells: readonly Cell[]) {
      if (listed++ >= MOST_REJECTS) return;
      write([number, reason, ...cells.map((c) => harmless(String(c ?? '').slice(0, LONGEST_CELL)))]);
    },
    close() {
      if (handle === null) return false;
      fsyncSync(handle);
      closeSync(handle);
      return true;
    },
  };
}

/** The days that a row of this day speaks of: itself, or the week or month that begins on it. */
function stretchOf({ dates }: FileMapping, day: CivilDate): Range {
  const grain = grainOfDates(dates);
  if (grain === 'week') return { from: day, to: addDays(day, 6) };
  return grain === 'month' ? { from: monthStart(day), to: monthEnd(day) } : { from: day, to: day };
}

/** Days that a file replaces: its whole range, or only the days that it speaks of. */
function rangesOf(mapping: FileMapping, whole: Range, runs: Range[], today: CivilDate): Range[] {
  const isOfDays = grainOfDates(mapping.dates) === 'day';
  const spans = mapping.gaps === 'zero' ? [whole] : runs;
  if (!isOfDays) return joinRanges(spans.map((r) => ({ from: r.from, to: stretchOf(mapping, r.to).to })));
  return mapping.gaps === 'zero' ? [{ from: whole.from, to: minDate(whole.to, today) }] : runs;
}

/**
 * Days of a file that are not known because of rows that were set aside: theirs, or all of them where one has no date
 * that can be read (SEMANTICS §4, files). Of whole weeks and months, those.
 */
function unknownOf(
  aside: { days: ReadonlySet<number>; undated: boolean },
  ranges: readonly Range[],
  mapping: FileMapping,
): Range[] {
  if (aside.undated) return [...ranges];
  const spans = [...aside.days].map(fromDayNumber).map((d) => stretchOf(mapping, d));
  return joinRanges(spans.filter((s) => ranges.some((r) => r.from <= s.from && s.to <= r.to)));
}

/**
 * Reads a file as its mapping says and writes its rows, all or none. Rows at fault are listed aside.
 * @throws FileError when nothing of it can be read
 */
export async function loadFile(
  facts: FactDb,
  order: LoadOrder,
  tell: (progress: LoadProgress) => void,
): Promise<Loaded> {
  const { mapping, names, today } = order;
  const counts = new Set(order.counts);
  const money = new Set(order.money);
  const reader = rowReader(names, mapping, {
    today,
    zone: order.zone,
    counts: (m) => counts.has(m),
    currency: order.currency,
    isMoney: (m) => money.has(m),
    weightOf: (m) => order.weights[m] ?? null,
  });
  const aside = { days: new Set<number>(), undated: false };
  const bulk = createBulk(reader.dimensions.length, reader.measures.length);
  const rejects = openRejects(order.rejects, names);
  const size = Math.max(1, statSync(order.path).size);
  let skip = order.headerAt + 1;
  let bad = 0;
  let bytes = 0;
  let firstReason = '';
  const progress = (): LoadProgress => ({
    thousandths: Math.min(1000, Math.round((1000 * bytes) / size)),
    good: bulk.rows,
    bad,
  });
  const isSheet = order.reading.format === 'xlsx';
  const totals = totalsSieve<{ row: RawRow; labels: string[] }>(
    reader.measures.map((m) => !Object.hasOwn(order.weights, m)),
  );
  const mayBeTotal = mapping.totals !== 'rows';
  /** Lists a row that is not taken; its day is not known without it, unless it was left out. */
  const putAside = (row: RawRow, reason: string, day: number | null, leftOut: boolean) => {
    if (!leftOut && day === null) aside.undated = true;
    else if (!leftOut) aside.days.add(day!);
    if (bad++ === 0) firstReason = `Row ${row.number}: ${reason}`;
    rejects.add(row.number, reason, row.cells);
  };
  const takeOne = (row: RawRow) => {
    if (isSheet) while (row.cells.length < names.length) row.cells.push(null);
    const reason = row.fault ?? reader.read(row.cells, row.currencies);
    if (reason === null) {
      if (
        mayBeTotal &&
        reader.unlabelled &&
        totals.hold(reader.day, reader.values, { row, labels: [...reader.labels] })
      )
        return;
      if (mayBeTotal) totals.add(reader.day, reader.values);
      bulk.add(reader.day, reader.labels, reader.values);
      return;
    }
    if (row.fault !== null) {
      putAside(row, reason, null, false);
      return;
    }
    if (mayBeTotal && reader.onlyUndated && totals.hold(null, reader.values, { row, labels: [] })) return;
    putAside(row, reason, reader.dayRead, reader.leftOut);
  };
  /** Which of the rows that may be totals are, is known once all others are read. */
  const settleTotals = () => {
    const found = totals.settle();
    for (const { day, row: held, values } of found.others) {
      if (day === null) putAside(held.row, 'has no date', null, false);
      else bulk.add(day, held.labels, values);
    }
    for (const {
      day,
      row: { row },
    } of found.totals) {
      putAside(row, `is a total of the other rows of ${day === null ? 'the file' : 'its day'}`, day, true);
    }
  };
  let tooMany = false;
  await sourceOf(order.reading.format)(order.path, order.reading, {
    progress(read) {
      bytes = read;
    },
    take(rows) {
      for (const row of rows) {
        if (skip > 0) skip--;
        else if (order.wide === null) takeOne(row);
        else for (const own of rowsOfDays(order.wide, row, isSheet)) takeOne(own);
      }
      tell(progress());
      tooMany = bulk.rows > MOST_ROWS;
      return !tooMany;
    },
  });
  settleTotals();
  const hasRejects = rejects.close();
  if (tooMany) {
    throw new FileError(
      `More than ${MOST_ROWS.toLocaleString('en-GB')} rows. Split the file by year or month. Nothing was imported.`,
    );
  }
  const whole = bulk.range();
  if (!whole) {
    throw new FileError(bad === 0 ? 'The file has no data rows.' : `No row could be read. ${firstReason}.`);
  }
  const ranges = rangesOf(mapping, whole, bulk.runs(), today);
  const unknown = mapping.aside === 'none' ? [] : unknownOf(aside, ranges, mapping);
  const { feed } = order;
  await writeBulk(facts, bulk, {
    importId: order.importId,
    owner: {
      feedId: feed.id,
      clientId: feed.clientId,
      position: 0,
      feedName: feed.name,
      family: feed.family,
      grain: grainOfDates(mapping.dates),
    },
    spec: {
      key: 'rows',
      name: feed.name,
      firstDay: ranges[0]!.from,
      dimensions: [...reader.dimensions],
      measures: [...reader.measures],
    },
    ranges,
    unknown,
    at: order.at,
  });
  bytes = size;
  return { ...progress(), range: { from: ranges[0]!.from, to: ranges.at(-1)!.to }, hasRejects, unknown };
}
