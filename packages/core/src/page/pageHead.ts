import type { Palette, Pen, TextStyle } from '../report/index.ts';
import { fill } from '../words/index.ts';
import type { ComposeInput } from './composeInput.ts';
import { drawLogo } from './logo.ts';
import { type Ruler, widthOf } from './ruler.ts';
import type { Op } from './scene.ts';
import { MARGIN, RIGHT, WIDTH } from './sheet.ts';
import { fitText, wrapText } from './textFit.ts';

/** What the period is held against, in words; null for nothing. */
function heldAgainst({ compared, yardstick, format }: ComposeInput): string | null {
  if (compared) return format.dates(compared);
  if (!yardstick) return null;
  if (yardstick.kind === 'target') return format.words.theTarget;
  return fill(format.words.theTypical, { count: yardstick.ranges.length });
}

/** Lines of text under each other, each with its style. */
type Lines = { text: string; style: TextStyle }[];

const LEADING = 1.22;
/** Between what stands left and what stands right. */
const APART = 18;
/** Of the width, what the right side may take of a long left one. */
const RIGHT_SHARE = 0.58;

/** The text in the largest of the sizes in which it has at most `most` lines; in the smallest it is cut. */
function setLines(ruler: Ruler, text: string, style: TextStyle, sizes: readonly number[], most: number, room: number) {
  for (const size of sizes) {
    const lines = wrapText(ruler, text, { ...style, size }, room);
    if (lines.length <= most) return lines.map((t) => ({ text: t, style: { ...style, size } }));
  }
  const smallest = { ...style, size: sizes.at(-1)! };
  const lines = wrapText(ruler, text, smallest, room);
  const last = fitText(ruler, lines.slice(most - 1).join(' '), smallest, room);
  return [...lines.slice(0, most - 1), last].map((t) => ({ text: t, style: smallest }));
}

const heightOf = (lines: Lines): number => lines.reduce((sum, l) => sum + l.style.size * LEADING, 0);
const widest = (ruler: Ruler, lines: Lines): number =>
  Math.max(0, ...lines.map((l) => widthOf(ruler, l.style.face, l.style.size, l.text)));

function drawLines(pen: Pen, lines: Lines, x: number, top: number, align: 'left' | 'right'): void {
  let y = top;
  lines.forEach((line, i) => {
    y += line.style.size * LEADING;
    // Lines end with the space that parts their words when the text is copied; at the right there is no room for one.
    const text = i < lines.length - 1 && align === 'left' ? `${line.text} ` : line.text;
    pen.text(x, y - line.style.size * 0.2, text, line.style, align);
  });
}

/** What stands right on the first page: the period large, its dates and what it is held against. */
function rightOfFirst(input: ComposeInput, palette: Palette, room: number): { big: Lines; small: Lines } {
  const { format, ruler } = input;
  const label = format.range(input.period);
  const dates = format.dates(input.period);
  const against = heldAgainst(input);
  const compared = against === null ? '' : fill(format.words.comparedWith, { label: against });
  const said = [label === dates ? '' : dates, compared].filter((s) => s !== '').join(', ');
  const small: TextStyle = { face: 'sans', size: 8.5, fill: palette.muted };
  return {
    big: setLines(ruler, label, { face: 'serifBold', size: 17, fill: palette.ink }, [17, 15, 13, 11], 2, room),
    small: said === '' ? [] : setLines(ruler, said, small, [8.5, 8], 3, room),
  };
}

/**
 * The head of a page: whose it is on the left, what it covers on the right, each in as many lines as it needs beside the
 * other. @returns where the page's own matter begins, in points from the top of the sheet
 */
export function drawHead(input: ComposeInput, palette: Palette, pen: Pen, ops: Op[], first: boolean): number {
  const { ruler, brand } = input;
  const box = { x: MARGIN, y: MARGIN, maxWidth: 170, maxHeight: first ? 34 : 18 };
  const logoWidth = brand.logo ? drawLogo(ops, brand.logo, box, input.clientName, palette.main) : 0;
  // A mark without a name says little: the name stands beside it.
  const named = logoWidth < box.maxHeight * 1.8;
  const nameX = MARGIN + (logoWidth > 0 ? logoWidth + 9 : 0);
  const nameStyle: TextStyle = { face: 'sansBold', size: first ? 12 : 9, fill: palette.ink };
  const nameWidth = named ? widthOf(ruler, nameStyle.face, nameStyle.size, input.clientName) : 0;
  const left = nameX - MARGIN + nameWidth;
  const rightRoom = Math.max(WIDTH * RIGHT_SHARE, WIDTH - left - APART);
  const quiet: TextStyle = { face: 'sans', size: 8.5, fill: palette.ink };
  const right = first
    ? rightOfFirst(input, palette, rightRoom)
    : {
        big: [] as Lines,
        small: setLines(
          ruler,
          `${input.title} · ${input.format.range(input.period)}`,
          quiet,
          [8.5, 8, 7.5],
          3,
          rightRoom,
        ),
      };
  const taken = Math.max(widest(ruler, right.big), widest(ruler, right.small));
  const nameRoom = Math.max(40, RIGHT - taken - APART - nameX);
  const sizes = first ? [12, 10.5, 9.5] : [9, 8.5, 8];
  const name = named ? setLines(ruler, input.clientName, nameStyle, sizes, 4, nameRoom) : [];
  const least = first ? 34 : 15;
  const rightHeight = heightOf(right.big) + heightOf(right.small);
  const height = Math.max(least, rightHeight, heightOf(name), logoWidth > 0 ? box.maxHeight : 0);
  const drawName = () =>
    drawLines(
      pen,
      name,
      nameX,
      MARGIN + Math.max(0, ((logoWidth > 0 ? box.maxHeight : 20) - heightOf(name)) / 2),
      'left',
    );
  if (first && named) pen.tagged('P', null, drawName);
  else drawName();
  const drawRight = (lines: Lines, top: number) => drawLines(pen, lines, RIGHT, top, 'right');
  if (first) {
    pen.tagged('P', null, () => drawRight(right.big, MARGIN - 2));
    if (right.small.length > 0) pen.tagged('P', null, () => drawRight(right.small, MARGIN - 2 + heightOf(right.big)));
  } else {
    drawRight(right.small, MARGIN + 2);
  }
  const rule = MARGIN + height + 10;
  pen.line(MARGIN, rule, RIGHT, rule, palette.main, first ? 1.5 : 0.8);
  // An ornament: the brand's colour as it is, seen or not.
  if (first) pen.rect(MARGIN, rule - 0.75, 40, 3, brand.second);
  return rule + (first ? 18 : 14);
}
