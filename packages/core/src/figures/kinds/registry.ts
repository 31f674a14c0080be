import type { Aggregation } from '../metric.ts';
import { derived } from './derived.ts';
import { max, min } from './extremes.ts';
import type { Kind } from './kind.ts';
import { levels } from './level.ts';
import { ratio } from './ratio.ts';
import { sum } from './sum.ts';
import { unique } from './unique.ts';
import { weighted } from './weighted.ts';

const KINDS: { [K in Aggregation['kind']]: Kind<Extract<Aggregation, { kind: K }>> } = {
  sum,
  min,
  max,
  unique,
  level: levels,
  ratio,
  weighted,
  derived: derived((a) => kindOf(a)),
};

export const kindOf = (aggregation: Aggregation): Kind<Aggregation> => KINDS[aggregation.kind] as Kind<Aggregation>;
