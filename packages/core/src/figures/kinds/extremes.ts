import { lengthOf } from '../../calendar/index.ts';
import type { Aggregation } from '../metric.ts';
import { known } from '../value.ts';
import { dailyTotals, type Kind } from './kind.ts';

type Extreme = Extract<Aggregation, { kind: 'min' | 'max' }>;

/** Smallest or largest daily value, a day's rows summed; a covered day without rows is 0 (SEMANTICS §4). */
const extreme = (pick: (...values: number[]) => number): Kind<Extreme> => ({
  additive: false,
  aggregate: (a, selection) =>
    known(dailyTotals(selection, a.measure, lengthOf(selection.range)).reduce((x, y) => pick(x, y))),
});

export const min = extreme(Math.min);
export const max = extreme(Math.max);
