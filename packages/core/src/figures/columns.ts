import { type Range, toDayNumber } from '../calendar/index.ts';

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

/** Values kept, by dimension; several dimensions must all hold. */
export type Filter = Readonly<Record<string, readonly string[]>>;

/** A test of row numbers for a filter, or null when every row passes. All dimensions must exist in `columns`. */
export function rowTest(columns: Columns, filter: Filter): ((row: number) => boolean) | null {
  const tests = Object.entries(filter).map(([dimension, values]) => {
    const column = columns.dims[dimension];
    if (!column) throw new RangeError(`no dimension ${dimension}`);
    const keep = Uint8Array.from(column.labels, (label) => (values.includes(label) ? 1 : 0));
    const { codes } = column;
    return (row: number) => keep[codes[row]!] === 1;
  });
  if (tests.length === 0) return null;
  return tests.length === 1 ? tests[0]! : (row) => tests.every((t) => t(row));
}

/** Filters as text: the order of dimensions and of values does not matter. */
export const filterKey = (filter: Filter): string => {
  const kept = Object.entries(filter).map(([d, values]) => [d, [...values].sort()] as const);
  return kept.length === 0 ? '' : JSON.stringify(kept.sort(([a], [b]) => (a < b ? -1 : 1)));
};
