import { addDays, type CivilDate, minDate, moveUnits, type Range, unitStart } from '../calendar/index.ts';

/** How finely a range is divided on a chart. */
export type Step = 'day' | 'week' | 'month' | 'quarter';

/** The calendar units that a range touches, in order, the first and the last cut at its ends (SEMANTICS §1, §2). */
export function stepsOf(range: Range, step: Step, weekStart: number): Range[] {
  const steps: Range[] = [];
  const unitOf = (day: CivilDate) => unitStart(step, day, weekStart, 1);
  for (let from = range.from; from <= range.to; ) {
    const next = moveUnits(step, unitOf(from), 1);
    steps.push({ from, to: minDate(addDays(next, -1), range.to) });
    from = next;
  }
  return steps;
}
