import { coveredFlags } from '../coverage.ts';
import type { Aggregation } from '../metric.ts';
import { known } from '../value.ts';
import { dailyTotals, type Kind, select, withCoverage } from './kind.ts';

type Extreme = Extract<Aggregation, { kind: 'min' | 'max' }>;

/** Smallest or largest daily value, a day's rows summed; a covered day without rows is 0 (SEMANTICS §4). */
const extreme = (pick: (...values: number[]) => number): Kind<Extreme> => ({
  measures: (a) => [a.measure],
  value: (a, ask) =>
    withCoverage(ask, () => {
      const delivered = coveredFlags(ask.dataset.covered, ask.range);
      const days = dailyTotals(select(ask), a.measure, ask.range).filter((_, i) => delivered[i] === 1);
      return known(days.reduce((x, y) => pick(x, y)));
    }),
  typical: 'mean',
});

export const min = extreme(Math.min);
export const max = extreme(Math.max);
