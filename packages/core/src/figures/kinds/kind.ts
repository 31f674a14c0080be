import { lengthOf, type Range } from '../../calendar/index.ts';
import { type Columns, keptRows, rowsOf } from '../columns.ts';
import { type CountedRange, countedDays } from '../countedRange.ts';
import { coveredDays } from '../coverage.ts';
import { type Dataset, isTooCoarse } from '../dataset.ts';
import type { FeedPart } from '../feedPart.ts';
import { type FeedLack, feedDays } from '../feedParts.ts';
import type { Filter } from '../filter.ts';
import type { Aggregation, MetricLookup } from '../metric.ts';
import { asPartial, isKnown, type NotAvailable, na, type Value } from '../value.ts';

/**
 * What is asked of a metric: a dataset, a range with both ends, a filter on dimensions that the dataset has. The days that the
 * range leaves out are left out of this metric.
 */
export interface Ask {
  dataset: Dataset;
  range: CountedRange;
  filter: Filter;
  metrics: MetricLookup;
}

/** Rows [start, end) of the columns that are marked in `keep` (null: all). */
export interface Selection {
  columns: Columns;
  start: number;
  end: number;
  keep: Uint8Array | null;
}

/** How one kind of metric is made, and what it is made from. */
export interface Kind<A extends Aggregation> {
  measures(aggregation: A, metrics: MetricLookup): string[];
  value(aggregation: A, ask: Ask): Value;
  /** How a typical level is made: from each range's value, or from the rows of all ranges together (SEMANTICS §3). */
  typical: 'mean' | ((aggregation: A, asks: Ask[]) => Value);
}

/** Finds the kind of an aggregation; handed to kinds that are made from others. */
export type KindLookup = (aggregation: Aggregation) => Kind<Aggregation>;

/** A typical value over ranges that all count: the mean of their values, or what the kind pools from their rows. */
export function typicalOf(kind: Kind<Aggregation>, aggregation: Aggregation, asks: Ask[]): Value {
  if (kind.typical !== 'mean') return kind.typical(aggregation, asks);
  let sum = 0;
  for (const ask of asks) {
    const value = kind.value(aggregation, ask);
    if (!isKnown(value)) return value;
    sum += value.value;
  }
  return { value: sum / asks.length };
}

/** How much of a range is known, and of which feeds it is without. */
export interface Lacking {
  share: number;
  feeds?: FeedLack[];
}

/** Why nothing can be said of a range at all, or its partial share; null when every day that counts was delivered. */
export function judgeCoverage(dataset: Dataset, range: CountedRange): NotAvailable | Lacking | null {
  if (range.to < dataset.firstDay) return na('before-start');
  const days = countedDays(range);
  if (days === 0) return na('excluded');
  if (isTooCoarse(dataset, range)) return na('coarser');
  if (dataset.parts) return judgeFeeds(dataset.parts, range);
  const delivered = coveredDays(dataset.covered, range);
  if (delivered === 0) return na('not-covered');
  return delivered < days ? { share: delivered / days } : null;
}

/** The same over the days of several feeds. */
function judgeFeeds(parts: readonly FeedPart[], range: CountedRange): NotAvailable | Lacking | null {
  const { asked, delivered, lacking } = feedDays(parts, range);
  // Nothing that the client had is missing: it has nothing yet, or no more.
  if (asked === delivered) return null;
  if (delivered === 0) return na('not-covered');
  return { share: delivered / asked, ...(lacking.length > 0 && { feeds: lacking }) };
}

/** Judges a range's coverage and marks a value that is not made from all of its days. */
export function withCoverage(ask: Ask, make: () => Value): Value {
  const verdict = judgeCoverage(ask.dataset, ask.range);
  if (verdict && 'na' in verdict) return verdict;
  const value = make();
  return verdict ? asPartial(value, verdict) : value;
}

export const select = ({ dataset, range, filter }: Ask): Selection => ({
  columns: dataset.columns,
  ...rowsOf(dataset.columns, range),
  keep: keptRows(dataset.columns, filter, range.without),
});

/** Σ of a measure over the selection. */
export function total({ columns, start, end, keep }: Selection, measure: string): number {
  const column = columns.measures[measure]!;
  let sum = 0;
  if (keep === null) for (let i = start; i < end; i++) sum += column[i]!;
  else for (let i = start; i < end; i++) if (keep[i] === 1) sum += column[i]!;
  return sum;
}

/** Σ of a measure over several selections. */
export const totalOf = (selections: readonly Selection[], measure: string): number =>
  selections.reduce((n, s) => n + total(s, measure), 0);

/** Σ of a measure for each day of the range, in order; days without rows are 0. */
export function dailyTotals({ columns, start, end, keep }: Selection, measure: string, range: Range): Float64Array {
  const out = new Float64Array(lengthOf(range));
  const column = columns.measures[measure]!;
  const first = Date.parse(range.from) / 86_400_000;
  for (let i = start; i < end; i++) if (keep === null || keep[i] === 1) out[columns.days[i]! - first]! += column[i]!;
  return out;
}
