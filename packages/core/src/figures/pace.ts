import {
  addDays,
  type CalendarRules,
  type CivilDate,
  daysOf,
  monthEnd,
  monthStart,
  type Range,
  toDayNumber,
  type Unit,
  unitStart,
  wholeUnit,
  yearStartOf,
} from '../calendar/index.ts';
import { na, type Value } from './value.ts';

/** One value a day from `from` on, all delivered, up to the day before the as-of date. */
export interface DailyHistory {
  from: CivilDate;
  values: readonly number[];
}

const FULL_WEEKS = 8;
const FEWEST_WEEKS = 4;

/** What a day weighs, by its place in the week (0 is the week's first day): means over the last full weeks, or 1. */
function dayWeights(history: DailyHistory, asOf: CivilDate, weekStart: number): number[] {
  const first = toDayNumber(history.from);
  const thisWeek = toDayNumber(unitStart('week', asOf, weekStart, 1));
  const weeks: number[] = [];
  for (let start = thisWeek - 7; start >= first && weeks.length < FULL_WEEKS; start -= 7) weeks.push(start);
  if (weeks.length < FEWEST_WEEKS) return Array.from({ length: 7 }, () => 1);
  return Array.from(
    { length: 7 },
    (_, d) => weeks.reduce((n, start) => n + history.values[start - first + d]!, 0) / weeks.length,
  );
}

/**
 * Where a sum will end its unit at the present pace: the value to date over the weights of the days elapsed, times
 * the weights of all its days (SEMANTICS §8). On the unit's first day: `no-data`.
 */
export function paceOf(
  history: DailyHistory,
  asOf: CivilDate,
  spec: { unit: Exclude<Unit, 'day'>; fiscal?: true | undefined },
  rules: CalendarRules,
): Value {
  const unit = wholeUnit(spec.unit, unitStart(spec.unit, asOf, rules.weekStart, yearStartOf(spec, rules)));
  if (unit.from === asOf) return na('no-data');
  const weights = dayWeights(history, asOf, rules.weekStart);
  const weekStart = toDayNumber(unitStart('week', unit.from, rules.weekStart, 1));
  const weightOf = (day: CivilDate) => weights[(toDayNumber(day) - weekStart) % 7]!;
  const sum = (days: CivilDate[]) => days.reduce((n, day) => n + weightOf(day), 0);
  const elapsed = sum(daysOf({ from: unit.from, to: addDays(asOf, -1) }));
  if (elapsed === 0) return na('zero-denominator');
  const offset = toDayNumber(unit.from) - toDayNumber(history.from);
  const toDate = history.values.slice(Math.max(0, offset)).reduce((n, v) => n + v, 0);
  return { value: (toDate / elapsed) * sum(daysOf(unit)) };
}

/** A month's target, the month as `YYYY-MM`. */
export interface MonthTarget {
  month: string;
  value: number;
}

/**
 * The target of a range from the targets of the months that it touches (SEMANTICS §8): of sums by days, whole months
 * as they are; of ratios and levels, the last month's. A month without a target: `no-data`.
 */
export function targetOf(kind: 'sum' | 'ratio' | 'level', targets: readonly MonthTarget[], range: Range): Value {
  const ofMonth = (month: string) => targets.find((t) => t.month === month)?.value;
  if (kind !== 'sum') {
    const value = ofMonth(range.to.slice(0, 7));
    return value === undefined ? na('no-data') : { value };
  }
  let sum = 0;
  for (let from = range.from; from <= range.to; from = addDays(monthEnd(from), 1)) {
    const to = monthEnd(from) < range.to ? monthEnd(from) : range.to;
    const target = ofMonth(from.slice(0, 7));
    if (target === undefined) return na('no-data');
    const days = toDayNumber(to) - toDayNumber(from) + 1;
    const all = toDayNumber(monthEnd(from)) - toDayNumber(monthStart(from)) + 1;
    sum += days === all ? target : (target * days) / all;
  }
  return { value: sum };
}

/** A level's growth over the last k days, from one value a day, the last one today's. @throws RangeError for fewer than k + 1 */
function growth(levels: readonly number[], k: number): number {
  if (levels.length <= k) throw new RangeError(`${k + 1} days are needed`);
  return levels.at(-1)! - levels.at(-1 - k)!;
}

/** Where a level will be in `daysAhead` days at the mean daily growth of the last k (SEMANTICS §8). */
export const projectLevel = (levels: readonly number[], k: 7 | 28, daysAhead: number): number =>
  levels.at(-1)! + (growth(levels, k) * daysAhead) / k;

/** Days until a level reaches a target at the growth of the last k days: 0 when it is there, null for never (SEMANTICS §8). */
export function daysToReach(levels: readonly number[], k: 7 | 28, target: number): number | null {
  const level = levels.at(-1)!;
  if (level >= target) return 0;
  const grown = growth(levels, k);
  if (grown <= 0) return null;
  const days = ((target - level) * k) / grown;
  // Whole numbers of days come out a hair above themselves at times.
  const whole = Math.round(days);
  return Math.abs(days - whole) <= 1e-9 * Math.max(1, days) ? whole : Math.ceil(days);
}
