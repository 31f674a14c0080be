import { type CivilDate, fromDayNumber, toDayNumber } from '../../calendar/index.ts';
import { type Cell, isBlank, textOf } from './cell.ts';
import { isCurrency, otherCurrency } from './currencies.ts';
import { readDate } from './dates.ts';
import { type FileMapping, rateOn, shapeOf } from './mapping.ts';
import { readNumber } from './numbers.ts';
import { DATE_STYLE_LABELS, NUMBER_STYLE_LABELS } from './styles.ts';
import { isTotalLabel, mayBeAll } from './totals.ts';

export interface RowRules {
  /** The last day that a row may be of. */
  today: CivilDate;
  zone: string;
  /** Whether a measure counts something, so that it cannot be below zero. */
  counts: (measure: string) => boolean;
  /** The client's currency: money of another one is not taken, unless there is a rate for its day. */
  currency: string;
  /** Whether a measure is money; none is when left out. */
  isMoney?: (measure: string) => boolean;
  /** For a measure that holds rates, the one that says how much each counts. */
  weightOf?: (measure: string) => string | null;
}

export interface RowReader {
  dimensions: readonly string[];
  measures: readonly string[];
  /** What the last good row said: day number, labels and numbers, overwritten by the next. */
  readonly day: number;
  readonly labels: string[];
  readonly values: Float64Array;
  /** The day number of the last row read, good or not; null where its date cannot be read. */
  readonly dayRead: number | null;
  /** Whether the last row, which is not good, is left out: a total, or what a person chose. Its day is known without it. */
  readonly leftOut: boolean;
  /** Whether nothing but its lack of a date keeps the last row from being good: its figures are read. */
  readonly onlyUndated: boolean;
  /** Whether the last row has nothing to be known by but its date, or says that it is of all others. */
  readonly unlabelled: boolean;
  /**
   * Reads a row into the fields above; null when it is good, else why it is not.
   * @param currencies by their place, the currencies in which a workbook writes the cells
   */
  read(cells: readonly Cell[], currencies?: Readonly<Record<number, string>>): string | null;
}

const quoted = (cell: Cell | undefined): string => `“${textOf(cell).slice(0, 40)}”`;

