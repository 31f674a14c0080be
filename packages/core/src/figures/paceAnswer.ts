import { addDays, type CivilDate, daysOf, lengthOf, minDate, type Range } from '../calendar/index.ts';
import { type CountedRange, partOf } from './countedRange.ts';
import { paceOver, projectLevel, weightPassed } from './pace.ts';
import { isKnown, na, type Value } from './value.ts';

/** Days before a range that say what its weekdays weigh: eight full weeks, and the one that is cut. */
const WEIGHT_DAYS = 63;
/** Days over which a level's growth is taken: the longer where they are all known. */
const GROWTHS = [28, 7] as const;
/** Before so much of a range's weight has passed, one good or bad day says where a sum would end: nothing is told. */
const EARLY = 0.2;

/** How a figure stands within its range, as of a day: what came so far, and where it will end (SEMANTICS §8). */
export interface Pace {
  /** From the range's first day to the day before the as-of date, or to its end where that has passed. */
  toDate: Value;
  projected: Value;
  /** What a level gains a day, on average; null for anything else, and where it is not known. */
  net: number | null;
}

/** The days of a range that have passed as of a day; null for none. */
export function elapsed(range: CountedRange, at: CivilDate): CountedRange | null {
  const to = minDate(range.to, addDays(at, -1));
  return to < range.from ? null : partOf(range, { from: range.from, to });
}

/** The days that a pace is reckoned from. */
export const paceDays = (range: Range, at: CivilDate): Range => ({
  from: minDate(range.from, addDays(at, -WEIGHT_DAYS)),
  to: addDays(at, -1),
});

/** Asks what is needed of a metric's facts. */
interface Asking {
  /** Of a level (SEMANTICS §4), or what adds up over days; anything else has no pace. */
  kind: 'level' | 'sum' | 'other';
  total(range: CountedRange): Value;
  /** One value a day; null where it is not known. */
  daily(range: CountedRange): readonly (number | null)[];
  /** Whether a day is left out, of the range or of the weeks before it. */
  isExcluded(day: CivilDate): boolean;
}

/** @param weekStart the first weekday of a week, 1 for Monday to 7 */
export function paceAnswer(range: CountedRange, at: CivilDate, weekStart: number, asking: Asking): Pace {
  const passed = elapsed(range, at);
  if (!passed) return { toDate: na('no-data'), projected: na('no-data'), net: null };
  const toDate = asking.total(passed);
  const isOver = range.to < at;
  const days = paceDays(range, at);
  if (asking.kind === 'level') {
    const levels = asking.daily(days);
    const known = GROWTHS.find((k) => levels.length > k && levels.slice(-(k + 1)).every((v) => v !== null));
    if (known === undefined) return { toDate, projected: isOver ? toDate : na('not-covered'), net: null };
    const last = levels.slice(-(known + 1)) as number[];
    const ahead = lengthOf({ from: at, to: range.to });
    const projected = isOver ? toDate : { value: projectLevel(last, known, ahead) };
    return { toDate, projected, net: (last.at(-1)! - last[0]!) / known };
  }
  if (isOver || !isKnown(toDate)) return { toDate, projected: toDate, net: null };
  if (asking.kind === 'other') return { toDate, projected: na('not-additive'), net: null };
  // Every day from the range's first on is needed; of the weeks before it, as many as are all there. What is excluded is no gap.
  const daily = asking.daily(days);
  const excluded = daysOf(days).map(asking.isExcluded);
  const gap = daily.findLastIndex((v, i) => v === null && !excluded[i]);
  const history = {
    from: addDays(days.from, gap + 1),
    values: daily.map((v, i) => (excluded[i] ? null : v)).slice(gap + 1),
  };
  if (history.from > range.from) return { toDate, projected: na('not-covered'), net: null };
  if (weightPassed(history, at, range, weekStart) < EARLY) return { toDate, projected: na('too-early'), net: null };
  return { toDate, projected: paceOver(history, at, range, weekStart), net: null };
}
