import type { Aggregation } from '../metric.ts';
import { known } from '../value.ts';
import { type Kind, total } from './kind.ts';

export const sum: Kind<Extract<Aggregation, { kind: 'sum' }>> = {
  additive: true,
  aggregate: (a, selection) => known(total(selection, a.measure)),
};
