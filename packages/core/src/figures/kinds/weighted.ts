import type { Aggregation } from '../metric.ts';
import { known, na, type Value } from '../value.ts';
import { type Kind, type Selection, select, withCoverage } from './kind.ts';

type Weighted = Extract<Aggregation, { kind: 'weighted' }>;

function over(a: Weighted, selections: Selection[]): Value {
  let sum = 0;
  let weights = 0;
  let rows = 0;
  for (const { columns, start, end, keep } of selections) {
    const values = columns.measures[a.measure]!;
    const weight = columns.measures[a.weight]!;
    for (let i = start; i < end; i++) {
      if (keep !== null && keep[i] === 0) continue;
      sum += values[i]! * weight[i]!;
      weights += weight[i]!;
      rows++;
    }
  }
  if (rows === 0) return na('no-data');
  return weights === 0 ? na('zero-denominator') : known(sum / weights);
}

/** Σ value·weight / Σ weight, as an average position by impressions (SEMANTICS §4). */
export const weighted: Kind<Weighted> = {
  measures: (a) => [a.measure, a.weight],
  value: (a, ask) => withCoverage(ask, () => over(a, [select(ask)])),
  typical: (a, asks) => over(a, asks.map(select)),
};
