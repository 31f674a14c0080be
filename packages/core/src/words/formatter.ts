import type { Range } from '../calendar/index.ts';
import { type Change, isTold } from '../figures/index.ts';
import type { Agreement } from './agree.ts';
import { createDates, type Dates } from './dates.ts';
import { createNumbers, type Numbers } from './numbers.ts';
import type { PeriodWords } from './periodWords.ts';
import { wordsFor } from './registry.ts';
import { type Forms, fill, type Given } from './said.ts';
import { createValueNames } from './valueNames.ts';
import type { Words } from './words.ts';

/** Figures and dates as text in one language and currency (SEMANTICS §9). Build once for a report: Intl is slow to start. */
export interface Formatter extends Numbers, Omit<Dates, 'parts'> {
  locale: string;
  words: Words;
  /**
   * The change in one phrase: `+12.4%`, `−0.2 pp`, `2.3 places better`, the word for new, or for steady where numbers would
   * contradict the figures beside them. Null where none may be told.
   */
  change(change: Change, agreement?: Agreement): string | null;
  /** Percentage points with their word: `value` decides the form, `number` is how it is written. */
  points(value: number, number: string, as: 'cell' | 'sentence'): string;
  /** How many places, whichever way: `2.3 places`. */
  places(value: number): string;
  /** A text in the form that goes with a number: `1 day`, `2 days`. */
  count(forms: Forms, count: number, given?: Given): string;
  /** Several as one: `Paid search and Direct`. */
  list(items: readonly string[]): string;
  /** A value of a dimension as the language calls it; the word for none where it is empty. */
  valueName(dimension: string, label: string): string;
  /** What a range is called, and how sentences take it. */
  period(range: Range): PeriodWords;
}

/** @throws RangeError for an unknown language or currency */
export function createFormatter(locale: string, currency: string): Formatter {
  const words = wordsFor(locale);
  const numbers = createNumbers(locale, currency);
  const { parts, ...dates } = createDates(locale, words);
  const plural = new Intl.PluralRules(locale);
  // As it is printed, with its decimal.
  const pluralOfDecimal = new Intl.PluralRules(locale, { minimumFractionDigits: 1, maximumFractionDigits: 1 });
  const lists = new Intl.ListFormat(locale, { type: 'conjunction' });
  const points = (value: number, number: string, as: 'cell' | 'sentence') => {
    const forms = words.points[as];
    return fill(forms[pluralOfDecimal.select(Math.abs(value))] ?? forms.other, { number });
  };
  const places = (value: number) => {
    const size = Math.abs(value);
    return fill(words.places[pluralOfDecimal.select(size)] ?? words.places.other, { number: numbers.decimal(size) });
  };
  return {
    locale,
    words,
    ...numbers,
    ...dates,
    points,
    places,
    change(change, agreement) {
      if (!isTold(change)) return null;
      if (agreement?.isTold === false) return words.steady;
      if (change.new) return change.verdict === 'steady' ? words.steady : words.fresh;
      if (change.places !== undefined) {
        if (change.verdict === 'steady') return words.steady;
        const moved = change.places > 0 ? words.placesWorse : words.placesBetter;
        return fill(moved, { places: places(change.places) });
      }
      const inPoints = agreement?.points ?? change.points;
      if (inPoints !== undefined) return points(inPoints, numbers.signedDecimal(inPoints, agreement?.more), 'cell');
      return typeof change.rel === 'number' ? numbers.signedPercent(change.rel) : null;
    },
    count: (forms, count, given = {}) =>
      fill(forms[plural.select(count)] ?? forms.other, { ...given, count: numbers.cell(count, 'count') }),
    list: (items) => lists.format(items),
    valueName: createValueNames(locale, words),
    period: (range) => words.period(parts(range)),
  };
}
