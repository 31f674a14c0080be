import { type Answers, type Conversion, conversionsFor, type MetricBook } from '../figures/index.ts';
import {
  type DayNote,
  excludedIn,
  excludedNote,
  isIn,
  leavesOut,
  oddOf,
  type Scope,
  type ToldExclusion,
} from '../report/index.ts';
import { conversionWords, dayNoteWords, type Formatter, fullStop, oddDayWords, withoutWords } from '../words/index.ts';

/** Stands after the name of a figure of which a day is odd; a note says which. */
const ODD = '‡';
/** Stands after the name of a figure that leaves a day out; a note says which, and why. */
const EXCLUDED = '§';
/** Stands after the name of a figure whose money was converted; a note says at which rate. */
const CONVERTED = '¤';

/** What the marks are made from. */
interface Marking {
  answers: Answers;
  book: MetricBook;
  dayNotes: readonly DayNote[];
  excluded?: readonly ToldExclusion[] | undefined;
  converted?: readonly Conversion[] | undefined;
  format: Formatter;
}

/**
 * Marks the names of metrics that odd days stand behind, of those that leave days out (SEMANTICS §6), and of those whose money
 * was converted (§13), and notes the days and the rates.
 * What somebody wrote of a day for readers stands beside what the figures say, never in its place. The notes call the metric by
 * `label`.
 */
export function dayMarker(
  input: Marking,
  note: (text: string) => void,
): (metric: string, scope: Scope, label: string) => string {
  return (key, scope, label) =>
    oddMark(input, note, key, scope, label) +
    excludedMark(input, note, key, scope, label) +
    convertedMark(input, note, key, scope, label);
}

function oddMark(
  { answers, format, book, dayNotes }: Marking,
  note: (text: string) => void,
  key: string,
  scope: Scope,
  label: string,
): string {
  const odd = oddOf(answers, key, scope);
  if (odd.days.length === 0) return '';
  const metric = book.of(key);
  for (const n of dayNotes.filter((n) => odd.days.some((o) => isIn(o.day, n)))) note(dayNoteWords(n, format));
  const days = oddDayWords(odd.days, metric, book, format).join('; ');
  const without = withoutWords(odd, metric, format);
  note(`${ODD} ${label} – ${fullStop(without === null ? days : `${days}; ${without}`)}`);
  return ` ${ODD}`;
}

function excludedMark(
  { format, book, excluded = [] }: Marking,
  note: (text: string) => void,
  key: string,
  scope: Scope,
  label: string,
): string {
  const own = excludedIn(key, scope, book);
  if (!leavesOut(own)) return '';
  note(`${EXCLUDED} ${excludedNote({ key, label }, own, excluded, { book, format })}`);
  return ` ${EXCLUDED}`;
}

function convertedMark(
  { format, book, converted = [] }: Marking,
  note: (text: string) => void,
  key: string,
  { period, compared }: Scope,
  label: string,
): string {
  const own = conversionsFor(converted, key, [period, compared], book);
  if (own.length === 0) return '';
  note(`${CONVERTED} ${fullStop(`${label} – ${conversionWords(own, format)}`)}`);
  return ` ${CONVERTED}`;
}
