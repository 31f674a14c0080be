import type { Aggregation } from '../metric.ts';
import { max, min } from './extremes.ts';
import type { Kind } from './kind.ts';
import { ratio } from './ratio.ts';
import { sum } from './sum.ts';

const KINDS: { [K in Aggregation['kind']]: Kind<Extract<Aggregation, { kind: K }>> } = { sum, min, max, ratio };

export const kindOf = (aggregation: Aggregation): Kind<Aggregation> => KINDS[aggregation.kind] as Kind<Aggregation>;
