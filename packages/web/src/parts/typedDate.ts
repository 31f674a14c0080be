const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** A month from 1 on by its English name or the beginning of it, three letters at least; null for another word. */
function monthNamed(word: string): number | null {
  const at = MONTHS.indexOf(word.toLowerCase().slice(0, 3));
  return at < 0 ? null : at + 1;
}

function dateOf(year: number, month: number, day: number): string | null {
  const date = new Date(Date.UTC(year, month - 1, day));
  const isReal = date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
  return isReal && year >= 1000 ? date.toISOString().slice(0, 10) : null;
}

/** Whether people of a language write the month before the day in figures, as in 11/20/2026. */
export function writesMonthFirst(language: string): boolean {
  const parts = new Intl.DateTimeFormat(language).formatToParts(new Date(0)).map((p) => p.type);
  return parts.indexOf('month') < parts.indexOf('day') && parts.indexOf('year') > parts.indexOf('day');
}

/**
 * A date as people type it, as `YYYY-MM-DD`; null where it is none, or not whole yet. Years have four digits.
 *
 * @param monthFirst how figures alone are read: 11/10/2026 is 10 November where it is set, and 11 October otherwise
 * @example readDate('20 Nov 2026', false) // '2026-11-20', as are 'Nov 20, 2026', '2026-11-20' and '20.11.2026'
 */
export function readDate(text: string, monthFirst: boolean): string | null {
  const parts = text.trim().split(/[\s,./-]+/);
  // A weekday before it says nothing new.
  if (parts.length === 4 && /^\p{L}+$/u.test(parts[0]!)) parts.shift();
  if (parts.length !== 3) return null;
  const [a, b, c] = parts as [string, string, string];
  const isDay = (s: string) => /^\d{1,2}(st|nd|rd|th)?$/.test(s);
  const isYear = (s: string) => /^\d{4}$/.test(s);
  const number = (s: string) => Number.parseInt(s, 10);
  if (isYear(a) && isDay(c)) {
    const month = isDay(b) ? number(b) : monthNamed(b);
    return month === null ? null : dateOf(number(a), month, number(c));
  }
  if (!isYear(c)) return null;
  if (isDay(a) && isDay(b)) {
    return monthFirst ? dateOf(number(c), number(a), number(b)) : dateOf(number(c), number(b), number(a));
  }
  const [day, month] = isDay(a) ? [a, monthNamed(b)] : [b, monthNamed(a)];
  return isDay(day) && month !== null ? dateOf(number(c), month, number(day)) : null;
}

/**
 * A month as people type it, as `YYYY-MM`; null where it is none.
 *
 * @example readMonth('Nov 2026') // '2026-11', as are '11/2026' and '2026-11'
 */
export function readMonth(text: string): string | null {
  const parts = text.trim().split(/[\s,./-]+/);
  if (parts.length !== 2) return null;
  const year = parts.find((p) => /^\d{4}$/.test(p));
  const other = parts.find((p) => p !== year);
  if (year === undefined || other === undefined) return null;
  const month = /^\d{1,2}$/.test(other) ? Number(other) : monthNamed(other);
  return month === null ? null : (dateOf(Number(year), month, 1)?.slice(0, 7) ?? null);
}