/** Reads rows of a file by a mapping that {@link mappingFault} found no fault with. */
export function rowReader(names: readonly string[], mapping: FileMapping, rules: RowRules): RowReader {
  const { dimensions, measures } = shapeOf(mapping);
  const at = (want: (name: string) => boolean) => names.findIndex(want);
  const use = (name: string) => (Object.hasOwn(mapping.columns, name) ? mapping.columns[name]! : null);
  const columnOf = (as: string, key: string) =>
    at((n) => {
      const u = use(n);
      return u !== null && u.as === as && 'key' in u && u.key === key;
    });
  const dateAt = at((n) => use(n)?.as === 'date');
  const currencyAt = at((n) => use(n)?.as === 'currency');
  const dimsAt = dimensions.map((key) => columnOf('dimension', key));
  const valuesAt = measures.map((key) => columnOf('measure', key));
  const scales = valuesAt.map((i) => {
    const u = i < 0 ? null : use(names[i]!);
    return u?.as === 'measure' ? (u.scale ?? 0) : 0;
  });
  /** The currency that each measure's heading names, of those that are converted from it. */
  const headed = valuesAt.map((i) => {
    const u = i < 0 ? null : use(names[i]!);
    return u?.as === 'measure' ? (u.currency ?? null) : null;
  });
  /** Whether a person says that its money is the client's, whatever its heading or its format says. */
  const isOwn = valuesAt.map((i) => i >= 0 && mapping.ownMoney?.includes(names[i]!) === true);
  const isMoney = measures.map((m) => rules.isMoney?.(m) ?? false);
  const ownCurrency = mapping.onlyCurrency ?? rules.currency;
  /** Where a row may call itself a total. */
  const labelled = [dateAt, ...dimsAt];
  const counts = measures.map(rules.counts);
  const last = toDayNumber(rules.today);
  const days = new Map<Cell, number | null>();
  const labels = dimensions.map(() => '');
  const values = new Float64Array(measures.length);
  const dayOf = (cell: Cell): number | null => {
    const known = days.get(cell);
    if (known !== undefined) return known;
    const date = readDate(cell, mapping.dates, rules.zone);
    const day = date === null ? null : toDayNumber(date);
    if (days.size < 20_000) days.set(cell, day);
    return day;
  };
  const weightsAt = measures.map((m) => {
    const weight = rules.weightOf?.(m) ?? null;
    return weight === null ? -1 : measures.indexOf(weight);
  });
  const reader = {
    dimensions,
    measures,
    day: 0,
    dayRead: null as number | null,
    leftOut: false,
    onlyUndated: false,
    unlabelled: false,
    labels,
    values,
    read(cells: readonly Cell[], currencies?: Readonly<Record<number, string>>): string | null {
      reader.dayRead = isBlank(cells[dateAt]) ? null : dayOf(cells[dateAt]!);
      reader.leftOut = false;
      reader.onlyUndated = false;
      reader.unlabelled = false;
      if (mapping.totals !== 'rows') {
        const label = labelled.find((i) => isTotalLabel(cells[i]));
        if (label !== undefined) {
          reader.leftOut = true;
          return `is a total, by its label ${quoted(cells[label])}`;
        }
      }
      if (cells.length !== names.length) {
        return `has ${cells.length} cells; the heading has ${names.length}`;
      }
      const dateCell = cells[dateAt]!;
      const day = reader.dayRead;
      const fault = readFigures(cells, currencies);
      if (day === null) {
        reader.onlyUndated = fault === null && isBlank(dateCell);
        return isBlank(dateCell)
          ? 'has no date'
          : `${quoted(dateCell)} is not a date like “${DATE_STYLE_LABELS[mapping.dates]}”`;
      }
      if (day > last) return `${quoted(dateCell)} is in the future`;
      if (fault !== null) return fault;
      for (let i = 0; i < dimsAt.length; i++) {
        const cell = cells[dimsAt[i]!];
        labels[i] = typeof cell === 'string' ? (cell.length > 300 ? cell.slice(0, 300) : cell).trim() : textOf(cell);
      }
      reader.unlabelled = labels.length > 0 && labels.every(mayBeAll);
      reader.day = day;
      return null;
    },
  };
  /** Reads the figures of a row; why they cannot be read, or null. */
  function readFigures(cells: readonly Cell[], currencies?: Readonly<Record<number, string>>): string | null {
    let ofRow = ownCurrency;
    if (currencyAt >= 0) {
      const named = textOf(cells[currencyAt]).toUpperCase();
      if (named === '') return `has no currency in “${names[currencyAt]}”`;
      if (!isCurrency(named, ownCurrency)) {
        if (mapping.otherCurrency !== 'converted') {
          const hasFeed = mapping.otherCurrency === 'split' && mapping.splitInto?.includes(named);
          reader.leftOut = mapping.otherCurrency === 'left-out' || hasFeed || mapping.onlyCurrency !== undefined;
          return `is in ${quoted(cells[currencyAt])}, not in ${ownCurrency}`;
        }
        ofRow = named;
      }
    }
    let blank = 0;
    for (let i = 0; i < valuesAt.length; i++) {
      const cell = cells[valuesAt[i]!]!;
      if (cell === null || cell === '' || isBlank(cell)) {
        blank++;
        values[i] = 0;
        continue;
      }
      const value = readNumber(cell, mapping.numbers);
      if (value === null) {
        return `${quoted(cell)} in “${names[valuesAt[i]!]}” is not a number like “${NUMBER_STYLE_LABELS[mapping.numbers]}”`;
      }
      const currency = headed[i] ?? ofRow;
      const format = currencies?.[valuesAt[i]!];
      const isForeign = format !== undefined && !isOwn[i] && !isCurrency(format, currency);
      const other = isForeign ? format : otherCurrency(cell, currency);
      if (other !== null) return `${quoted(cell)} in “${names[valuesAt[i]!]}” is in ${other}, not in ${currency}`;
      if (value < 0 && counts[i]) return `${quoted(cell)} in “${names[valuesAt[i]!]}” is a count below zero`;
      const scale = scales[i]!;
      // Divided, a millionth is as near as it can be.
      values[i] = scale < 0 ? value / 10 ** -scale : value * 10 ** scale;
      if (currency === ownCurrency || !isMoney[i]) continue;
      // Without a day the row is not taken, whatever its rate.
      const day = reader.dayRead === null ? null : fromDayNumber(reader.dayRead);
      const rate = day === null ? 1 : rateOn(mapping, currency, day);
      if (rate === null) return `is in ${currency}, for which no rate is given on ${day}`;
      values[i]! *= rate;
    }
    if (blank === valuesAt.length) return 'has no data';
    // A rate that is not there is not 0, unless it counts for nothing.
    for (let i = 0; i < weightsAt.length; i++) {
      if (weightsAt[i]! < 0 || !isBlank(cells[valuesAt[i]!]) || values[weightsAt[i]!] === 0) continue;
      return `has no rate in “${names[valuesAt[i]!]}”`;
    }
    return null;
  }
  return reader;
}
