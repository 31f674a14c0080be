import { type Question, TOLD_BESIDE } from '../../figures/index.ts';
import type { Scope } from './block.ts';

/** Asks where the values of a dimension lead, where feeds tell such a thing of it. */
export const linksQuestion = (metric: string, dimension: string, { period: range, filter }: Scope): Question[] =>
  TOLD_BESIDE[dimension] ? [{ op: 'links', metric, dimension, range, filter }] : [];
