import { STANDARD } from './book.ts';
import { type CountedRange, countedDays } from './countedRange.ts';
import { coveredDays } from './coverage.ts';
import { type Dataset, isTooCoarse } from './dataset.ts';
import type { Filter } from './filter.ts';
import { type Ask, typicalOf } from './kinds/kind.ts';
import { kindOf } from './kinds/registry.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { isKnown, type NotAvailable, na, type Value } from './value.ts';

const standard = STANDARD.lookup;

const lacksDimension = (dataset: Dataset, filter: Filter): boolean =>
  Object.keys(filter).some((d) => !dataset.dimensions.includes(d));

/** Every measure a metric reads; of a derived one, those of all its inputs. */
export const measuresOf = (aggregation: Aggregation, metrics: MetricLookup = standard): string[] =>
  kindOf(aggregation).measures(aggregation, metrics);

/**
 * The value of a metric over `range`, both ends included, of the rows that pass `filter` (SEMANTICS §4).
 * A range that is not fully covered gives a partial value; the days that it leaves out are none of it; NaN and Infinity never
 * come out.
 * @param metrics finds the inputs of derived metrics; the standard library unless given
 */
export function aggregate(
  dataset: Dataset,
  aggregation: Aggregation,
  range: CountedRange,
  filter: Filter,
  metrics: MetricLookup = standard,
): Value {
  if (lacksDimension(dataset, filter)) return na('filtered-out-of-feed');
  return kindOf(aggregation).value(aggregation, { dataset, range, filter, metrics });
}

/** The value over the number of days of the range that count: for holding ranges of unlike length against each other. */
export function perDay(value: Value, range: CountedRange): Value {
  return isKnown(value) ? { ...value, value: value.value / countedDays(range) } : value;
}

export interface Typical {
  value: number;
  /** How many of the ranges were fully covered, and how many there were. */
  count: number;
  of: number;
}

/**
 * What a metric usually is over ranges like these: made from the fully covered ones (SEMANTICS §3, `typical`). One that leaves
 * out a day which the period keeps is made of less, and does not count.
 */
export function typical(
  dataset: Dataset,
  aggregation: Aggregation,
  ranges: readonly CountedRange[],
  filter: Filter,
  metrics: MetricLookup = standard,
): Typical | NotAvailable {
  if (lacksDimension(dataset, filter)) return na('filtered-out-of-feed');
  if (ranges.every((r) => r.to < dataset.firstDay)) return na('before-start');
  if (ranges.every((r) => countedDays(r) === 0)) return na('excluded');
  if (ranges.some((r) => isTooCoarse(dataset, r))) return na('coarser');
  const counts = (ask: Ask): boolean => {
    const { range } = ask;
    if (aggregation.kind !== 'level') {
      const days = countedDays(range);
      const isLess = range.without?.some((w) => w.alone) ?? false;
      return days > 0 && !isLess && coveredDays(dataset.covered, range) === days;
    }
    const value = kindOf(aggregation).value(aggregation, ask);
    return isKnown(value) && coveredDays(dataset.covered, { from: range.to, to: range.to }) === 1;
  };
  const asks = ranges.map((range): Ask => ({ dataset, range, filter, metrics })).filter(counts);
  if (asks.length === 0) return na('not-covered');
  const value = typicalOf(kindOf(aggregation), aggregation, asks);
  return isKnown(value) ? { value: value.value, count: asks.length, of: ranges.length } : value;
}
