import {
  addDays,
  type CalendarRules,
  type CivilDate,
  daysOf,
  toDayNumber,
  type Unit,
  unitStart,
  wholeUnit,
  yearStartOf,
} from '../calendar/index.ts';
import { type CountedRange, excludedDaysOf } from './countedRange.ts';
import { na, type Value } from './value.ts';

/** One value a day from `from` on, all delivered, up to the day before the as-of date; null for a day that is excluded. */
export interface DailyHistory {
  from: CivilDate;
  values: readonly (number | null)[];
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
  return Array.from({ length: 7 }, (_, d) => {
    const known = weeks.map((start) => history.values[start - first + d]!).filter((v) => v !== null);
    // A weekday that is excluded each week weighs what it does where nothing is known.
    return known.length === 0 ? 1 : known.reduce((n, v) => n + v, 0) / known.length;
  });
}

/**
 * Where a sum will end a range at the present pace: the value to date over the weights of the days elapsed, times the
 * weights of all its days (SEMANTICS §8). Days that are excluded have no weight, and bring nothing. On the range's first day:
 * `no-data`.
 */
export function paceOver(history: DailyHistory, asOf: CivilDate, range: CountedRange, weekStart: number): Value {
  if (range.from === asOf) return na('no-data');
  const { elapsed, all, toDate } = weighed(history, asOf, range, weekStart);
  return elapsed === 0 ? na('zero-denominator') : { value: (toDate / elapsed) * all };
}

/** How much of a range's weight has passed as of a day, from 0 to 1; 0 where nothing has a weight. */
export function weightPassed(history: DailyHistory, asOf: CivilDate, range: CountedRange, weekStart: number): number {
  if (range.from === asOf) return 0;
  const { elapsed, all } = weighed(history, asOf, range, weekStart);
  return all === 0 ? 0 : elapsed / all;
}

/** The weights of the days that have passed and of all of them, and what came on the former. */
function weighed(history: DailyHistory, asOf: CivilDate, range: CountedRange, weekStart: number) {
  const weights = dayWeights(history, asOf, weekStart);
  const firstWeek = toDayNumber(unitStart('week', range.from, weekStart, 1));
  const weightOf = (day: CivilDate) => weights[(toDayNumber(day) - firstWeek) % 7]!;
  const excluded = new Set(excludedDaysOf(range));
  const sum = (days: CivilDate[]) => days.reduce((n, day) => n + (excluded.has(day) ? 0 : weightOf(day)), 0);
  const elapsed = sum(daysOf({ from: range.from, to: addDays(asOf, -1) }));
  const offset = toDayNumber(range.from) - toDayNumber(history.from);
  const toDate = history.values.slice(Math.max(0, offset)).reduce<number>((n, v) => n + (v ?? 0), 0);
  return { elapsed, all: sum(daysOf(range)), toDate };
}

/** The pace of the calendar unit that holds the as-of date, as {@link paceOver}. */
export function paceOf(
  history: DailyHistory,
  asOf: CivilDate,
  spec: { unit: Exclude<Unit, 'day'>; fiscal?: true | undefined },
  rules: CalendarRules,
): Value {
  const unit = wholeUnit(spec.unit, unitStart(spec.unit, asOf, rules.weekStart, yearStartOf(spec, rules)));
  return paceOver(history, asOf, unit, rules.weekStart);
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
