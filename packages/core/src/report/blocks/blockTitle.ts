import type { LayoutContext, Pen, TextStyle } from './block.ts';
import { fewLines } from './fewLines.ts';
import { putLines } from './putLines.ts';
import { setSubtitle } from './subtitle.ts';

const LEADING = 12;
const MOST_LINES = 2;
/** Points between the last line's baseline and what stands beneath. */
const BENEATH = 8;

/**
 * The title of a block, over two lines where it has to be; `mark` is never cut. What is said beside it stands there
 * where it has room, else beneath.
 */
export function setTitle(context: LayoutContext, title: string, mark = '', beside = '') {
  const style: TextStyle = { face: 'sansBold', size: 9.5, fill: context.palette.ink };
  const quiet: TextStyle = { face: 'sans', size: 9.5, fill: context.palette.muted };
  const lines = fewLines(context, title, mark, style, context.width, MOST_LINES);
  const indent = context.measure(`${lines.at(-1)}   `, style);
  const isBeside = beside !== '' && indent + context.measure(beside, quiet) <= context.width;
  const under = beside === '' || isBeside ? [] : context.wrap(beside, quiet, context.width);
  const last = 10 + (lines.length - 1) * LEADING;
  const own = setSubtitle(context);
  const ownAt = last + under.length * LEADING + (own.height > 0 ? 4 : 0);
  return {
    height: ownAt + own.height + BENEATH,
    draw(pen: Pen, x: number, y: number): void {
      pen.tagged('H3', null, () => {
        putLines(pen, lines, (i) => [x, y + 10 + i * LEADING], style);
      });
      if (beside !== '')
        pen.tagged('P', null, () => {
          if (isBeside) pen.text(x + indent, y + last, beside, quiet);
          putLines(pen, under, (i) => [x, y + last + (i + 1) * LEADING], quiet);
        });
      own.draw(pen, x, y + ownAt);
    },
  };
}
