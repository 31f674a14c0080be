import { comparisonHead, filterWords, type Palette, type Pen, type TextStyle, wholeParts } from '../report/index.ts';
import { atHead } from '../words/index.ts';
import type { PageInput } from './composeInput.ts';
import { drawLogo } from './logo.ts';
import { type PageRuler, widthOf } from './ruler.ts';
import type { Op } from './scene.ts';
import { MARGIN, type Sheet } from './sheet.ts';
import { fitText, wrapText } from './textFit.ts';

/** What alone the report counts, in words; empty where it counts all. */
const countedOnly = (input: PageInput): string =>
  filterWords(wholeParts(input.document, input), input.segments ?? [], input.format);

/** Lines of text under each other, each with its style. */
type Lines = { text: string; style: TextStyle }[];

const LEADING = 1.22;
/** Between what stands left and what stands right. */
const APART = 18;
/** Of the width, what the right side may take of a long left one. */
const RIGHT_SHARE = 0.58;

/** The text in the largest of the sizes in which it has at most `most` lines; in the smallest it is cut. */
function setLines(
  ruler: PageRuler,
  text: string,
  style: TextStyle,
  sizes: readonly number[],
  most: number,
  room: number,
) {
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
const widest = (ruler: PageRuler, lines: Lines): number =>
  Math.max(0, ...lines.map((l) => widthOf(ruler, l.style.face, l.style.size, l.text)));

function drawLines(pen: Pen, lines: Lines, x: number, top: number, align: 'left' | 'right'): void {
  let y = top;
  lines.forEach((line, i) => {
    y += line.style.size * LEADING;
    // Lines end with the space that parts their words when the text is copied.
    const text = i < lines.length - 1 ? `${line.text} ` : line.text;
    pen.text(x, y - line.style.size * 0.2, text, line.style, align);
  });
}

/** What stands right on the first page: the period large, its dates and what it is held against. */
function rightOfFirst(input: PageInput, palette: Palette, room: number): { big: Lines; small: Lines } {
  const { format, ruler } = input;
  const label = atHead(format.range(input.period), format.locale);
  const dates = format.dates(input.period);
  const said = [format.range(input.period) === dates ? '' : dates, comparisonHead(input, true)]
    .filter((s) => s !== '')
    .join(' · ');
  const small: TextStyle = { face: 'sans', size: 8.5, fill: palette.muted };
  return {
    big: setLines(ruler, label, { face: 'serifBold', size: 17, fill: palette.ink }, [17, 15, 13, 11], 2, room),
    small: [said, countedOnly(input)].flatMap((t) => (t === '' ? [] : setLines(ruler, t, small, [8.5, 8], 3, room))),
  };
}

/** Sizes of the report's title, and points between what stands above and beneath it. */
const TITLE = { sizes: [20, 17, 15], most: 3, above: 4, beneath: 10 };

/** The title of the report, under the head of its first page. @returns where it ends */
function drawTitle(input: PageInput, palette: Palette, pen: Pen, top: number, { inner }: Sheet): number {
  const style: TextStyle = { face: 'serifBold', size: TITLE.sizes[0]!, fill: palette.ink };
  const lines = setLines(input.ruler, input.title, style, TITLE.sizes, TITLE.most, inner);
  pen.tagged('H1', null, () => drawLines(pen, lines, MARGIN, top + TITLE.above - 4, 'left'));
  return top + TITLE.above + heightOf(lines) + TITLE.beneath;
}

/**
 * The head of a page: whose it is on the left, what it covers on the right, each in as many lines as it needs beside the
 * other; on the first page, the report's title beneath.
 * @returns where the page's own matter begins, in points from the top of the sheet
 */
export function drawHead(
  input: PageInput,
  palette: Palette,
  pen: Pen,
  ops: Op[],
  first: boolean,
  sheet: Sheet,
): number {
  const { ruler, brand } = input;
  const box = { x: MARGIN, y: MARGIN, maxWidth: 170, maxHeight: first ? 34 : 18 };
  const rule = first ? drawAll() : inHead(drawAll);
  return first ? drawTitle(input, palette, pen, rule + 18, sheet) : rule + 14;

  /** What repeats on every page is no part of what is read. */
  function inHead(draw: () => number): number {
    let at = 0;
    pen.tagged('PageHead', null, () => {
      at = draw();
    });
    return at;
  }

  function drawAll(): number {
    const across = ruler.direction === 'rtl' ? sheet.width : null;
    const logoWidth = brand.logo ? drawLogo(ops, brand.logo, box, input.clientName, palette.main, across) : 0;
    // A mark without a name says little: the name stands beside it.
    const named = logoWidth < box.maxHeight * 1.8;
    const nameX = MARGIN + (logoWidth > 0 ? logoWidth + 9 : 0);
    const nameStyle: TextStyle = { face: 'sansBold', size: first ? 12 : 9, fill: palette.ink };
    const nameWidth = named ? widthOf(ruler, nameStyle.face, nameStyle.size, input.clientName) : 0;
    const left = nameX - MARGIN + nameWidth;
    const rightRoom = Math.max(sheet.inner * RIGHT_SHARE, sheet.inner - left - APART);
    const quiet: TextStyle = { face: 'sans', size: 8.5, fill: palette.ink };
    const running = [input.title, input.format.range(input.period), countedOnly(input)]
      .filter((t) => t !== '')
      .join(' · ');
    const right = first
      ? rightOfFirst(input, palette, rightRoom)
      : { big: [] as Lines, small: setLines(ruler, running, quiet, [8.5, 8, 7.5], 3, rightRoom) };
    const taken = Math.max(widest(ruler, right.big), widest(ruler, right.small));
    const nameRoom = Math.max(40, sheet.right - taken - APART - nameX);
    const sizes = first ? [12, 10.5, 9.5] : [9, 8.5, 8];
    const name = named ? setLines(ruler, input.clientName, nameStyle, sizes, 4, nameRoom) : [];
    const least = first ? 34 : 15;
    const rightHeight = heightOf(right.big) + heightOf(right.small);
    const height = Math.max(least, rightHeight, heightOf(name), logoWidth > 0 ? box.maxHeight : 0);
    const nameTop = MARGIN + Math.max(0, ((logoWidth > 0 ? box.maxHeight : 20) - heightOf(name)) / 2);
    const drawName = () => drawLines(pen, name, nameX, nameTop, 'left');
    const drawRight = (lines: Lines, top: number) => drawLines(pen, lines, sheet.right, top, 'right');
    if (first) {
      if (named) pen.tagged('P', null, drawName);
      pen.tagged('P', null, () => drawRight(right.big, MARGIN - 2));
      if (right.small.length > 0) pen.tagged('P', null, () => drawRight(right.small, MARGIN - 2 + heightOf(right.big)));
    } else {
      drawName();
      drawRight(right.small, MARGIN + 2);
    }
    const at = MARGIN + height + 10;
    pen.line(MARGIN, at, sheet.right, at, palette.main, first ? 1.5 : 0.8);
    // An ornament: the brand's colour as it is, seen or not.
    if (first) pen.rect(MARGIN, at - 0.75, 40, 3, brand.second);
    return at;
  }
}
