import { addDays, type CivilDate, daysInMonth, makeDate, type Weekday, weekdayOf } from './civilDate.ts';

/** The agency's own week and holidays (SEMANTICS §10). */
export interface WorkingCalendar {
  workingDays: readonly Weekday[];
  holidays: ReadonlySet<CivilDate>;
}

export const WORKING_DAY_RULES = ['as is', 'next', 'previous'] as const;
export type WorkingDayRule = (typeof WORKING_DAY_RULES)[number];

export const isWorkingDay = (date: CivilDate, calendar: WorkingCalendar): boolean =>
  calendar.workingDays.includes(weekdayOf(date)) && !calendar.holidays.has(date);

/**
 * The day on which a run takes place whose unmoved date is `date`.
 * @throws RangeError when a year holds no working day at all
 */
export function moveToWorkingDay(date: CivilDate, rule: WorkingDayRule, calendar: WorkingCalendar): CivilDate {
  if (rule === 'as is') return date;
  const step = rule === 'next' ? 1 : -1;
  for (let i = 0, day = date; i < 366; i++, day = addDays(day, step)) if (isWorkingDay(day, calendar)) return day;
  throw new RangeError('the agency has no working days');
}

/** The kth working day of a month, or the kth from its end when k < 0; null when the month has fewer. */
export function kthWorkingDay(year: number, month: number, k: number, calendar: WorkingCalendar): CivilDate | null {
  const days = Array.from({ length: daysInMonth(year, month) }, (_, i) => makeDate(year, month, i + 1)).filter((d) =>
    isWorkingDay(d, calendar),
  );
  return days.at(k > 0 ? k - 1 : k) ?? null;
}
