import { addDays, type CivilDate, daysOf, type Range, toDayNumber } from '../calendar/index.ts';
import type { DailyValues } from './byDay.ts';
import type { MetricUnit } from './metric.ts';

/** A day that looks wrong, and what it was held against. */
export interface Suspect {
  day: CivilDate;
  /** `zero`: nothing on a weekday that always has something. `jump`: far from its weekdays. `missing`: not delivered. */
  kind: 'zero' | 'jump' | 'missing';
  value: number | null;
  /** The median of the same weekday around it; null when it is missing. */
  usual: number | null;
}

/** Weeks before and after a day whose same weekdays it is held against: a season moves little within them. */
const WEEKS = 8;
const FEWEST = 5;
/** How many robust standard deviations are too far; 1.4826 makes a MAD one of them under a normal law. */
const FAR = 5;
const MAD_TO_SIGMA = 1.4826;
/** What moves less than this part of its median is no jump, however still the others lie. */
const LEAST = 0.3;
const YEAR_OF_WEEKS = 364;

/** Sorts the first `n` values in place; there are few. */
function sortFirst(values: Float64Array, n: number): void {
  for (let i = 1; i < n; i++) {
    const v = values[i]!;
    let j = i - 1;
    for (; j >= 0 && values[j]! > v; j--) values[j + 1] = values[j]!;
    values[j + 1] = v;
  }
}

/** The median of the first `n` values, which it leaves sorted. */
function medianOf(values: Float64Array, n: number): number {
  sortFirst(values, n);
  const mid = n >> 1;
  return n % 2 === 1 ? values[mid]! : (values[mid - 1]! + values[mid]!) / 2;
}

interface Around {
  usual: number;
  /** How far from it a value may lie. */
  reach: number;
  everZero: boolean;
}

/** Room for one day's neighbours; one day is judged at a time. */
const others = new Float64Array(2 * WEEKS);
const weeks = new Int8Array(2 * WEEKS);
const side = new Float64Array(WEEKS);

/** The median of the first `n` neighbours on one side: before (-1) or after (1). Null with fewer than three. */
function medianOfSide(n: number, sign: 1 | -1): number | null {
  let m = 0;
  for (let k = 0; k < n; k++) if (weeks[k]! * sign > 0) side[m++] = others[k]!;
  return m < 3 ? null : medianOf(side, m);
}

/** The same weekdays around day `i`, a steady rise or fall taken out; null when fewer than five of them are known. */
function around(values: DailyValues, i: number, counts: boolean): Around | null {
  let n = 0;
  let everZero = false;
  for (let w = -WEEKS; w <= WEEKS; w++) {
    const v = w === 0 ? null : (values[i + 7 * w] ?? null);
    if (v === null) continue;
    weeks[n] = w;
    others[n++] = v;
    everZero ||= v === 0;
  }
  if (n < FEWEST) return null;
  const [before, after] = [medianOfSide(n, -1), medianOfSide(n, 1)];
  // The middles of both sides lie nine weeks apart.
  const slope = before === null || after === null ? 0 : (after - before) / (WEEKS + 1);
  for (let k = 0; k < n; k++) others[k]! -= slope * weeks[k]!;
  const usual = medianOf(others, n);
  for (let k = 0; k < n; k++) others[k] = Math.abs(others[k]! - usual);
  const mad = medianOf(others, n);
  // Counts scatter by chance alone: about the root of what is expected.
  const chance = counts ? Math.sqrt(Math.abs(usual)) : 0;
  const reach = Math.max(FAR * Math.max(MAD_TO_SIGMA * mad, chance), LEAST * Math.abs(usual));
  return { usual, reach, everZero };
}

/** Whether the same weekday a year before left its own neighbours the same way: then the season explains it. */
function seasonal(values: DailyValues, i: number, now: Around, counts: boolean): boolean {
  for (const j of [i - YEAR_OF_WEEKS, i - YEAR_OF_WEEKS - 7, i - YEAR_OF_WEEKS + 7]) {
    const before = values[j] ?? null;
    const then = before === null ? null : around(values, j, counts);
    if (before === null || then === null || then.usual === 0) continue;
    const expected = (now.usual * before) / then.usual;
    const jumped = Math.abs(before - then.usual) > then.reach / 2;
    if (jumped && Math.abs(values[i]! - expected) <= now.reach) return true;
  }
  return false;
}

/**
 * Days of `range` that look wrong: not delivered, zero where that weekday never is, or further from the same weekdays
 * around it than they and the season explain (median and median absolute deviation, by weekday).
 * @param history one value a day from `from` on; the more of it before and after the range, the surer
 * @param missing days that should have been delivered and were not
 */
export function suspectsOf(
  history: { from: CivilDate; values: DailyValues },
  range: Range,
  missing: readonly Range[],
  unit: MetricUnit,
): Suspect[] {
  const first = toDayNumber(history.from);
  const counts = unit === 'count';
  return daysOf(range).flatMap((day): Suspect[] => {
    if (missing.some((r) => r.from <= day && day <= r.to)) return [{ day, kind: 'missing', value: null, usual: null }];
    const i = toDayNumber(day) - first;
    const value = history.values[i] ?? null;
    const near = around(history.values, i, counts);
    // A ratio has no value on a day without denominators: that is no fault.
    if (value === null || near === null) return [];
    if (value === 0 && near.usual > 0 && !near.everZero) return [{ day, kind: 'zero', value, usual: near.usual }];
    if (Math.abs(value - near.usual) <= near.reach || seasonal(history.values, i, near, counts)) return [];
    return [{ day, kind: 'jump', value, usual: near.usual }];
  });
}

/** The range whose values are wanted to judge the days of another: a year and nine weeks before, nine weeks after. */
export const rangeToJudge = (range: Range): Range => ({
  from: addDays(range.from, -YEAR_OF_WEEKS - 7 * (WEEKS + 1)),
  to: addDays(range.to, 7 * WEEKS),
});
