import type { Range } from '@chronicon/core/calendar';
import type { Filter, Question, Step, StepPair } from '@chronicon/core/figures';
import type { Yardstick } from '@chronicon/core/report';

/** A view of Figures with its dates settled: plain data, from which every question that it asks is found again. */
export interface FiguresPlan {
  metrics: readonly string[];
  period: Range;
  compared: Range | null;
  yardstick: Yardstick | null;
  filter: Filter;
  step: Step;
  weekStart: number;
  times: Range[];
  /** Each step with what it is held against; null where no range is compared. */
  pairs: StepPair[] | null;
  /** Steps of the compared range beyond the period's last. */
  beyond: Range[];
  top: Extract<Question, { op: 'top' }> | null;
}

export const totalOf = ({ period, filter }: FiguresPlan, metric: string): Question => ({
  op: 'total',
  metric,
  range: period,
  filter,
});

/** What a metric's total is held against, or null. */
export function beforeOf({ period, compared, yardstick, filter }: FiguresPlan, metric: string): Question | null {
  if (compared) return { op: 'total', metric, range: compared, filter };
  if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
  return yardstick ? { op: 'target', metric, range: period, filter } : null;
}

const lineOver = ({ step, filter }: FiguresPlan, metric: string, range: Range, ranges: Range[]): Question =>
  step === 'day' ? { op: 'byDay', metric, range, filter } : { op: 'bySteps', metric, ranges, filter };

export const lineQuestion = (plan: FiguresPlan, metric: string): Question =>
  lineOver(plan, metric, plan.period, plan.times);

/** The steps of the compared range in order, those beyond the period's last included. */
export const comparedSteps = ({ pairs, beyond }: FiguresPlan): Range[] => [
  ...(pairs ?? []).flatMap((p) => p.compared ?? []),
  ...beyond,
];

/** What the steps are held against: the compared range's own, or what is usual at their place. */
export function comparedLineQuestion(plan: FiguresPlan, metric: string): Question | null {
  const { compared, yardstick, period, step, weekStart, filter } = plan;
  if (compared) return lineOver(plan, metric, compared, comparedSteps(plan));
  if (yardstick?.kind !== 'typical') return null;
  return { op: 'typicalSteps', metric, period, ranges: yardstick.ranges, step, weekStart, filter };
}

/** What may be odd of a metric's total, and of what it is held against. */
export const oddQuestionOf = ({ period, compared, filter }: FiguresPlan, metric: string): Question => ({
  op: 'oddDays',
  metric,
  range: period,
  compared,
  filter,
});

/** Every question of a plan. */
export function questionsOfPlan(plan: FiguresPlan): Question[] {
  const asked = plan.metrics.flatMap((m) => [
    totalOf(plan, m),
    beforeOf(plan, m),
    oddQuestionOf(plan, m),
    ...(plan.top ? [] : [lineQuestion(plan, m), comparedLineQuestion(plan, m)]),
  ]);
  return [...asked, plan.top].filter((q) => q !== null);
}
