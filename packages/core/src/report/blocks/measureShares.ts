import { changeOf } from '../../figures/index.ts';
import type { LayoutContext, TextStyle } from './block.ts';
import { PARTLY } from './partly.ts';
import type { ShareLine, ShareTable } from './shareTable.ts';

/** By how many points a share has moved; neither good nor bad by itself. */
function changeText({ format }: LayoutContext, line: ShareLine): string {
  if (line.moved === null) return '–';
  const change = changeOf({ value: line.share }, { value: line.share - line.moved }, 'percent', 'neutral');
  return (change && format.change(change)) ?? '–';
}

/** Labels: never narrower, room for words as long as usual, and wide enough for most. */
const LABEL = { least: 56, word: 92, natural: 150 };

/** What stands beside the parts, whichever way they are drawn, with the widths of its columns in points. */
export function measureShares(context: LayoutContext, told: ShareTable) {
  const style: TextStyle = { face: 'sans', size: 8.5, fill: context.palette.ink };
  const bold: TextStyle = { ...style, face: 'sansBold' };
  const rows = told.lines.map((line) => ({
    line,
    share: told.isPartly ? `${context.format.percent(line.share)} ${PARTLY}` : context.format.percent(line.share),
    change: told.hasChange ? changeText(context, line) : '',
  }));
  const widest = (texts: readonly string[], s: TextStyle) => Math.max(0, ...texts.map((t) => context.measure(t, s)));
  const labels = told.lines.map((l) => l.label);
  const longest = widest(labels, style);
  const word = widest(
    labels.flatMap((l) => l.split(' ')),
    style,
  );
  const least = Math.min(longest, Math.max(LABEL.least, Math.min(LABEL.word, word)));
  return {
    style,
    bold,
    rows,
    label: { least, natural: Math.max(least, Math.min(longest, LABEL.natural)) },
    shares: widest(
      rows.map((r) => r.share),
      bold,
    ),
    changes: widest(
      rows.map((r) => r.change),
      style,
    ),
  };
}
