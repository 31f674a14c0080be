import type { CivilDate } from '../calendar/index.ts';

/** What a range of dates is: a whole month, quarter or year has a name of its own. */
export interface PeriodParts {
  kind: 'day' | 'days' | 'month' | 'quarter' | 'year';
  from: CivilDate;
  to: CivilDate;
  /** Day of the month on which it begins, from 1. */
  day: number;
  /** The month in which it begins, from 1. */
  month: number;
  quarter: 1 | 2 | 3 | 4;
  year: number;
  /** As it stands in a heading: `24–30 November 2026`, `Q4 2026`. */
  title: string;
}

/**
 * The three forms of what a figure is compared with. Each brings its own preposition and case, so that no sentence has to put
 * one before it.
 */
export interface PeriodWords {
  /** Alone, in headings, subjects and file names: `4. Quartal 2026`. */
  title: string;
  /** After a change: `gegenüber dem 4. Quartal 2026`. */
  against: string;
  /** Of what happened in it: `im 4. Quartal 2026`. */
  during: string;
}

/** How a language finishes the dates that Intl writes. */
export interface DateRules {
  /** A day with or without its month and year, as Intl has it: French says `1er novembre`. */
  day?(text: string): string;
  /** A range in headings from its two ends, the first without what it shares with the second; left out: a dash between them. */
  between?(from: string, to: string): string;
  /** A whole quarter. */
  quarter(quarter: 1 | 2 | 3 | 4, year: number): string;
  /** A whole year; left out: its number. */
  year?(year: number): string;
}
