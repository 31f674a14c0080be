import { type CivilDate, lengthOf, type Range, toDayNumber } from '../calendar/index.ts';

/** A day that a range leaves out. */
export interface ExcludedDay {
  day: CivilDate;
  /** For these metrics and what is made of them alone; for all of them where it is left out. */
  metrics?: readonly string[];
  /** Of a range that a usual level is made from: a day that the period itself keeps. Such a range does not count. */
  alone?: true;
}

/** A stretch of days of which some do not count. What does not say so counts them all. */
export interface CountedRange extends Range {
  without?: readonly ExcludedDay[];
}

/** The days of a range that count. */
export const countedDays = (range: CountedRange): number => lengthOf(range) - (range.without?.length ?? 0);

/** The days that a range leaves out, in order. */
export const excludedDaysOf = ({ without = [] }: CountedRange): CivilDate[] => without.map((w) => w.day);

/** A part of a range, which leaves out what the whole does. `part` may reach beyond it. */
export function partOf({ without = [] }: CountedRange, part: Range): CountedRange {
  const own = without.filter(({ day }) => day >= part.from && day <= part.to);
  return own.length > 0 ? { from: part.from, to: part.to, without: own } : { from: part.from, to: part.to };
}

/** The text under which a range's excluded days are kept with its dates; empty for none. */
export const withoutKey = ({ from, without = [] }: CountedRange): string =>
  without
    .map(({ day, metrics, alone }) => {
      const at = toDayNumber(day) - toDayNumber(from);
      return `-${at}${alone ? '!' : ''}${metrics ? `(${metrics.join(',')})` : ''}`;
    })
    .join('');
