import { lengthOf, type Range } from '../calendar/index.ts';
import { type Filter, rowsOf, rowTest } from './columns.ts';
import { coveredDays } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import { kindOf } from './kinds/registry.ts';
import type { Aggregation } from './metric.ts';
import { isKnown, type NotAvailable, na, type Value } from './value.ts';

/** Why nothing can be said of a range at all, or its partial share; null when every day was delivered. */
export function judgeCoverage(dataset: Dataset, range: Range): NotAvailable | { share: number } | null {
  if (range.to < dataset.firstDay) return na('before-start');
  const days = lengthOf(range);
  const delivered = coveredDays(dataset.covered, range);
  if (delivered === 0) return na('not-covered');
  return delivered < days ? { share: delivered / days } : null;
}

/**
 * The value of a metric over `range`, both ends included, of the rows that pass `filter` (SEMANTICS §4).
 * A range that is not fully covered gives a partial value; NaN and Infinity never come out.
 */
export function aggregate(dataset: Dataset, aggregation: Aggregation, range: Range, filter: Filter): Value {
  if (Object.keys(filter).some((d) => !dataset.dimensions.includes(d))) return na('filtered-out-of-feed');
  const verdict = judgeCoverage(dataset, range);
  if (verdict && 'na' in verdict) return verdict;
  const value = kindOf(aggregation).aggregate(aggregation, {
    columns: dataset.columns,
    ...rowsOf(dataset.columns, range),
    keep: rowTest(dataset.columns, filter),
    range,
  });
  return verdict && isKnown(value) ? { ...value, partial: true, share: verdict.share } : value;
}
