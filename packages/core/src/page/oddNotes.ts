import type { Answers, MetricBook } from '../figures/index.ts';
import { type DayNote, isIn, oddOf, type Scope, unexplained } from '../report/index.ts';
import { dayNoteWords, type Formatter, fullStop, oddDayWords, withoutWords } from '../words/index.ts';

/** Stands after the name of a figure of which a day is odd; a note says which. */
const ODD = '‡';

/**
 * Marks the names of metrics that odd days stand behind, and notes the days (SEMANTICS §6). What somebody wrote of a day
 * for readers is said in place of what the figures say.
 */
export function oddMarker(
  input: { answers: Answers; book: MetricBook; dayNotes: readonly DayNote[]; format: Formatter },
  note: (text: string) => void,
): (metric: string, scope: Scope) => string {
  const { answers, format, book, dayNotes } = input;
  return (key, scope) => {
    const odd = oddOf(answers, key, scope);
    const metric = book.of(key);
    for (const n of dayNotes.filter((n) => odd.days.some((o) => isIn(o.day, n)))) note(dayNoteWords(n, format));
    const left = unexplained(odd, dayNotes);
    if (left.length === 0) return '';
    const days = oddDayWords(left, metric, book, format).join('; ');
    const without = withoutWords(odd, metric, format);
    const label = book.labelOf(key, format.words.metrics);
    note(`${ODD} ${label} – ${fullStop(without === null ? days : `${days}; ${without}`)}`);
    return ` ${ODD}`;
  };
}
