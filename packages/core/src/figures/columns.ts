import { type Range, toDayNumber } from '../calendar/index.ts';
import type { CountedRange } from './countedRange.ts';
import { type Filter, filterKey, keeperOf } from './filter.ts';

/** A dimension column: per row a code into `labels`. */
export interface DimensionColumn {
  codes: Int32Array;
  labels: readonly string[];
}

/** Rows of one dataset as columns, sorted by day. */
export interface Columns {
  /** Day number (days since 1970-01-01) of each row, ascending. */
  days: Int32Array;
  dims: Readonly<Record<string, DimensionColumn>>;
  measures: Readonly<Record<string, Float64Array>>;
}

/** Index of the first row on or after `day`. */
function lowerBound(days: Int32Array, day: number): number {
  let lo = 0;
  let hi = days.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (days[mid]! < day) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** Row numbers of a range: [start, end). */
export function rowsOf(columns: Columns, range: Range): { start: number; end: number } {
  return {
    start: lowerBound(columns.days, toDayNumber(range.from)),
    end: lowerBound(columns.days, toDayNumber(range.to) + 1),
  };
}

/** Marks of the rows that pass lately used filters: several metrics are asked of one filter. */
const marks = new WeakMap<Columns, Map<string, Uint8Array>>();
const FILTERS_KEPT = 6;

function markRows(columns: Columns, filter: Filter, without: CountedRange['without'] = []): Uint8Array {
  const kept = new Uint8Array(columns.days.length).fill(1);
  for (const { day } of without) {
    const { start, end } = rowsOf(columns, { from: day, to: day });
    kept.fill(0, start, end);
  }
  for (const [dimension, rule] of Object.entries(filter)) {
    const column = columns.dims[dimension];
    if (!column) throw new RangeError(`no dimension ${dimension}`);
    const passes = keeperOf(rule);
    const keeps = Uint8Array.from(column.labels, (label) => (passes(label) ? 1 : 0));
    const { codes } = column;
    for (let i = 0; i < kept.length; i++) kept[i]! &= keeps[codes[i]!]!;
  }
  return kept;
}

/**
 * For each row 1 when it passes a filter and is of no day that does not count, or null when every row is. All dimensions must
 * exist in `columns`.
 * @param without days whose rows do not count; none when left out
 */
export function keptRows(columns: Columns, filter: Filter, without?: CountedRange['without']): Uint8Array | null {
  const key = [filterKey(filter), ...(without ?? []).map((w) => w.day)].join(' ');
  if (key === '') return null;
  const known = marks.get(columns) ?? new Map<string, Uint8Array>();
  marks.set(columns, known);
  const found = known.get(key);
  if (found) return found;
  const fresh = markRows(columns, filter, without);
  if (known.size >= FILTERS_KEPT) known.delete(known.keys().next().value as string);
  known.set(key, fresh);
  return fresh;
}
