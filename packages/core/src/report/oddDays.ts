import type { CivilDate } from '../calendar/index.ts';
import {
  type Answers,
  type Change,
  changeOf,
  changeWithout,
  isTurned,
  keyOf,
  type Metric,
  type MetricBook,
  NOTHING_ODD,
  type Odd,
  type OddDayOf,
  valueOfAnswer,
} from '../figures/index.ts';
import type { DayNote, Scope } from './blocks/block.ts';
import { oddQuestion } from './oddQuestion.ts';

/** A metric, with what of it is shown. */
export interface Shown {
  metric: string;
  scope: Scope;
}

/** Whether a day is among those of a note. */
export const isIn = (day: CivilDate, { from, to }: DayNote): boolean => from <= day && day <= to;

/** What was found odd of a metric in what a block, or a whole page, shows. */
export function oddOf(answers: Answers, metric: string, scope: Scope): Odd {
  const found = answers[keyOf(oddQuestion(metric, scope))];
  return found?.op === 'oddDays' ? found.odd : NOTHING_ODD;
}

/** The odd days that nobody explained to readers. */
export const unexplained = (odd: Odd, dayNotes: readonly DayNote[]): OddDayOf[] =>
  odd.days.filter((o) => !dayNotes.some((n) => isIn(o.day, n)));

/** A verdict that odd days alone have made: without them and their partners it is the opposite (SEMANTICS §6). */
export interface Turned {
  metric: Metric;
  days: OddDayOf[];
  odd: Odd;
  change: Change;
}

/** The verdicts on what is shown that odd days nobody explained turn round; each told once. */
export function turnedBy(
  input: { answers: Answers; book: MetricBook; dayNotes: readonly DayNote[] },
  shown: readonly Shown[],
): Turned[] {
  const { answers, book, dayNotes } = input;
  const once = new Map(shown.map((s) => [keyOf(oddQuestion(s.metric, s.scope)), s]));
  return [...once.values()].flatMap(({ metric: key, scope }): Turned[] => {
    const { period, compared, filter } = scope;
    if (!compared) return [];
    const odd = oddOf(answers, key, scope);
    const days = unexplained(odd, dayNotes);
    const metric = book.of(key);
    const without = changeWithout(odd, metric);
    if (days.length === 0 || !without) return [];
    const [now, before] = [period, compared].map((range) =>
      valueOfAnswer(answers[keyOf({ op: 'total', metric: key, range, filter })]),
    );
    if (!now || !before) return [];
    const change = changeOf(now, before, metric.unit, metric.polarity);
    return isTurned(change, without) ? [{ metric, days, odd, change }] : [];
  });
}
