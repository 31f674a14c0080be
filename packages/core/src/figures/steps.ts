import { addDays, type CivilDate, lengthOf, minDate, moveUnits, type Range, unitStart } from '../calendar/index.ts';
import { type CountedRange, partOf } from './countedRange.ts';

/** How finely a range is divided on a chart. */
export type Step = 'day' | 'week' | 'month' | 'quarter';

/**
 * The calendar units that a range touches, in order, the first and the last cut at its ends (SEMANTICS §1, §2). Each leaves out
 * what the range does.
 */
export function stepsOf(range: CountedRange, step: Step, weekStart: number): CountedRange[] {
  const steps: CountedRange[] = [];
  const unitOf = (day: CivilDate) => unitStart(step, day, weekStart, 1);
  for (let from = range.from; from <= range.to; ) {
    const next = moveUnits(step, unitOf(from), 1);
    steps.push(partOf(range, { from, to: minDate(addDays(next, -1), range.to) }));
    from = next;
  }
  return steps;
}

/** A step of a period beside the days of the compared range that it is held against. */
export interface StepPair {
  current: CountedRange;
  /** Null where the compared range does not reach. */
  compared: CountedRange | null;
  /** Both have as many days, or are whole calendar units; else both stand with their dates, and nothing is made of it. */
  comparable: boolean;
}

/** Days and weeks pair by their distance from the range's first day, months and quarters by their place. */
const byDistance = (step: Step): boolean => step === 'day' || step === 'week';

const isWholeUnit = (range: Range, step: Step, weekStart: number): boolean => {
  const start = unitStart(step, range.from, weekStart, 1);
  return start === range.from && addDays(moveUnits(step, start, 1), -1) === range.to;
};

/** The steps of a period, each with what it is held against (SEMANTICS §3, steps). */
export function pairSteps(period: CountedRange, compared: CountedRange, step: Step, weekStart: number): StepPair[] {
  const own = stepsOf(period, step, weekStart);
  const places = byDistance(step) ? [] : stepsOf(compared, step, weekStart);
  let at = compared.from;
  return own.map((current, i) => {
    let other = places[i] ?? null;
    if (byDistance(step)) {
      const next = addDays(at, lengthOf(current));
      other = at <= compared.to ? partOf(compared, { from: at, to: minDate(addDays(next, -1), compared.to) }) : null;
      at = next;
    }
    const alike = other !== null && lengthOf(other) === lengthOf(current);
    const whole =
      other !== null &&
      !byDistance(step) &&
      isWholeUnit(current, step, weekStart) &&
      isWholeUnit(other, step, weekStart);
    return { current, compared: other, comparable: alike || whole };
  });
}

/** The steps of the compared range beyond the period's last: nothing stands against them. */
export function stepsBeyond(
  period: CountedRange,
  compared: CountedRange,
  step: Step,
  weekStart: number,
): CountedRange[] {
  if (!byDistance(step)) {
    return stepsOf(compared, step, weekStart).slice(stepsOf(period, step, weekStart).length);
  }
  const from = addDays(compared.from, lengthOf(period));
  return from > compared.to ? [] : stepsOf(partOf(compared, { from, to: compared.to }), step, weekStart);
}
