import { isKnown, keyOf, type Question, type Reason, type Value, valueOfAnswer } from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';

/** What a figure is held against: another range, its usual level, its target, or nothing. */
export function beforeOf(metric: string, { period, compared, yardstick, filter }: Scope): Question | null {
  if (compared) return { op: 'total', metric, range: compared, filter };
  if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
  return yardstick ? { op: 'target', metric, range: period, filter } : null;
}

/** Why nothing is compared, said of what it would be compared with: `September 2026: not yet measured`, `no target`. */
export function comparedLack(
  { compared, yardstick, format }: Pick<LayoutContext, 'compared' | 'yardstick' | 'format'>,
  na: Reason,
): string {
  const { words } = format;
  if (compared) return fill(words.noteDay, { dates: format.range(compared), text: words.reasons[na] });
  return yardstick?.kind === 'target' ? words.noTarget : words.reasons[na];
}

/** Says of a figure that what it is compared with is not known, where the page does not say so of all of them. */
export function noteCompared(context: LayoutContext, metric: string, before: Value | null | undefined): void {
  if (!context.compared || !before || isKnown(before) || context.nothingCompared) return;
  context.note(`${context.noteLabelOf(metric)}, ${comparedLack(context, before.na)}.`);
}

/** {@link noteCompared} by the answer to what the metric's total is compared with. */
export function noteComparedTotal(context: LayoutContext, metric: string): void {
  const question = beforeOf(metric, context);
  noteCompared(context, metric, question && valueOfAnswer(context.answers[keyOf(question)]));
}

/** Says of a metric's usual level that fewer periods stand behind it than were asked for (SEMANTICS §3). */
export function noteTypical(context: LayoutContext, metric: string): void {
  const question = beforeOf(metric, context);
  const answer = question && context.answers[keyOf(question)];
  if (answer?.op !== 'typical' || 'na' in answer.value || answer.value.count === answer.value.of) return;
  const { count, of } = answer.value;
  context.note(fill(context.format.words.noteTypical, { metric: context.noteLabelOf(metric), count, of }));
}
