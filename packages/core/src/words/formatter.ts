import { addMonths, type CivilDate, monthEnd, monthStart, partsOf, type Range } from '../calendar/index.ts';
import { type Change, isTold } from '../figures/index.ts';
import type { Agreement } from './agree.ts';
import { createNumbers, type Numbers } from './numbers.ts';
import { fill, wordsFor } from './registry.ts';
import { createValueNames } from './valueNames.ts';
import type { Words } from './words.ts';

const utc = (date: CivilDate): Date => new Date(`${date}T00:00:00Z`);

/** Figures and dates as text in one language and currency (SEMANTICS §9). Build once for a report: Intl is slow to start. */
export interface Formatter extends Numbers {
  locale: string;
  words: Words;
  /**
   * The change in one phrase: `+12.4%`, `−0.2 points`, the word for new, or for steady where numbers would contradict
   * the figures beside them. Null where none may be told.
   */
  change(change: Change, agreement?: Agreement): string | null;
  /** The word for percentage points after a number of them: French says `−0,2 point`, English `−0.2 points`. */
  pointsOf(points: number): string;
  /** A value of a dimension as the language calls it; the word for none where it is empty. */
  valueName(dimension: string, label: string): string;
  date(date: CivilDate): string;
  /** A weekday's short name, 1 for Monday to 7 (ISO 8601). */
  weekday(day: number): string;
  /** An hour of the day, from 0: `9:00`, `9:00 AM`. */
  hour(hour: number): string;
  /** `1 Oct` */
  shortDate(date: CivilDate): string;
  /** `Oct 2026` */
  shortMonth(date: CivilDate): string;
  /** `October 2026` for a whole month, `1–15 October 2026` otherwise. */
  range(range: Range): string;
  /** The same where room is short: `October 2026`, `26 Oct – 1 Nov`. */
  shortRange(range: Range): string;
  /** The range within running text: `October 2026`, `du 18 au 24 novembre 2026`. */
  running(range: Range): string;
  /** Always the dates: `1–31 October 2026`. */
  dates(range: Range): string;
}

/** Intl is slow with ranges of dates, and a report says the same ones over and over. */
function memo(make: (from: CivilDate, to: CivilDate) => string): (from: CivilDate, to: CivilDate) => string {
  const known = new Map<string, string>();
  return (from, to) => {
    const key = from + to;
    let text = known.get(key);
    if (text === undefined) {
      if (known.size > 2_000) known.clear();
      text = make(from, to);
      known.set(key, text);
    }
    return text;
  };
}

/** @throws RangeError for an unknown language or currency */
export function createFormatter(locale: string, currency: string): Formatter {
  const words = wordsFor(locale);
  const numbers = createNumbers(locale, currency);
  const day = (options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options });
  const long = day({ day: 'numeric', month: 'long', year: 'numeric' });
  const short = day({ day: 'numeric', month: 'short' });
  const month = day({ month: 'long', year: 'numeric' });
  const monthShort = day({ month: 'short', year: 'numeric' });
  const weekdayShort = day({ weekday: 'short' });
  const hourOnly = day({ hour: 'numeric', minute: '2-digit' });
  const dayOnly = day({ day: 'numeric' });
  const dayMonth = day({ day: 'numeric', month: 'long' });

  // As it is printed, with its decimal.
  const plural = new Intl.PluralRules(locale, { minimumFractionDigits: 1, maximumFractionDigits: 1 });
  const pointsOf = (n: number) => (plural.select(Math.abs(n)) === 'one' ? words.point : words.points);
  const dates = memo((from, to) => (from === to ? long.format(utc(from)) : long.formatRange(utc(from), utc(to))));
  const shortDate = memo((date) => short.format(utc(date)));
  const shortMonth = memo((date) => monthShort.format(utc(date)));
  const date = memo((day) => long.format(utc(day)));
  const range = memo((from, to) => unitName({ from, to }) ?? dates(from, to));
  const shortRange = memo(
    (from, to) =>
      unitName({ from, to }) ?? (from === to ? short.format(utc(from)) : short.formatRange(utc(from), utc(to))),
  );
  return {
    locale,
    words,
    ...numbers,
    change(change, agreement) {
      if (!isTold(change)) return null;
      if (agreement?.isTold === false) return words.steady;
      if (change.new) return change.verdict === 'steady' ? words.steady : words.fresh;
      if (change.points !== undefined)
        return `${numbers.signedDecimal(agreement?.points ?? change.points, agreement?.more)} ${pointsOf(agreement?.points ?? change.points)}`;
      return typeof change.rel === 'number' ? numbers.signedPercent(change.rel) : null;
    },
    pointsOf,
    valueName: createValueNames(locale, words),
    // 1 January 2024 was a Monday.
    weekday: (n) => weekdayShort.format(utc(`2024-01-0${n}`)),
    hour: (h) => hourOnly.format(new Date(Date.UTC(2024, 0, 1, h))),
    date: (day) => date(day, day),
    shortDate: (date) => shortDate(date, date),
    shortMonth: (date) => shortMonth(date, date),
    dates: (r) => dates(r.from, r.to),
    shortRange: (r) => shortRange(r.from, r.to),
    range: (r) => range(r.from, r.to),
    running: (r) => unitName(r) ?? between(r),
  };

  /** The two ends in words, the first without what it shares with the second. */
  function between({ from, to }: Range): string {
    if (from === to || words.between === null) return dates(from, to);
    const start = from.slice(0, 7) === to.slice(0, 7) ? dayOnly : from.slice(0, 4) === to.slice(0, 4) ? dayMonth : long;
    // German counts days with a full stop that Intl leaves out when the day stands alone.
    const first = start.format(utc(from));
    const dotted = start === dayOnly && /^\d+\./.test(long.format(utc(from))) ? `${first.replace('.', '')}.` : first;
    return words.between(dotted, long.format(utc(to)));
  }

  /** The name of a whole month, quarter or year; null for any other range. */
  function unitName(r: Range): string | null {
    const { year, month: m } = partsOf(r.from);
    if (r.from !== monthStart(r.from)) return null;
    if (r.to === monthEnd(r.from)) return month.format(utc(r.from));
    if (m === 1 && r.to === `${year}-12-31`) return String(year);
    const isQuarter = m % 3 === 1 && r.to === monthEnd(addMonths(r.from, 2));
    return isQuarter ? `${fill(words.quarter, { n: (m + 2) / 3 })} ${year}` : null;
  }
}
