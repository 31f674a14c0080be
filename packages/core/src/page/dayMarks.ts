import { type Answers, type Conversion, conversionsFor, keyOf, type MetricBook } from '../figures/index.ts';
import {
  type DayNote,
  excludedIn,
  excludedNote,
  isIn,
  leavesOut,
  oddOf,
  oddQuestion,
  type Scope,
  type Shown,
  type ToldExclusion,
} from '../report/index.ts';
import { conversionWords, dayNoteWords, type Formatter, fill, fullStop, oddNotes } from '../words/index.ts';

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
  /** What stands on the same page: one note tells of a day, whichever of its figures are odd. */
  beside: readonly Shown[];
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
  { answers, format, book, dayNotes, beside }: Marking,
  note: (text: string) => void,
  key: string,
  scope: Scope,
  label: string,
): string {
  const odd = oddOf(answers, key, scope);
  if (odd.days.length === 0) return '';
  for (const n of dayNotes.filter((n) => odd.days.some((o) => isIn(o.day, n)))) note(dayNoteWords(n, format));
  // What is narrowed is told by itself, with what it counts in its name.
  const named = label === book.labelOf(key, format.words.metrics);
  const isSame = (s: Shown) => keyOf(oddQuestion(key, s.scope)) === keyOf(oddQuestion(key, scope));
  const keys = named ? [...new Set([...beside.filter(isSame).map((s) => s.metric), key])] : [key];
  const told = keys.map((k) => ({
    metric: book.of(k),
    label: k === key ? label : book.labelOf(k, format.words.metrics),
    odd: k === key ? odd : oddOf(answers, k, scope),
  }));
  for (const { text, metrics } of oddNotes(told, book, format)) if (metrics.includes(key)) note(`${ODD} ${text}`);
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
  note(`${CONVERTED} ${fullStop(fill(format.words.labelled, { label, text: conversionWords(own, format) }))}`);
  return ` ${CONVERTED}`;
}
