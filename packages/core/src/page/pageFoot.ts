import type { Palette, Pen, TextStyle } from '../report/index.ts';
import { fill } from '../words/index.ts';
import type { ComposeInput } from './composeInput.ts';
import { widthOf } from './ruler.ts';
import { MARGIN, RIGHT, SHEET, WIDTH } from './sheet.ts';
import { wrapText } from './textFit.ts';

const SIZE = 7.5;
const LEADING = 9;
const APART = 14;
/** Of the width, what either side may take of a long other one. */
const SHARE = 0.5;

/** Lines of both sides for one page: each has what the other leaves, and half of the width at least. */
function linesOf(input: ComposeInput, style: TextStyle, n: number, of: number) {
  const { format, ruler, brand } = input;
  const { words } = format;
  const left = brand.footer.trim() || fill(words.preparedBy, { agency: input.agencyName, client: input.clientName });
  const right = `${input.title} · ${format.range(input.period)} · ${fill(words.page, { n, of })}`;
  const width = (text: string) => widthOf(ruler, style.face, style.size, text);
  const least = WIDTH * SHARE - APART / 2;
  const [leftRoom, rightRoom] = [width(right), width(left)].map((other) => Math.max(least, WIDTH - APART - other));
  return { left: wrapText(ruler, left, style, leftRoom!), right: wrapText(ruler, right, style, rightRoom!) };
}

/** The foot of every page: who made it and for whom, what it is, and which page of how many. */
export function setFoot(input: ComposeInput, palette: Palette) {
  const style: TextStyle = { face: 'sans', size: SIZE, fill: palette.muted };
  // However many pages there will be.
  const { left, right } = linesOf(input, style, 888, 888);
  const lines = Math.max(left.length, right.length);
  const top = SHEET.height - MARGIN - 12 - (lines - 1) * LEADING;
  return {
    /** Where it begins, in points from the top of the sheet. */
    top,
    draw(pen: Pen, n: number, of: number): void {
      pen.line(MARGIN, top, RIGHT, top, palette.rule, 0.6);
      const drawn = linesOf(input, style, n, of);
      const put = (texts: string[], x: number, align: 'left' | 'right') =>
        texts.forEach((text, i) => {
          pen.text(x, top + 11 + i * LEADING, text, style, align);
        });
      put(drawn.left, MARGIN, 'left');
      put(drawn.right, RIGHT, 'right');
    },
  };
}
