import type { Aggregation } from '../metric.ts';
import { known, na } from '../value.ts';
import { type Kind, total } from './kind.ts';

/** Σ numerator / Σ denominator over all rows; never a mean of daily ratios (SEMANTICS §4). */
export const ratio: Kind<Extract<Aggregation, { kind: 'ratio' }>> = {
  additive: false,
  aggregate(a, selection) {
    const den = total(selection, a.den);
    return den === 0 ? na('zero-denominator') : known(total(selection, a.num) / den);
  },
};
