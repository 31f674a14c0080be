import type { MetricUnit } from '../figures/index.ts';

export const MINUS = '\u2212';

/** Numbers as text in one language and currency (SEMANTICS §9); all that needs no words. */
export interface Numbers {
  /** A figure as it stands large: counts compact from 7 digits, money without decimals from 1,000 up. */
  figure(value: number, unit: MetricUnit): string;
  /** The same in a table: never compact. */
  cell(value: number, unit: MetricUnit): string;
  /** A difference in its own unit, always signed: `+3,576`, `−£12.50`. */
  difference(value: number, unit: MetricUnit): string;
  axis(value: number, unit: MetricUnit): string;
  /** A fraction with one decimal, and without: `12.4%`, `71%`. */
  percent(value: number): string;
  wholePercent(value: number): string;
  /** A share of days that lacks some: rounded down, so that it never reads as all of them, nor as none. */
  coveredShare(share: number): string;
  /** `+12.4%` */
  signedPercent(value: number): string;
  decimal(value: number): string;
  signedDecimal(value: number): string;
}

function duration(seconds: number): string {
  const sign = seconds < 0 ? MINUS : '';
  const s = Math.round(Math.abs(seconds));
  const two = (n: number) => String(n).padStart(2, '0');
  const h = Math.floor(s / 3600);
  const m = Math.floor((s % 3600) / 60);
  return sign + (h > 0 ? `${h}:${two(m)}:${two(s % 60)}` : `${m}:${two(s % 60)}`);
}

/** @throws RangeError for an unknown language or currency */
export function createNumbers(locale: string, currency: string): Numbers {
  const number = (options: Intl.NumberFormatOptions) => {
    const format = new Intl.NumberFormat(locale, options);
    return (value: number) => format.format(value).replace('-', MINUS);
  };
  const one = { minimumFractionDigits: 1, maximumFractionDigits: 1 };
  const count = number({ maximumFractionDigits: 0 });
  const compact = number({ notation: 'compact', maximumFractionDigits: 1 });
  const decimal = number(one);
  const percent = number({ style: 'percent', ...one });
  const axisPercent = number({ style: 'percent', maximumFractionDigits: 1 });
  const money = number({ style: 'currency', currency });
  const wholeMoney = number({ style: 'currency', currency, maximumFractionDigits: 0, minimumFractionDigits: 0 });
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
  const wholePercent = number({ style: 'percent', maximumFractionDigits: 0 });
  return {
    cell: plain,
    percent,
    decimal,
    wholePercent,
    coveredShare: (share) => wholePercent(Math.max(0.01, Math.floor(share * 100 + 1e-9) / 100)),
    signedPercent: number({ style: 'percent', ...one, signDisplay: 'exceptZero' }),
    signedDecimal: number({ ...one, signDisplay: 'exceptZero' }),
    figure(value, unit) {
      if (unit === 'count' && Math.abs(value) >= 999_999.5) return compact(value);
      if (unit === 'money' && Math.abs(value) >= 1_000) return wholeMoney(value);
      return plain(value, unit);
    },
    axis(value, unit) {
      if (unit === 'count') return Math.abs(value) >= 1e6 ? compact(value) : count(value);
      if (unit === 'money') return wholeMoney(value);
      if (unit === 'percent') return axisPercent(value);
      return plain(value, unit);
    },
    difference(value, unit) {
      const sign = value > 0 ? '+' : value < 0 ? MINUS : '';
      const size = Math.abs(value);
      return sign + (unit === 'money' && size >= 1_000 ? wholeMoney(size) : plain(size, unit));
    },
  };
}
