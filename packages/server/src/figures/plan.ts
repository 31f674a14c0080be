import { MOST_STEPS } from '@chronicon/core/bounds';
import { type CivilDate, lengthOf, minDate, type Range } from '@chronicon/core/calendar';
import type { FiguresQuery } from '@chronicon/core/contract';
import { type Filter, type Question, rangeToJudge, type Step, stepsOf } from '@chronicon/core/figures';
import type { Yardstick } from '@chronicon/core/report';
import { atField } from '../api/refusal.ts';
import { settleDates } from '../clockwork/dates.ts';
import type { StoredClient } from '../store/clients.ts';

/** A view of Figures with its dates settled: every question that it asks, so that its answers are found again. */
export interface FiguresPlan {
  metrics: readonly string[];
  period: Range;
  compared: Range | null;
  yardstick: Yardstick | null;
  step: Step;
  times: Range[];
  comparedTimes: Range[] | null;
  /** The days that odd ones are judged by; null where none are looked for. */
  history: Range | null;
  top: Extract<Question, { op: 'top' }> | null;
  total(metric: string): Question;
  /** What a metric's total is held against, or null. */
  before(metric: string): Question | null;
  line(metric: string): Question;
  comparedLine(metric: string): Question | null;
  judge(metric: string): Question | null;
}

/** About as many points as an eye can follow: days up to half a year, then weeks, then months. */
function stepFor(range: Range, chosen: FiguresQuery['step']): Step {
  if (chosen !== 'auto') return chosen;
  const days = lengthOf(range);
  return days <= 190 ? 'day' : days <= 800 ? 'week' : 'month';
}

export function planFigures(client: StoredClient, today: CivilDate, query: FiguresQuery, filter: Filter): FiguresPlan {
  const { period, compared, yardstick = null } = settleDates(query.period, query.compare, today, client);
  const step = stepFor(period, query.step);
  const days = lengthOf(period);
  if ((step === 'day' ? days : step === 'week' ? days / 7 : 0) > MOST_STEPS) {
    throw atField('step', `This would be more than ${MOST_STEPS} points. Choose longer steps, or a shorter period.`);
  }
  const times = stepsOf(period, step, client.weekStart);
  const comparedTimes = compared && stepsOf(compared, step, client.weekStart);
  const judged = rangeToJudge(period);
  const history = { from: judged.from, to: minDate(judged.to, today) };
  const total = (metric: string, range: Range): Question => ({ op: 'total', metric, range, filter });
  const line = (metric: string, range: Range, ranges: Range[]): Question =>
    step === 'day' ? { op: 'byDay', metric, range, filter } : { op: 'bySteps', metric, ranges, filter };
  return {
    metrics: query.metrics,
    period,
    compared,
    yardstick,
    step,
    times,
    comparedTimes,
    history: query.by || history.from > history.to ? null : history,
    top: query.by
      ? {
          op: 'top',
          metrics: query.metrics,
          dimension: query.by,
          n: query.n,
          range: period,
          compared,
          filter,
          order: compared ? query.order : 'current',
        }
      : null,
    total: (metric) => total(metric, period),
    before(metric) {
      if (compared) return total(metric, compared);
      if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
      return yardstick ? { op: 'target', metric, range: period } : null;
    },
    line: (metric) => line(metric, period, times),
    comparedLine: (metric) => compared && comparedTimes && line(metric, compared, comparedTimes),
    judge(metric) {
      return this.history && { op: 'byDay', metric, range: this.history, filter };
    },
  };
}

/** Every question of a plan. */
export function questionsOfPlan(plan: FiguresPlan): Question[] {
  const asked = plan.metrics.flatMap((m) => [
    plan.total(m),
    plan.before(m),
    ...(plan.top ? [] : [plan.line(m), plan.comparedLine(m), plan.judge(m)]),
  ]);
  return [...asked, plan.top].filter((q) => q !== null);
}
