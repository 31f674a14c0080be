import { addMonths, type CivilDate, monthEnd, monthStart, partsOf, type Range } from '../calendar/index.ts';
import type { Change, MetricUnit } from '../figures/index.ts';
import { fill, wordsFor } from './registry.ts';
import type { Words } from './words.ts';

const utc = (date: CivilDate): Date => new Date(`${date}T00:00:00Z`);
const MINUS = '\u2212';

/** Figures and dates as text in one language and currency (SEMANTICS §9). Build once for a report: Intl is slow to start. */
export interface Formatter {
  locale: string;
  words: Words;
  /** A figure as it stands large: counts compact from 7 digits, money without decimals from 1,000 up. */
  figure(value: number, unit: MetricUnit): string;
  /** The same in a table: never compact. */
  cell(value: number, unit: MetricUnit): string;
  /** The change in one phrase: `+12.4%`, `−0.2 points`, or the word for new. Null when there is nothing to say. */
  change(change: Change): string | null;
  /** A difference in its own unit, always signed: `+3,576`, `−£12.50`. */
  difference(value: number, unit: MetricUnit): string;
  date(date: CivilDate): string;
  /** `1 Oct` */
  shortDate(date: CivilDate): string;
  /** `October 2026` for a whole month, `1–15 October 2026` otherwise. */
  range(range: Range): string;
  /** The same where room is short: `October 2026`, `26 Oct – 1 Nov`. */
  shortRange(range: Range): string;
  /** Always the dates: `1–31 October 2026`. */
  dates(range: Range): string;
  axis(value: number, unit: MetricUnit): string;
}

function duration(seconds: number): string {
  const sign = seconds < 0 ? MINUS : '';
  const s = Math.round(Math.abs(seconds));
  const two = (n: number) => String(n).padStart(2, '0');
  const h = Math.floor(s / 3600);
  const m = Math.floor((s % 3600) / 60);
  return sign + (h > 0 ? `${h}:${two(m)}:${two(s % 60)}` : `${m}:${two(s % 60)}`);
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
  const number = (options: Intl.NumberFormatOptions) => {
    const format = new Intl.NumberFormat(locale, options);
    return (value: number) => format.format(value).replace('-', MINUS);
  };
  const count = number({ maximumFractionDigits: 0 });
  const compact = number({ notation: 'compact', maximumFractionDigits: 1 });
  const decimal = number({ minimumFractionDigits: 1, maximumFractionDigits: 1 });
  const percent = number({ style: 'percent', minimumFractionDigits: 1, maximumFractionDigits: 1 });
  const wholePercent = number({ style: 'percent', maximumFractionDigits: 1 });
  const money = number({ style: 'currency', currency });
  const wholeMoney = number({ style: 'currency', currency, maximumFractionDigits: 0, minimumFractionDigits: 0 });
  const signed = number({
    style: 'percent',
    minimumFractionDigits: 1,
    maximumFractionDigits: 1,
    signDisplay: 'exceptZero',
  });
  const signedPoints = number({ minimumFractionDigits: 1, maximumFractionDigits: 1, signDisplay: 'exceptZero' });
  const day = (options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options });
  const long = day({ day: 'numeric', month: 'long', year: 'numeric' });
  const short = day({ day: 'numeric', month: 'short' });
  const month = day({ month: 'long', year: 'numeric' });

  const plain = (value: number, unit: MetricUnit): string => {
    switch (unit) {
      case 'count':
        return count(value);
      case 'money':
        return money(value);
      case 'percent':
        return percent(value);
      case 'duration':
        return duration(value);
      case 'decimal':
        return decimal(value);
    }
  };
  const dates = memo((from, to) => (from === to ? long.format(utc(from)) : long.formatRange(utc(from), utc(to))));
  const shortDate = memo((date) => short.format(utc(date)));
  return {
    locale,
    words,
    cell: plain,
    figure(value, unit) {
      if (unit === 'count' && Math.abs(value) >= 999_999.5) return compact(value);
      if (unit === 'money' && Math.abs(value) >= 1_000) return wholeMoney(value);
      return plain(value, unit);
    },
    axis(value, unit) {
      if (unit === 'count') return Math.abs(value) >= 1e6 ? compact(value) : count(value);
      if (unit === 'money') return wholeMoney(value);
      if (unit === 'percent') return wholePercent(value);
      return plain(value, unit);
    },
    change(change) {
      if (change.new) return words.fresh;
      if (change.points !== undefined) return `${signedPoints(change.points)} ${words.points}`;
      return typeof change.rel === 'number' ? signed(change.rel) : null;
    },
    difference(value, unit) {
      const sign = value > 0 ? '+' : value < 0 ? MINUS : '';
      const size = Math.abs(value);
      return sign + (unit === 'money' && size >= 1_000 ? wholeMoney(size) : plain(size, unit));
    },
    date: (date) => long.format(utc(date)),
    shortDate: (date) => shortDate(date, date),
    dates: (r) => dates(r.from, r.to),
    shortRange: (r) =>
      unitName(r) ?? (r.from === r.to ? short.format(utc(r.from)) : short.formatRange(utc(r.from), utc(r.to))),
    range: (r) => unitName(r) ?? dates(r.from, r.to),
  };

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
