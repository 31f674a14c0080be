import { addMonths, type CivilDate, monthEnd, monthStart, partsOf, type Range } from '../calendar/index.ts';
import type { PeriodParts } from './periodWords.ts';
import type { Words } from './words.ts';

const utc = (date: CivilDate): Date => new Date(`${date}T00:00:00Z`);

/** Dates as text in one language. Build once: Intl is slow to start. */
export interface Dates {
  /** `19 October 2026` */
  date(date: CivilDate): string;
  /** `19 October` */
  dayMonth(date: CivilDate): string;
  /** `19 Oct` */
  shortDate(date: CivilDate): string;
  /** `Oct 2026` */
  shortMonth(date: CivilDate): string;
  /** `October 2026` for a whole month, `1–15 October 2026` otherwise. */
  range(range: Range): string;
  /** The same where room is short, without a year: `October 2026`, `26 Oct – 1 Nov`. */
  shortRange(range: Range): string;
  /** Always the dates: `1–31 October 2026`. */
  dates(range: Range): string;
  /** A weekday's short name, 1 for Monday to 7 (ISO 8601). */
  weekday(day: number): string;
  /** An hour of the day, from 0: `9:00`, `9:00 AM`. */
  hour(hour: number): string;
  /** What a range is, and its name. */
  parts(range: Range): PeriodParts;
}

/** Intl is slow with dates, and a report says the same ones over and over. */
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

/** What a range is by the calendar: a whole month, quarter or year counts as that. */
function kindOf({ from, to }: Range): PeriodParts['kind'] {
  const { year, month } = partsOf(from);
  if (from === to) return 'day';
  if (from !== monthStart(from)) return 'days';
  if (to === monthEnd(from)) return 'month';
  if (month === 1 && to === `${year}-12-31`) return 'year';
  return month % 3 === 1 && to === monthEnd(addMonths(from, 2)) ? 'quarter' : 'days';
}

/** A dash between numbers stands close; between days with their months it has room. */
const closed = (text: string): string => text.replace(/(\d\.?)[\s\u2009]*–[\s\u2009]*(?=\d)/, '$1–');

/** @throws RangeError for an unknown language */
export function createDates(locale: string, { dates: rules }: Pick<Words, 'dates'>): Dates {
  const day = (options: Intl.DateTimeFormatOptions) => {
    const format = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options });
    const finish = rules.day ?? ((text: string) => text);
    return {
      format: (date: CivilDate) => finish(format.format(utc(date))),
      between: (from: CivilDate, to: CivilDate) => closed(format.formatRange(utc(from), utc(to))),
    };
  };
  const long = day({ day: 'numeric', month: 'long', year: 'numeric' });
  const short = day({ day: 'numeric', month: 'short' });
  const longDay = day({ day: 'numeric', month: 'long' });
  const dayOnly = day({ day: 'numeric' });
  const month = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', month: 'long', year: 'numeric' });
  const monthShort = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', month: 'short', year: 'numeric' });
  const weekdayShort = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', weekday: 'short' });
  const hourOnly = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', hour: 'numeric', minute: '2-digit' });
  // Intl puts a nought before the day in ranges of some languages, never before one alone.
  const noNought = (text: string) => text.replace(/(^|[^\d])0(?=\d(?:\D|$))/g, '$1');

  const dates = memo((from, to) => {
    if (from === to) return long.format(from);
    if (from.slice(0, 7) === to.slice(0, 7)) {
      if (!rules.between) return noNought(long.between(from, to));
      return rules.between(dayOnly.format(from), long.format(to));
    }
    const first = (from.slice(0, 4) === to.slice(0, 4) ? longDay : long).format(from);
    return rules.between ? rules.between(first, long.format(to)) : `${first} – ${long.format(to)}`;
  });
  const name = memo((from, to) => {
    const kind = kindOf({ from, to });
    const { year, month: m } = partsOf(from);
    if (kind === 'month') return month.format(utc(from));
    if (kind === 'quarter') return rules.quarter(quarterOf(m), year);
    return kind === 'year' ? (rules.year?.(year) ?? String(year)) : '';
  });
  const shortRange = memo((from, to) => {
    if (from === to) return short.format(from);
    if (from.slice(0, 7) === to.slice(0, 7)) return noNought(short.between(from, to));
    return `${short.format(from)} – ${short.format(to)}`;
  });
  const single = (format: { format(date: CivilDate): string }) => {
    const known = memo((date) => format.format(date));
    return (date: CivilDate) => known(date, date);
  };
  const range = (r: Range) => name(r.from, r.to) || dates(r.from, r.to);
  return {
    date: single(long),
    dayMonth: single(longDay),
    shortDate: single(short),
    shortMonth: single({ format: (date) => monthShort.format(utc(date)) }),
    range,
    shortRange: (r) => name(r.from, r.to) || shortRange(r.from, r.to),
    dates: (r) => dates(r.from, r.to),
    // 1 January 2024 was a Monday.
    weekday: (n) => weekdayShort.format(utc(`2024-01-0${n}`)),
    hour: (h) => hourOnly.format(new Date(Date.UTC(2024, 0, 1, h))),
    parts(r) {
      const { year, month: m } = partsOf(r.from);
      return {
        kind: kindOf(r),
        from: r.from,
        to: r.to,
        day: Number(r.from.slice(8)),
        month: m,
        quarter: quarterOf(m),
        year,
        title: range(r),
      };
    },
  };
}

const quarterOf = (month: number) => Math.ceil(month / 3) as PeriodParts['quarter'];
