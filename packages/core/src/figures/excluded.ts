import { type CivilDate, daysOf, fromDayNumber, type Range, toDayNumber } from '../calendar/index.ts';
import { measuresOf } from './aggregate.ts';
import type { MetricBook } from './book.ts';
import type { CountedRange, ExcludedDay } from './countedRange.ts';

/** Days that somebody left out of a client's figures (SEMANTICS §6); both ends belong. */
export interface Exclusion extends Range {
  /** For these metrics and what is made of them alone; for all of them where it is left out. */
  metrics?: readonly string[] | undefined;
}

/** The same days, with those that are excluded once each and in order. */
function lessen({ from, to }: Range, days: readonly ExcludedDay[]): CountedRange {
  if (days.length === 0) return { from, to };
  const byDay = new Map<CivilDate, ExcludedDay>();
  for (const d of days) {
    const other = byDay.get(d.day);
    if (!other) byDay.set(d.day, d);
    else {
      const metrics = other.metrics && d.metrics && [...new Set([...other.metrics, ...d.metrics])].sort();
      const alone = other.alone && d.alone;
      byDay.set(d.day, { day: d.day, ...(metrics && { metrics }), ...(alone && { alone }) });
    }
  }
  return { from, to, without: [...byDay.values()].sort((a, b) => (a.day < b.day ? -1 : 1)) };
}

/** The days of a range that are excluded, each with the metrics that it is excluded for. */
const within = (range: Range, exclusions: readonly Exclusion[]): ExcludedDay[] =>
  exclusions.flatMap(({ from, to, metrics }) => {
    const own = { from: from > range.from ? from : range.from, to: to < range.to ? to : range.to };
    return own.from > own.to ? [] : daysOf(own).map((day) => ({ day, ...(metrics && { metrics }) }));
  });

/** The days of `to` that stand at the same distance from its first day as those of `from` do from theirs. */
const partnersIn = (days: readonly ExcludedDay[], from: Range, to: Range): ExcludedDay[] =>
  days
    .map((d) => ({ ...d, day: fromDayNumber(toDayNumber(to.from) + toDayNumber(d.day) - toDayNumber(from.from)) }))
    .filter(({ day }) => day <= to.to);

/**
 * A period and what it is compared with, both without the days that are excluded from either: a day and its partner, at the
 * same distance from the first day, go together; one without a partner goes alone (SEMANTICS §6).
 * @example
 * // 19 October 2026 is excluded:
 * excludeDays({ from: '2026-10-01', to: '2026-10-31' }, { from: '2026-09-01', to: '2026-09-30' }, [{ from: '2026-10-19', to: '2026-10-19' }])
 * // period without 2026-10-19, compared without 2026-09-19
 */
export function excludeDays<C extends Range | null>(
  period: Range,
  compared: C,
  exclusions: readonly Exclusion[],
): { period: CountedRange; compared: C extends null ? null : CountedRange } {
  const own = within(period, exclusions);
  const other = compared ? within(compared, exclusions) : [];
  const of = compared
    ? {
        period: lessen(period, [...own, ...partnersIn(other, compared, period)]),
        compared: lessen(compared, [...other, ...partnersIn(own, period, compared)]),
      }
    : { period: lessen(period, own), compared: null };
  return of as { period: CountedRange; compared: C extends null ? null : CountedRange };
}

/** The ranges that a usual level is made from, each without the partners of what the period leaves out, and without its own. */
export function excludeFromUsual(
  period: CountedRange,
  ranges: readonly Range[],
  exclusions: readonly Exclusion[],
): CountedRange[] {
  return ranges.map((range) =>
    lessen(range, [
      ...partnersIn(period.without ?? [], period, range),
      ...within(range, exclusions).map((d) => ({ ...d, alone: true as const })),
    ]),
  );
}

/** Whether a metric is one of those named, or made of one: reads all that it reads. */
function isMadeOf(key: string, of: readonly string[], { has, lookup }: MetricBook): boolean {
  if (of.includes(key)) return true;
  if (!has(key)) return false;
  const own = new Set(measuresOf(lookup(key), lookup));
  return of.some((other) => {
    const inputs = has(other) ? measuresOf(lookup(other), lookup) : [];
    return inputs.length > 0 && inputs.every((m) => own.has(m));
  });
}

/**
 * A range as it counts for some metrics: without the days that are excluded for every one of them, or for what they are made
 * of. A range of which nothing is excluded is given back as it is.
 */
export function countedFor(range: CountedRange, metrics: readonly string[], book: MetricBook): CountedRange {
  const { without } = range;
  if (!without) return range;
  const kept = without.filter(
    (w) => w.metrics === undefined || metrics.every((key) => isMadeOf(key, w.metrics!, book)),
  );
  const { from, to } = range;
  if (kept.length === 0) return { from, to };
  return { from, to, without: kept.map(({ day, alone }) => ({ day, ...(alone && { alone }) })) };
}

/** The exclusions that a metric is concerned by. */
export const exclusionsFor = <E extends Exclusion>(exclusions: readonly E[], key: string, book: MetricBook): E[] =>
  exclusions.filter((e) => e.metrics === undefined || isMadeOf(key, e.metrics, book));

/** Whether a day is among those of an exclusion. */
export const isExcluded = (day: CivilDate, exclusions: readonly Range[]): boolean =>
  exclusions.some((e) => e.from <= day && day <= e.to);
