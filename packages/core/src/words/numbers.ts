import type { MetricUnit } from '../figures/index.ts';

export const MINUS = '\u2212';

/** Texts of numbers that are kept for each way of writing: a page says the same one when it is measured, set and drawn. */
const KEPT = 1_000;

/** A column's way of writing, and what a value is once it is written so. */
export interface Column {
  say(value: number): string;
  rounded(value: number): number;
}

/** Numbers as text in one language and currency (SEMANTICS §9); all that needs no words. */
export interface Numbers {
  /**
   * A figure as it stands large: counts compact from 7 digits, money without decimals from 1,000 up.
   * @param more decimals beyond those that figures of this unit have: 0, 1 or 2
   */
  figure(value: number, unit: MetricUnit, more?: number): string;
  /** The same without its currency, where the currency stands beside it. */
  bareFigure(value: number, unit: MetricUnit, more?: number): string;
  /** As short as it may be told: compact from 1,000 up, without its currency. */
  shortFigure(value: number, unit: MetricUnit): string;
  /** What the currency is called beside a figure: `£`, `DKK`. */
  currencySign: string;
  /** The same in a table: never compact. */
  cell(value: number, unit: MetricUnit): string;
  /** A difference in its own unit, always signed: `+3,576`, `−£12.50`. */
  difference(value: number, unit: MetricUnit): string;
  /** How a column of figures is written: all of it with the same decimals (SEMANTICS §9). */
  column(values: readonly number[], unit: MetricUnit): Column;
  /** The same of differences, each with its sign; of rates in points, so finely that not all of them read as zero. */
  differences(values: readonly number[], unit: MetricUnit): Column;
  /** A label of an axis, with as many decimals as its step needs. */
  axis(value: number, unit: MetricUnit, step: number): string;
  /** A fraction with one decimal, and without: `12.4%`, `71%`. */
  percent(value: number): string;
  wholePercent(value: number): string;
  /** A share of days that lacks some: rounded down, so that it never reads as all of them, nor as none. */
  coveredShare(share: number): string;
  /** `+12.4%` */
  signedPercent(value: number): string;
  decimal(value: number): string;
  /** @param more decimals beyond the one */
  signedDecimal(value: number, more?: number): string;
}

/** `fraction` writes what is left of a second: with its sign for decimals, in the language of the page. */
function duration(seconds: number, more: number, fraction: (rest: number) => string): string {
  const sign = seconds < 0 ? MINUS : '';
  const exact = Math.round(Math.abs(seconds) * 10 ** more) / 10 ** more;
  const s = Math.floor(exact);
  const two = (n: number) => String(n).padStart(2, '0');
  const h = Math.floor(s / 3600);
  const m = Math.floor((s % 3600) / 60);
  const rest = more === 0 ? '' : fraction(exact - s).slice(1);
  return sign + (h > 0 ? `${h}:${two(m)}:${two(s % 60)}` : `${m}:${two(s % 60)}`) + rest;
}

/**
 * A size with the sign of `value` before it. Where the size begins with a mark of its direction, the sign stands behind that
 * mark and is held to the digits (UAX 9), as Intl writes it.
 */
function withSign(value: number, size: string): string {
  const sign = value > 0 ? '+' : value < 0 ? MINUS : '';
  if (sign === '' || !size.startsWith('\u200f')) return sign + size;
  return `\u200f\u200e${sign}${size.slice(1)}`;
}

/** Decimals that tell one step of an axis from the next. */
const digitsOfStep = (step: number): number =>
  step > 0 && Number.isFinite(step) ? Math.min(6, Math.max(0, Math.ceil(-Math.log10(step) - 1e-9))) : 0;

const roundTo = (value: number, digits: number): number => Math.round(value * 10 ** digits) / 10 ** digits;

