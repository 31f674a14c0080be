import type { Question } from '../figures/index.ts';
import type { Scope } from './blocks/block.ts';

/** What may be odd about a metric's figure, and about what it is held against. */
export const oddQuestion = (metric: string, { period, compared, filter }: Scope): Question => ({
  op: 'oddDays',
  metric,
  range: period,
  compared,
  filter,
});
