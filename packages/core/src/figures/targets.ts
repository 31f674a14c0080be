import { addDays, addMonths, type CivilDate, minDate, monthStart, type Range, toDayNumber } from '../calendar/index.ts';
import { type CountedRange, countedDays } from './countedRange.ts';
import { type Filter, filterKey, type PlainFilter } from './filter.ts';
import { formOf } from './form.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { na, type Value } from './value.ts';

const MONTHS = { month: 1, quarter: 3, year: 12 } as const;
export type TargetSpan = keyof typeof MONTHS;

/** What a target is narrowed to: only what has these values. Nothing when left out. */
interface Narrowed {
  filter?: PlainFilter | undefined;
}

/** What a client wants of a metric: for spans of months, or on a date (SEMANTICS §8). */
export type Target = Narrowed &
  /** For `span` from the first day of the month `from` (`YYYY-MM`); `repeats`: for every such span from then on. */
  (
    | { metric: string; value: number; span: TargetSpan; from: string; repeats: boolean }
    | { metric: string; value: number; span: 'date'; on: CivilDate }
  );

/**
 * The targets that a figure may be held against: its metric's, narrowed to the very same values. A part is never held
 * against the target of the whole (SEMANTICS §8).
 */
export function targetsFor(targets: readonly Target[], metric: string, filter: Filter): Target[] {
  const key = filterKey(filter);
  return targets.filter((t) => t.metric === metric && filterKey(t.filter ?? {}) === key);
}

/** One settled span with its target; both ends included. */
export interface TargetOfRange extends Range {
  value: number;
}

/** The shorter span says more: a month's own target comes before its quarter's and its year's. */
const ORDER: readonly TargetSpan[] = ['month', 'quarter', 'year'];

/** The span with a target that holds a day: the shortest one, of these the one that was set from the latest month on. */
export function targetSpanAt(targets: readonly Target[], day: CivilDate): TargetOfRange | null {
  for (const span of ORDER) {
    let best: { from: CivilDate; set: string; repeats: boolean; value: number } | null = null;
    for (const t of targets) {
      if (t.span !== span || `${t.from}-01` > day) continue;
      const months = MONTHS[span];
      let from: CivilDate = `${t.from}-01`;
      while (t.repeats && addMonths(from, months) <= day) from = addMonths(from, months);
      if (addMonths(from, months) <= day) continue;
      const { from: set, repeats, value } = t;
      // Of those that begin together, one that was set for this very span comes before any that only repeats.
      const isNearer =
        best === null || from > best.from || (from === best.from && best.repeats && (!repeats || set > best.set));
      if (isNearer) best = { from, set, repeats, value };
    }
    if (best) {
      const { from, value } = best;
      return { from, to: addDays(addMonths(from, MONTHS[span]), -1), value };
    }
  }
  return null;
}

/** Whether parts of a span have parts of its target: what is summed; the others have the last span's whole target. */
export const targetAdds = (a: Aggregation, metrics: MetricLookup): boolean => formOf(a, metrics)?.kind === 'sum';

/**
 * The target of a range (SEMANTICS §8): of sums by days, whole spans as they are; of the others that of the span
 * which holds the last day, or the one set for that very date. Days that the range leaves out have no part of a sum's. A day
 * without a target: `no-data`.
 */
export function targetOf(adds: boolean, targets: readonly Target[], range: CountedRange): Value {
  if (!adds) {
    const dated = targets.find((t) => t.span === 'date' && t.on === range.to);
    const span = dated ?? targetSpanAt(targets, range.to);
    return span ? { value: span.value } : na('no-data');
  }
  // Of days that are all left out nothing was aimed at, which is not 0.
  if (countedDays(range) === 0) return na('excluded');
  let sum = 0;
  for (let from = range.from; from <= range.to; ) {
    const span = targetSpanAt(targets, from);
    if (!span) return na('no-data');
    // A month's own target may begin within a longer span: only up to there does the longer one count.
    const to = minDate(minDate(span.to, range.to), lastDayUntilOther(targets, span, from));
    const start = from;
    const excluded = (range.without ?? []).filter(({ day }) => day >= start && day <= to).length;
    const days = toDayNumber(to) - toDayNumber(from) + 1 - excluded;
    const all = toDayNumber(span.to) - toDayNumber(span.from) + 1;
    sum += days === all ? span.value : (span.value * days) / all;
    from = addDays(to, 1);
  }
  return { value: sum };
}

/** The last day from `day` on to which the same span's target applies. */
function lastDayUntilOther(targets: readonly Target[], span: TargetOfRange, day: CivilDate): CivilDate {
  for (let next = addMonths(monthStart(day), 1); next <= span.to; next = addMonths(next, 1)) {
    const other = targetSpanAt(targets, next);
    if (other?.from !== span.from || other.to !== span.to) return addDays(next, -1);
  }
  return span.to;
}
