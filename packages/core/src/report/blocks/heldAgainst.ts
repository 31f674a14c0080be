import type { Question } from '../../figures/index.ts';
import type { Scope } from './block.ts';

/** What a figure is held against: another range, its usual level, its target, or nothing. */
export function beforeOf(metric: string, { period, compared, yardstick, filter }: Scope): Question | null {
  if (compared) return { op: 'total', metric, range: compared, filter };
  if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
  return yardstick ? { op: 'target', metric, range: period, filter } : null;
}