/** Decimals of a currency's own: 2 of most, none of some. */
const digitsOf = (locale: string, currency: string): number =>
  new Intl.NumberFormat(locale, { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;

/** @throws RangeError for an unknown language or currency */
export function createNumbers(locale: string, currency: string): Numbers {
  const number = (options: Intl.NumberFormatOptions) => {
    // One rule of grouping, whatever stands beside it: some languages group from five digits on only.
    const format = new Intl.NumberFormat(locale, { useGrouping: 'always', ...options });
    const said = new Map<number, string>();
    return (value: number) => {
      // A map takes 0 and -0 for one.
      if (value === 0) return format.format(value).replace('-', MINUS);
      const before = said.get(value);
      if (before !== undefined) return before;
      const text = format.format(value).replace('-', MINUS);
      if (said.size >= KEPT) said.clear();
      said.set(value, text);
      return text;
    };
  };
  // Intl is slow to start, and further decimals are seldom wanted.
  const kept = new Map<string, (value: number) => string>();
  const exactly = (digits: number, options: Intl.NumberFormatOptions = {}) => {
    const key = `${digits} ${options.style} ${options.notation} ${options.signDisplay}`;
    const found = kept.get(key) ?? number({ ...options, minimumFractionDigits: digits, maximumFractionDigits: digits });
    kept.set(key, found);
    return found;
  };
  const moneyDigits = digitsOf(locale, currency);
  const one = { minimumFractionDigits: 1, maximumFractionDigits: 1 };
  const count = number({ maximumFractionDigits: 0 });
  const compact = number({ notation: 'compact', maximumFractionDigits: 1 });
  const decimal = number(one);
  const percent = number({ style: 'percent', ...one });
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
        return duration(value, 0, String);
      case 'decimal':
      case 'position':
        return decimal(value);
    }
  };
  /** A figure with `more` decimals than is usual for it. */
  const finer = (value: number, unit: MetricUnit, more: number): string => {
    switch (unit) {
      case 'count':
        return Math.abs(value) >= 999_999.5
          ? exactly(1 + more, { notation: 'compact' })(value)
          : exactly(Number.isInteger(value) ? 0 : more)(value);
      case 'money':
        return exactly((Math.abs(value) >= 1_000 ? 0 : moneyDigits) + more, {
          style: 'currency',
          currency,
        })(value);
      case 'percent':
        return exactly(1 + more, { style: 'percent' })(value);
      case 'duration':
        return duration(value, more, exactly(more));
      case 'decimal':
      case 'position':
        return exactly(1 + more)(value);
    }
  };
  const digitsOfColumn = (values: readonly number[], unit: MetricUnit): number => {
    if (unit === 'money') return values.some((v) => Math.abs(v) >= 1_000) ? 0 : moneyDigits;
    return unit === 'percent' ? 3 : unit === 'decimal' || unit === 'position' ? 1 : 0;
  };
  const wholePercent = number({ style: 'percent', maximumFractionDigits: 0 });
  const sign = new Intl.NumberFormat(locale, { style: 'currency', currency })
    .formatToParts(0)
    .find((p) => p.type === 'currency')!.value;
  return {
    cell: plain,
    percent,
    decimal,
    wholePercent,
    coveredShare: (share) => wholePercent(Math.max(0.01, Math.floor(share * 100 + 1e-9) / 100)),
    signedPercent: number({ style: 'percent', ...one, signDisplay: 'exceptZero' }),
    signedDecimal: (value, more = 0) => exactly(1 + more, { signDisplay: 'exceptZero' })(value),
    currencySign: sign,
    bareFigure(value, unit, more = 0) {
      if (unit !== 'money') return this.figure(value, unit, more);
      return exactly((Math.abs(value) >= 1_000 ? 0 : moneyDigits) + more)(value);
    },
    shortFigure(value, unit) {
      const isLong = unit !== 'percent' && unit !== 'duration' && Math.abs(value) >= 999.5;
      return isLong ? compact(value) : this.bareFigure(value, unit);
    },
    figure(value, unit, more = 0) {
      if (more > 0) return finer(value, unit, more);
      if (unit === 'count' && Math.abs(value) >= 999_999.5) return compact(value);
      if (unit === 'money' && Math.abs(value) >= 1_000) return wholeMoney(value);
      return plain(value, unit);
    },
    column(values, unit) {
      const digits = digitsOfColumn(values, unit);
      const money = exactly(digits, { style: 'currency', currency });
      return { say: unit === 'money' ? money : (v) => plain(v, unit), rounded: (v) => roundTo(v, digits) };
    },
    differences(values, unit) {
      if (unit === 'percent') {
        const isNothing = (more: number) => values.every((v) => roundTo(v * 100, 1 + more) === 0);
        const isMoved = values.some((v) => v !== 0);
        const more = isMoved ? ([0, 1, 2].find((m) => !isNothing(m)) ?? 2) : 0;
        const say = exactly(1 + more, { signDisplay: 'exceptZero' });
        return { say: (v) => say(v * 100), rounded: (v) => roundTo(v * 100, 1 + more) };
      }
      const { say, rounded } = this.column(values, unit);
      return { say: (v) => withSign(rounded(v), say(Math.abs(v))), rounded };
    },
    axis(value, unit, step) {
      switch (unit) {
        case 'count': {
          if (Math.abs(value) < 1e6) return count(value);
          return exactly(digitsOfStep(step / 1_000 ** Math.floor(Math.log10(Math.abs(value)) / 3)), {
            notation: 'compact',
          })(value);
        }
        case 'money':
          return exactly(digitsOfStep(step), { style: 'currency', currency })(value);
        case 'percent':
          return exactly(digitsOfStep(step * 100), { style: 'percent' })(value);
        case 'decimal':
        case 'position':
          return exactly(Math.max(1, digitsOfStep(step)))(value);
        case 'duration':
          return plain(value, unit);
      }
    },
    difference(value, unit) {
      const size = Math.abs(value);
      return withSign(value, unit === 'money' && size >= 1_000 ? wholeMoney(size) : plain(size, unit));
    },
  };
}
