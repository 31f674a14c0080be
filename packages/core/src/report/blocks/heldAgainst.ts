import { keyOf, type Question } from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';

/** What a figure is held against: another range, its usual level, its target, or nothing. */
export function beforeOf(metric: string, { period, compared, yardstick, filter }: Scope): Question | null {
  if (compared) return { op: 'total', metric, range: compared, filter };
  if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
  return yardstick ? { op: 'target', metric, range: period, filter } : null;
}

/** Says of a metric's usual level that fewer periods stand behind it than were asked for (SEMANTICS §3). */
export function noteTypical(context: LayoutContext, metric: string): void {
  const question = beforeOf(metric, context);
  const answer = question && context.answers[keyOf(question)];
  if (answer?.op !== 'typical' || 'na' in answer.value || answer.value.count === answer.value.of) return;
  const { count, of } = answer.value;
  context.note(fill(context.format.words.noteTypical, { metric: context.labelOf(metric), count, of }));
}
