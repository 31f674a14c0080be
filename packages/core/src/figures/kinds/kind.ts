import type { Range } from '../../calendar/index.ts';
import type { Columns } from '../columns.ts';
import type { Aggregation } from '../metric.ts';
import type { Value } from '../value.ts';

/** Rows [start, end) of the columns that pass `keep` (null: all), and the range they stand for. */
export interface Selection {
  columns: Columns;
  start: number;
  end: number;
  keep: ((row: number) => boolean) | null;
  range: Range;
}

/** How one kind of metric is made from rows. Coverage is judged outside: a kind sees rows alone. */
export interface Kind<A extends Aggregation> {
  /** True when parts add up to the whole, so that a breakdown may show a remainder. */
  additive: boolean;
  aggregate(aggregation: A, selection: Selection): Value;
}

/** Σ of a measure over the selection. */
export function total({ columns, start, end, keep }: Selection, measure: string): number {
  const column = columns.measures[measure]!;
  let sum = 0;
  if (keep === null) for (let i = start; i < end; i++) sum += column[i]!;
  else for (let i = start; i < end; i++) if (keep(i)) sum += column[i]!;
  return sum;
}

/** Σ of a measure for each day of the range, in order; days without rows are 0. */
export function dailyTotals(
  { columns, start, end, keep, range }: Selection,
  measure: string,
  length: number,
): Float64Array {
  const out = new Float64Array(length);
  const column = columns.measures[measure]!;
  const first = Date.parse(range.from) / 86_400_000;
  for (let i = start; i < end; i++) if (keep === null || keep(i)) out[columns.days[i]! - first]! += column[i]!;
  return out;
}
