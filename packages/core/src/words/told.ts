import { type Change, isKnown, type Metric, type Value } from '../figures/index.ts';
import type { Agreement } from './agree.ts';
import type { Formatter } from './formatter.ts';

/** How much a figure moved, without its sign, as the language's sentences take it. */
export function movedBy(
  change: Change & { abs: number },
  metric: Metric,
  format: Formatter,
  { more = 0, points }: Partial<Agreement> = {},
): string {
  if (metric.unit === 'percent') {
    const value = Math.abs(points ?? change.points ?? 0);
    const number = format.signedDecimal(value, more).replace(/^[\u200e\u200f]*\+/, '');
    return format.words.by({ kind: 'points', text: format.points(value, number, 'sentence'), value });
  }
  const value = Math.abs(typeof change.rel === 'number' ? change.rel : 0);
  return format.words.by({ kind: 'percent', text: format.percent(value), value });
}

/** Whether a figure that can be counted came from nothing, or fell to nothing. */
export function endedOrBegan(current: Value, before: Value, metric: Metric): 'began' | 'ended' | null {
  if (metric.unit === 'percent' || metric.unit === 'position' || !isKnown(current) || !isKnown(before)) return null;
  if (before.value === 0) return 'began';
  return current.value === 0 ? 'ended' : null;
}
