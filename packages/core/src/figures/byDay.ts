import { daysOf, type Range } from '../calendar/index.ts';
import { aggregate } from './aggregate.ts';
import type { Filter } from './columns.ts';
import { coveredFlags } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import { dailyTotals, select } from './kinds/kind.ts';
import { metricOf } from './library.ts';
import type { Aggregation } from './metric.ts';
import { isKnown } from './value.ts';

const finite = (n: number): number | null => (Number.isFinite(n) ? n : null);

/** A metric's value on each day of the range, in order; null where the day was not delivered or has no value. */
export function byDay(dataset: Dataset, a: Aggregation, range: Range, filter: Filter): (number | null)[] {
  const delivered = coveredFlags(dataset.covered, range);
  // Sums and ratios take one pass over all days; other kinds are asked day by day.
  if (a.kind === 'sum' || a.kind === 'ratio') {
    const selection = select({ dataset, range, filter, metrics: (key) => metricOf(key).aggregation });
    const num = dailyTotals(selection, a.kind === 'sum' ? a.measure : a.num, range);
    const den = a.kind === 'ratio' ? dailyTotals(selection, a.den, range) : null;
    return Array.from(num, (n, i) => (delivered[i] === 1 ? finite(den ? n / den[i]! : n) : null));
  }
  return daysOf(range).map((day, i) => {
    const value = delivered[i] === 1 ? aggregate(dataset, a, { from: day, to: day }, filter) : null;
    return value && isKnown(value) ? value.value : null;
  });
}
