import type { Aggregation } from '../metric.ts';
import { known } from '../value.ts';
import { type Kind, select, total, withCoverage } from './kind.ts';

export const sum: Kind<Extract<Aggregation, { kind: 'sum' }>> = {
  measures: (a) => [a.measure],
  value: (a, ask) => withCoverage(ask, () => known(total(select(ask), a.measure))),
  typical: 'mean',
};
