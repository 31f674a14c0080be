import type { LayoutContext, Pen, TextStyle } from './block.ts';
import { fewLines } from './fewLines.ts';

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
  return {
    height: last + under.length * LEADING + BENEATH,
    draw(pen: Pen, x: number, y: number): void {
      pen.tagged('H3', null, () => {
        lines.forEach((line, i) => {
          // Lines end with the space that parts their words when the text is copied.
          pen.text(x, y + 10 + i * LEADING, i < lines.length - 1 ? `${line} ` : line, style);
        });
      });
      if (beside === '') return;
      pen.tagged('P', null, () => {
        if (isBeside) pen.text(x + indent, y + last, beside, quiet);
        under.forEach((line, i) => {
          pen.text(x, y + last + (i + 1) * LEADING, i < under.length - 1 ? `${line} ` : line, quiet);
        });
      });
    },
  };
}
