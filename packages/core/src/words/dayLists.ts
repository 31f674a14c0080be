import { type CivilDate, type Range, rangesOfDays } from '../calendar/index.ts';
import type { Formatter } from './formatter.ts';

/** Days that are named; of more, how many they are. */
const MOST_NAMED = 6;

/** The first few of many, and how many more there are. */
export const fewOf = (said: readonly string[], format: Formatter): string[] =>
  said.length > MOST_NAMED
    ? [...said.slice(0, MOST_NAMED), format.count(format.words.moreDays, said.length - MOST_NAMED)]
    : [...said];

/** Days as they are said beside each other: with their year only where they are of more than one. */
export function datesIn(days: readonly CivilDate[], format: Formatter): (range: Range) => string {
  const isOneYear = new Set(days.map((d) => d.slice(0, 4))).size < 2;
  return (r) => (!isOneYear ? format.dates(r) : r.from === r.to ? format.shortDate(r.from) : format.shortRange(r));
}

/** Single days as a list, those that follow each other as one range: `8 Sept, 8–9 Oct`. */
export const listDays = (days: readonly CivilDate[], format: Formatter): string =>
  fewOf(rangesOfDays(days).map(datesIn(days, format)), format).join(', ');
