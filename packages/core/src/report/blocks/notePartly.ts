import type { Range } from '../../calendar/index.ts';
import { isKnown, type Value } from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import type { LayoutContext } from './block.ts';
import { PARTLY } from './partly.ts';

/** Says of a figure that carries the mark how many of its days are known. */
export function notePartly(
  context: LayoutContext,
  metric: string,
  value: Value | null | undefined,
  over: Range = context.period,
): void {
  if (!value || !isKnown(value) || !value.partial) return;
  const { words, range, coveredShare } = context.format;
  const label = context.noteLabelOf(metric);
  const dates = range(over);
  const text =
    value.share === undefined
      ? `${label}, ${dates}: ${words.reasons.partial}.`
      : fill(words.notePartial, { metric: label, dates, share: coveredShare(value.share) });
  context.note(`${PARTLY} ${text}`);
}
