import type { Aggregation } from '../metric.ts';
import { known, na, type Value } from '../value.ts';
import { type Kind, type Selection, select, totalOf, withCoverage } from './kind.ts';

type Ratio = Extract<Aggregation, { kind: 'ratio' }>;

function over(a: Ratio, selections: Selection[]): Value {
  const den = totalOf(selections, a.den);
  return den === 0 ? na('zero-denominator') : known(totalOf(selections, a.num) / den);
}

/** Σ numerator / Σ denominator over all rows; never a mean of daily ratios (SEMANTICS §4). */
export const ratio: Kind<Ratio> = {
  measures: (a) => [a.num, a.den],
  value: (a, ask) => withCoverage(ask, () => over(a, [select(ask)])),
  typical: (a, asks) => over(a, asks.map(select)),
};
