import { FIRST_DATE, LAST_DATE, MOST_DAYS } from '../bounds/index.ts';
import { addDays, type CivilDate, isCivilDate, lengthOf, maxDate, minDate, type Range } from './civilDate.ts';
import type { ComparisonSpec } from './comparisons.ts';
import type { PeriodSpec } from './periods.ts';

/** True for a day that exists and lies within the dates that anything may have. */
export const isBoundedDate = (text: string): text is CivilDate =>
  isCivilDate(text) && text >= FIRST_DATE && text <= LAST_DATE;

/** What is wrong with a date that somebody gave, or null. */
export function dateFault(text: string): string | null {
  if (!isCivilDate(text)) return 'Enter a date as YYYY-MM-DD.';
  if (isBoundedDate(text)) return null;
  return `Enter a date between ${FIRST_DATE.slice(0, 4)} and ${LAST_DATE.slice(0, 4)}.`;
}

/** What is wrong with a range whose ends are dates within bounds, or null. */
export function rangeFault(range: Range): string | null {
  if (range.from > range.to) return 'The end date is before the start date.';
  if (lengthOf(range) > MOST_DAYS) return 'A period has at most 20 years.';
  return null;
}

/** A date that was stored under other bounds, brought within today's; the first day there is for one that is none. */
export const clampDate = (date: CivilDate): CivilDate =>
  date > LAST_DATE ? LAST_DATE : isBoundedDate(date) ? date : FIRST_DATE;

/** A range that was stored under other bounds, brought within today's: its last days are kept. */
export function clampRange(range: Range): Range {
  const to = clampDate(range.to);
  const from = minDate(clampDate(range.from), to);
  return { from: maxDate(from, addDays(to, 1 - MOST_DAYS)), to };
}

/** A period or comparison that was stored under other bounds. */
export const clampSpec = <S extends PeriodSpec | ComparisonSpec>(spec: S): S =>
  spec.kind === 'fixed' ? { ...spec, ...clampRange(spec) } : spec;
