import { type CivilDate, daysOf, lengthOf, type Range } from '../../calendar/index.ts';
import {
  type Answers,
  isKnown,
  keyOf,
  type MetricBook,
  pairSteps,
  type Question,
  stepsOf,
  targetAdds,
  type Value,
} from '../../figures/index.ts';
import type { Scope } from './block.ts';

/** What one point of a trend is of. */
export type Span = 'day' | 'week' | 'month';

/** Days from which a line of days would be a thicket: weeks from here on, and months. */
const WEEKS_FROM = 100;
const MONTHS_FROM = 400;
/** Weeks of a page begin on Monday (ISO 8601): what a point says hardly hangs on it. */
const MONDAY = 1;

export const spanOf = (period: Range): Span => {
  const days = lengthOf(period);
  return days < WEEKS_FROM ? 'day' : days < MONTHS_FROM ? 'week' : 'month';
};

/** The first day of each point of a line. */
export const pointsOf = (period: Range): CivilDate[] => {
  const span = spanOf(period);
  return span === 'day' ? daysOf(period) : stepsOf(period, span, MONDAY).map((s) => s.from);
};

/** The points of a compared range, each at the place of the period's that it is held against; null for none. */
function comparedSteps(period: Range, compared: Range, span: 'week' | 'month'): (Range | null)[] {
  return pairSteps(period, compared, span, MONDAY).map((p) => p.compared);
}

const known = (ranges: readonly (Range | null)[]): Range[] => ranges.filter((r) => r !== null);

/** What the line of a period asks, and the one of the range that it is compared with. */
export function lineQuestions(metric: string, { period, compared, filter }: Scope) {
  const span = spanOf(period);
  if (span === 'day') {
    const of = (range: Range): Question => ({ op: 'byDay', metric, range, filter });
    return { current: of(period), before: compared && of(compared) };
  }
  const of = (ranges: Range[]): Question => ({ op: 'bySteps', metric, ranges, filter });
  return {
    current: of(stepsOf(period, span, MONDAY)),
    before: compared && of(known(comparedSteps(period, compared, span))),
  };
}

/** What a day of a step has on average, of what adds up; of the others what the step has. */
function perDay(value: Value, step: Range, adds: boolean): number | null {
  if (!isKnown(value)) return null;
  if (!adds) return value.value;
  if (value.partial && value.share === undefined) return null;
  return value.value / (lengthOf(step) * (value.share ?? 1));
}

/** The points of both lines; null for a line of which nothing is known. */
export function lineValues(metric: string, scope: Scope, answers: Answers, book: MetricBook) {
  const asked = lineQuestions(metric, scope);
  const adds = targetAdds(book.of(metric).aggregation, book.lookup);
  const { period, compared } = scope;
  const span = spanOf(period);
  const valuesOf = (question: Question | null, places: readonly (Range | null)[]): (number | null)[] | null => {
    const answer = question && answers[keyOf(question)];
    if (answer?.op === 'byDay') return Array.isArray(answer.values) ? answer.values : null;
    if (answer?.op !== 'bySteps') return null;
    let at = 0;
    return places.map((step) => (step === null ? null : perDay(answer.values[at++]!, step, adds)));
  };
  if (span === 'day') return { current: valuesOf(asked.current, []), before: valuesOf(asked.before, []) };
  return {
    current: valuesOf(asked.current, stepsOf(period, span, MONDAY)),
    before: compared && valuesOf(asked.before, comparedSteps(period, compared, span)),
  };
}
