import { type CivilDate, daysOf, fromDayNumber, type Range, toDayNumber } from '../calendar/index.ts';
import { aggregate } from './aggregate.ts';
import type { CountedRange } from './countedRange.ts';
import { coveredFlags } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import type { Filter } from './filter.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { byCodePoint } from './order.ts';
import { isKnown, type NotAvailable, na, type Value } from './value.ts';

/** A competitor, or ourselves for null, over the days that are known of all. */
export interface Peer {
  label: string | null;
  value: Value;
  /** What a level gained from the first of those days to the last; null for what is no level. */
  grown: Value | null;
}

export interface Peers {
  /** The first and the last of the days that are known of all, and how many there are. */
  days: Range & { count: number };
  /** Ourselves first, then the others, the largest first; those of whom nothing is known last. */
  rows: Peer[];
}

/** One side: a dataset, and what is read of it. */
export interface PeerSide {
  dataset: Dataset;
  aggregation: Aggregation;
  filter: Filter;
}

/** The days of a range on which both datasets are known. */
function commonDays(a: Dataset, b: Dataset, range: CountedRange): CivilDate[] {
  const [x, y] = [coveredFlags(a.covered, range), coveredFlags(b.covered, range)];
  const first = toDayNumber(range.from);
  return Array.from(x, (flag, i) => (flag === 1 && y[i] === 1 ? fromDayNumber(first + i) : '')).filter((d) => d !== '');
}

/** Competitors beside ourselves, over the days that are known of both sides (SEMANTICS §12). */
export function peersAnswer(
  own: PeerSide,
  theirs: PeerSide,
  dimension: string,
  range: CountedRange,
  metrics: MetricLookup,
): Peers | NotAvailable {
  const days = commonDays(own.dataset, theirs.dataset, range);
  if (days.length === 0) return na('not-covered');
  const over: Range = { from: days[0]!, to: days.at(-1)! };
  const known = new Set(days);
  const gone = daysOf(over).filter((day) => !known.has(day));
  const shared: CountedRange = gone.length > 0 ? { ...over, without: gone.map((day) => ({ day })) } : over;
  const rowOf = (label: string | null, { dataset, aggregation: a, filter }: PeerSide): Peer => {
    const at = (r: CountedRange) => aggregate(dataset, a, r, filter, metrics);
    // What is left of the stretch is known of both; a level hangs on its two ends alone.
    if (a.kind !== 'level') return { label, value: at(shared), grown: null };
    const [begin, end] = [over.from, over.to].map((day) => at({ from: day, to: day })) as [Value, Value];
    const grown = isKnown(begin) && isKnown(end) ? { value: end.value - begin.value } : isKnown(begin) ? end : begin;
    return { label, value: end, grown };
  };
  const column = theirs.dataset.columns.dims[dimension];
  const others = (column?.labels ?? []).map((label) =>
    rowOf(label, { ...theirs, filter: { ...theirs.filter, [dimension]: [label] } }),
  );
  const sizeOf = ({ value }: Peer) => (isKnown(value) ? value.value : Number.NEGATIVE_INFINITY);
  others.sort((a, b) => sizeOf(b) - sizeOf(a) || byCodePoint(a.label!, b.label!));
  return { days: { ...over, count: days.length }, rows: [rowOf(null, own), ...others] };
}
