import {
  addDays,
  type CivilDate,
  joinRanges,
  lengthOf,
  maxDate,
  minDate,
  type Range,
  toDayNumber,
} from '../calendar/index.ts';
import { type Change, changeOf } from './change.ts';
import { keptRows, rowsOf } from './columns.ts';
import type { CountedRange } from './countedRange.ts';
import { coveredFlags } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import { filterKey } from './filter.ts';
import { type Ask, dailyTotals } from './kinds/kind.ts';
import type { Metric } from './metric.ts';
import { type DaySeries, judgeOf, type OddDay, rangesToJudge } from './oddDays.ts';
import type { Value } from './value.ts';

/** An odd day of a figure: which of its sums was odd, and on which side of the comparison. */
export interface OddDayOf extends OddDay {
  measure: string;
  side: 'current' | 'compared';
}

/** The odd days of a figure and of what it is held against, and both without those days and their partners. */
export interface Odd {
  days: OddDayOf[];
  /** Null where a day has no partner, the figure is not made of sums alone, or not all days are known. */
  without: { current: Value; compared: Value; days: CivilDate[] } | null;
}

export const NOTHING_ODD: Odd = { days: [], without: null };

/** The change of a metric with its odd days left out on both sides; null where they cannot be. */
export const changeWithout = ({ without }: Odd, { unit, polarity }: Pick<Metric, 'unit' | 'polarity'>): Change | null =>
  without && changeOf(without.current, without.compared, unit, polarity);

/** All that is wanted to judge the days of both ranges. */
export const judgedRanges = (range: Range, compared: Range | null): Range[] => [
  ...rangesToJudge(range),
  ...(compared ? rangesToJudge(compared) : []),
];

/** Whose sums are judged: a dataset's rows that pass a filter on dimensions that it has. */
type Sums = Pick<Ask, 'dataset' | 'filter'>;

/** One sum's days over the ranges; what lies between them was not read, and is not known. */
function seriesOf({ dataset, filter }: Sums, measure: string, ranges: Range[]): DaySeries {
  const whole = { from: ranges.map((r) => r.from).reduce(minDate), to: ranges.map((r) => r.to).reduce(maxDate) };
  const values = new Float64Array(lengthOf(whole)).fill(Number.NaN);
  const first = toDayNumber(whole.from);
  for (const range of ranges) {
    const known = { from: maxDate(range.from, dataset.firstDay), to: range.to };
    if (known.from > known.to) continue;
    const at = toDayNumber(known.from) - first;
    const { columns } = dataset;
    const selection = { columns, ...rowsOf(columns, known), keep: keptRows(columns, filter) };
    const flags = coveredFlags(dataset.covered, known);
    dailyTotals(selection, measure, known).forEach((v, i) => {
      if (flags[i] === 1) values[at + i] = v;
    });
  }
  return { from: whole.from, values };
}

/** What was found lately of a dataset, by what was asked: several metrics are made of the same sums. */
function memo<T>(): (of: Dataset, key: string, make: () => T) => T {
  const kept = new WeakMap<Dataset, Map<string, T>>();
  return (of, key, make) => {
    const own = kept.get(of) ?? new Map<string, T>();
    kept.set(of, own);
    const value = own.has(key) ? own.get(key)! : make();
    own.set(key, value);
    return value;
  };
}

const judged = memo<OddDayOf[]>();

/**
 * The odd days of a dataset's sums, in both ranges.
 * @param idle days that are not judged, and say nothing of others: holidays, and what is excluded
 */
export function oddDaysOf(
  sums: Sums,
  measures: readonly string[],
  { range, compared }: { range: CountedRange; compared: CountedRange | null },
  idle: ReadonlySet<CivilDate>,
  isCount: (measure: string) => boolean | undefined,
): OddDayOf[] {
  // Of weeks and months no day is known.
  if ((sums.dataset.grain ?? 'day') !== 'day') return [];
  const asked = [filterKey(sums.filter), range.from, range.to, compared?.from, compared?.to, ...idle].join(' ');
  return measures.flatMap((measure) =>
    judged(sums.dataset, `${measure} ${isCount(measure)} ${asked}`, () => judge(measure)),
  );

  function judge(measure: string): OddDayOf[] {
    const series = seriesOf(sums, measure, joinRanges(judgedRanges(range, compared)));
    const oddIn = judgeOf(series, idle, isCount(measure));
    const within = (r: Range, side: OddDayOf['side']) => oddIn(r).map((o): OddDayOf => ({ ...o, measure, side }));
    return [...within(range, 'current'), ...(compared ? within(compared, 'compared') : [])];
  }
}

/** The days that stand against each other by their distance from the first day, odd on either side; null without one. */
export function oddPairs(days: readonly OddDayOf[], range: Range, compared: Range): [CivilDate, CivilDate][] | null {
  const offsets = new Set(
    days.map((o) => toDayNumber(o.day) - toDayNumber(o.side === 'current' ? range.from : compared.from)),
  );
  const shortest = Math.min(lengthOf(range), lengthOf(compared));
  if ([...offsets].some((i) => i >= shortest)) return null;
  return [...offsets].sort((a, b) => a - b).map((i) => [addDays(range.from, i), addDays(compared.from, i)]);
}
