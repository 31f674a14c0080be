import type { Range } from '../../calendar/index.ts';
import { isKnown, type Value } from '../../figures/index.ts';
import { type Formatter, fill } from '../../words/index.ts';
import type { LayoutContext } from './block.ts';
import { PARTLY } from './partly.ts';

/** Says of a figure how many of its days are known: `share` of them, or some where that is not known. */
export function partlyNote(metric: string, dates: string, share: number | undefined, format: Formatter): string {
  const { words, coveredShare } = format;
  return share === undefined
    ? fill(words.noteSomeDays, { metric, dates })
    : fill(words.notePartial, { metric, dates, share: coveredShare(share) });
}

/** Notes it of a figure that carries the mark. */
export function notePartly(
  context: LayoutContext,
  metric: string,
  value: Value | null | undefined,
  over: Range = context.period,
): void {
  if (!value || !isKnown(value) || !value.partial) return;
  const { format } = context;
  const dates = format.range(over);
  context.note(`${PARTLY} ${partlyNote(context.noteLabelOf(metric), dates, value.share, format)}`);
}
