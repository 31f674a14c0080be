import { lengthOf, type Range, toDayNumber } from '../calendar/index.ts';
import { type Filter, rowsOf, rowTest } from './columns.ts';
import type { Dataset } from './dataset.ts';
import { dailyTotals } from './kinds/kind.ts';
import { type Aggregation, measuresOf } from './metric.ts';

/** A metric's value on each day of the range, in order; null where the day was not delivered or has no value. */
export function byDay(dataset: Dataset, aggregation: Aggregation, range: Range, filter: Filter): (number | null)[] {
  const days = lengthOf(range);
  const first = toDayNumber(range.from);
  const known = new Uint8Array(days);
  for (const [a, b] of dataset.covered) {
    for (let d = Math.max(a, first); d <= Math.min(b, first + days - 1); d++) known[d - first] = 1;
  }
  const selection = {
    columns: dataset.columns,
    ...rowsOf(dataset.columns, range),
    keep: rowTest(dataset.columns, filter),
    range,
  };
  const [num, den] = measuresOf(aggregation).map((m) => dailyTotals(selection, m, days));
  return Array.from(known, (isKnown, i) => {
    if (!isKnown) return null;
    const value = den ? num![i]! / den[i]! : num![i]!;
    return Number.isFinite(value) ? value : null;
  });
}
