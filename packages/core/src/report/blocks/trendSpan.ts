import { type CivilDate, daysOf, lengthOf, type Range, toDayNumber } from '../../calendar/index.ts';
import { type CountedRange, countedDays, pairSteps, stepsOf } from '../../figures/index.ts';

/** What one point of a trend is of. */
export type Span = 'day' | 'week' | 'month';

/** Days from which a line of days would be a thicket: weeks from here on, and months. */
const WEEKS_FROM = 100;
const MONTHS_FROM = 400;

/**
 * What the points of a metric's line are of. Only what adds up has weeks and months, as the average of their days; rates
 * are never averaged and uniques never added (SEMANTICS §4), so that their lines stay lines of days.
 */
export function spanOf(period: Range, adds: boolean): Span {
  const days = lengthOf(period);
  return !adds || days < WEEKS_FROM ? 'day' : days < MONTHS_FROM ? 'week' : 'month';
}

/** The first day of each point of a period's line. */
export const pointsOf = (period: Range, span: Span, weekStart: number): CivilDate[] =>
  span === 'day' ? daysOf(period) : stepsOf(period, span, weekStart).map((s) => s.from);

/** The points of a line, and whether one of them is without some of its days. */
export interface Points {
  values: (number | null)[];
  partial: boolean;
}

/** Averages of the known days of each step that count; null where none is known, or where there is no step. */
function averages(daily: readonly (number | null)[], from: CivilDate, steps: readonly (CountedRange | null)[]): Points {
  let partial = false;
  const values = steps.map((step) => {
    if (step === null) return null;
    const first = toDayNumber(step.from) - toDayNumber(from);
    const days = daily.slice(first, first + lengthOf(step));
    const known = days.filter((v) => v !== null);
    if (known.length > 0 && known.length < countedDays(step)) partial = true;
    return known.length === 0 ? null : known.reduce((sum, v) => sum + v, 0) / known.length;
  });
  return { values, partial };
}

/** The points of a period's line from its days. */
export const periodPoints = (
  daily: readonly (number | null)[],
  period: CountedRange,
  span: Span,
  weekStart: number,
): Points =>
  span === 'day'
    ? { values: [...daily], partial: false }
    : averages(daily, period.from, stepsOf(period, span, weekStart));

/** The points of the compared range's line, each at the place of the period's that it is held against. */
export const comparedPoints = (
  daily: readonly (number | null)[],
  period: CountedRange,
  compared: CountedRange,
  span: Span,
  weekStart: number,
): Points =>
  span === 'day'
    ? { values: [...daily], partial: false }
    : averages(
        daily,
        compared.from,
        pairSteps(period, compared, span, weekStart).map((p) => p.compared),
      );
