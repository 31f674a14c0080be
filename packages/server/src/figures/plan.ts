import { MOST_STEPS } from '@chronicon/core/bounds';
import { type CivilDate, lengthOf, type Range } from '@chronicon/core/calendar';
import type { FiguresQuery } from '@chronicon/core/contract';
import { type Filter, pairSteps, type Step, stepsBeyond, stepsOf } from '@chronicon/core/figures';
import { type DatesOfClient, settleDates } from '@chronicon/core/report';
import { atField } from '../platform/refusal.ts';
import type { FiguresPlan } from './viewQuestions.ts';

/** About as many points as an eye can follow: days up to half a year, then weeks, then months. */
function stepFor(range: Range, chosen: FiguresQuery['step']): Step {
  if (chosen !== 'auto') return chosen;
  const days = lengthOf(range);
  return days <= 190 ? 'day' : days <= 800 ? 'week' : 'month';
}

/** Settles the dates and steps of a view of Figures. @throws Refusal at `step` for more points than may be shown */
export function planFigures(client: DatesOfClient, today: CivilDate, query: FiguresQuery, filter: Filter): FiguresPlan {
  const { period, compared, yardstick = null } = settleDates(query.period, query.compare, today, client);
  const step = stepFor(period, query.step);
  const days = lengthOf(period);
  if ((step === 'day' ? days : step === 'week' ? days / 7 : 0) > MOST_STEPS) {
    throw atField('step', `More than ${MOST_STEPS} points. Choose longer steps or a shorter period.`);
  }
  return {
    metrics: query.metrics,
    period,
    compared,
    yardstick,
    filter,
    step,
    weekStart: client.weekStart,
    times: stepsOf(period, step, client.weekStart),
    pairs: compared && pairSteps(period, compared, step, client.weekStart),
    beyond: compared ? stepsBeyond(period, compared, step, client.weekStart) : [],
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
  };
}
