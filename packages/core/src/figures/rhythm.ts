import { daysOf, toDayNumber } from '../calendar/index.ts';
import { keptRows, rowsOf } from './columns.ts';
import type { CountedRange } from './countedRange.ts';
import { coveredFlags } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import type { Filter } from './filter.ts';
import type { Aggregation } from './metric.ts';

const finite = (n: number): number | null => (Number.isFinite(n) ? n : null);

/** Mean by weekday and hour. `cells[d][h]`: d from 0, the week's first day. Null where no such day was delivered. */
export interface Rhythm {
  cells: (number | null)[][];
  /** How many delivered days each row is made from. */
  days: number[];
}

/**
 * A metric by weekday and hour of the day, over a dataset with a dimension `hour` (labels 0-23): what an average
 * Monday at nine brings, or the pooled ratio of all of them. Other kinds have no such mean: null.
 */
export function rhythmOf(
  dataset: Dataset,
  a: Aggregation,
  range: CountedRange,
  filter: Filter,
  weekStart: number,
): Rhythm | null {
  const hours = dataset.columns.dims.hour;
  if (!hours || (a.kind !== 'sum' && a.kind !== 'ratio')) return null;
  const { days, measures } = dataset.columns;
  const { start, end } = rowsOf(dataset.columns, range);
  const keep = keptRows(dataset.columns, filter, range.without);
  const hourOf = Int32Array.from(hours.labels, (l) => Number.parseInt(l, 10));
  // 1970-01-01 was a Thursday.
  const rowOf = (day: number) => (day + 3 - (weekStart - 1) + 7) % 7;
  const num = new Float64Array(7 * 24);
  const den = new Float64Array(7 * 24);
  const values = measures[a.kind === 'sum' ? a.measure : a.num]!;
  const over = a.kind === 'ratio' ? measures[a.den]! : null;
  for (let i = start; i < end; i++) {
    if (keep !== null && keep[i] === 0) continue;
    const hour = hourOf[hours.codes[i]!]!;
    if (!(hour >= 0 && hour < 24)) continue;
    const cell = rowOf(days[i]!) * 24 + hour;
    num[cell]! += values[i]!;
    if (over) den[cell]! += over[i]!;
  }
  const counts = Array.from({ length: 7 }, () => 0);
  const delivered = coveredFlags(dataset.covered, range);
  daysOf(range).forEach((day, i) => {
    if (delivered[i] === 1) counts[rowOf(toDayNumber(day))]!++;
  });
  return {
    days: counts,
    cells: counts.map((n, d) =>
      Array.from({ length: 24 }, (_, h) => {
        const at = d * 24 + h;
        return n === 0 ? null : finite(num[at]! / (over ? den[at]! : n));
      }),
    ),
  };
}
