/** A day of the civil (proleptic Gregorian) calendar, `YYYY-MM-DD`, years 1000-9999. */
export type CivilDate = string;

/** A stretch of days; both ends belong to it. */
export interface Range {
  from: CivilDate;
  to: CivilDate;
}

/** 1 = Monday … 7 = Sunday (ISO 8601). */
export type Weekday = number;

const DAY = 86_400_000;
const pad = (n: number, width: number) => String(n).padStart(width, '0');

/** Days met before, both ways: the same few thousand come by over and over, and reading them is slow. */
const numberOf = new Map<CivilDate, number>();
const dateOf = new Map<number, CivilDate>();
const MOST_KEPT = 40_000;

/** True for text that names an existing day: `2026-02-29` is none. */
export function isCivilDate(text: string): text is CivilDate {
  const m = /^([1-9]\d{3})-(\d\d)-(\d\d)$/.exec(text);
  if (!m) return false;
  const month = Number(m[2]);
  const day = Number(m[3]);
  return month >= 1 && month <= 12 && day >= 1 && day <= daysInMonth(Number(m[1]), month);
}

/** Days since 1970-01-01, negative before it. Throws RangeError on text that is no date. */
export function toDayNumber(date: CivilDate): number {
  const known = numberOf.get(date);
  if (known !== undefined) return known;
  if (!isCivilDate(date)) throw new RangeError(`not a civil date: ${date}`);
  const n = Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8, 10))) / DAY;
  if (numberOf.size < MOST_KEPT) numberOf.set(date, n);
  return n;
}

/** The inverse of {@link toDayNumber}. */
export function fromDayNumber(n: number): CivilDate {
  const known = dateOf.get(n);
  if (known !== undefined) return known;
  const date = new Date(n * DAY).toISOString().slice(0, 10);
  if (dateOf.size < MOST_KEPT) dateOf.set(n, date);
  return date;
}

export function makeDate(year: number, month: number, day: number): CivilDate {
  return `${pad(year, 4)}-${pad(month, 2)}-${pad(day, 2)}`;
}

export function partsOf(date: CivilDate): { year: number; month: number; day: number } {
  return { year: Number(date.slice(0, 4)), month: Number(date.slice(5, 7)), day: Number(date.slice(8, 10)) };
}

export function daysInMonth(year: number, month: number): number {
  const leap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
  return month === 2 ? (leap ? 29 : 28) : month === 4 || month === 6 || month === 9 || month === 11 ? 30 : 31;
}

export function addDays(date: CivilDate, days: number): CivilDate {
  return fromDayNumber(toDayNumber(date) + days);
}

/** Moves by whole months; a day that the month lacks becomes the month's last day (31 Jan + 1 = 28 or 29 Feb). */
export function addMonths(date: CivilDate, months: number): CivilDate {
  const { year, month, day } = partsOf(date);
  const index = year * 12 + (month - 1) + months;
  const y = Math.floor(index / 12);
  const m = index - y * 12 + 1;
  return makeDate(y, m, Math.min(day, daysInMonth(y, m)));
}

/** The same date a year earlier; 29 Feb becomes 28 Feb (SEMANTICS §3). */
export const yearBack = (date: CivilDate): CivilDate => addMonths(date, -12);

export function weekdayOf(date: CivilDate): Weekday {
  return ((((toDayNumber(date) + 3) % 7) + 7) % 7) + 1;
}

export const monthStart = (date: CivilDate): CivilDate => `${date.slice(0, 7)}-01`;
export const monthEnd = (date: CivilDate): CivilDate => addDays(addMonths(monthStart(date), 1), -1);

/** Number of days in a range, both ends counted. */
export function lengthOf(range: Range): number {
  return toDayNumber(range.to) - toDayNumber(range.from) + 1;
}

/** Every day of the range, in order. */
export function daysOf(range: Range): CivilDate[] {
  const first = toDayNumber(range.from);
  return Array.from({ length: Math.max(0, lengthOf(range)) }, (_, i) => fromDayNumber(first + i));
}

export const minDate = (a: CivilDate, b: CivilDate): CivilDate => (a < b ? a : b);
export const maxDate = (a: CivilDate, b: CivilDate): CivilDate => (a > b ? a : b);
