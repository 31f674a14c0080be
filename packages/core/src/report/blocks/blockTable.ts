import { shareColumns } from '../../typeset/index.ts';
import { fill } from '../../words/index.ts';
import type { Logo } from '../brand.ts';
import type { Laid, LayoutContext, Pen, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { fewLines } from './fewLines.ts';
import { putLines } from './putLines.ts';

/** A cell of a line: how it is printed, and in which colour. */
export interface TableCell {
  text: string;
  fill: string;
}

export interface TableLine {
  label: string;
  cells: readonly TableCell[];
  /** The part of a full bar; null for none. */
  bar: number | null;
  /** The sum of the others: bold, with no rule beneath. */
  isTotal?: boolean;
  /** The one that the table is about: bold, its bar in the brand's colour. */
  isOwn?: boolean;
  /** Where its label leads. */
  link?: string | undefined;
  /** What it looks like, before its label. A table with one picture has room for one in each line. */
  picture?: Logo | null;
}

/** A table of texts, as a block has it: labels on the left, figures on the right of their columns. */
export interface BlockTable {
  title: string;
  /** What stands after the title and is never cut, and what is said beside it. */
  mark?: string;
  beside?: string;
  /** Over the labels, and over each column of figures. */
  head: string;
  heads: readonly { text: string; mark: string }[];
  lines: readonly TableLine[];
}

/** Sizes of the table's text, the first that fits: a figure is never cut, however many digits it has. */
const SIZES = [8.5, 8, 7.5, 7, 6.5, 6, 5.5, 5, 4.5, 4];
const GAP = 10;
/** Label columns: never narrower, room for words as long as usual, and wide enough for most labels. */
const LABEL = { least: 56, word: 92, natural: 150 };
/** Of a picture before a label: points each way, and to the label; above and beneath it. */
const PICTURE = { side: 28, gap: 8, apart: 4 };
const pictured = ({ lines }: BlockTable): number => (lines.some((l) => l.picture) ? PICTURE.side + PICTURE.gap : 0);

/** A head wraps; it never makes a column wider than this. */
const HEAD_WIDTH = 72;
const HEAD_LINES = 4;
/** A label has as many, each next one so many sizes beneath. */
const LABEL_LINES = 2;
const LABEL_LEADING = 1.15;
/** A bar that has less than this to grow in says nothing, and is left out. */
const BAR = { least: 28, natural: 200 };

/** A table as it is measured: its columns for one size of text, whatever the number of rows. */
interface Measured {
  size: number;
  label: number;
  /** Of the bar; 0 where it has no room. */
  bar: number;
  /** Right ends of the columns after it, and their widths. */
  ends: number[];
  widths: number[];
  heads: string[][];
  /** Of each line of the whole table: its label, and its height. */
  labels: string[][];
  heights: number[];
  headLabel: string[];
  headHeight: number;
}

const headStyle = ({ palette }: LayoutContext, size: number): TextStyle => ({
  face: 'sansBold',
  size: size - 0.5,
  fill: palette.muted,
});
const lineStyle = ({ palette }: LayoutContext, size: number, { isTotal, isOwn }: TableLine): TextStyle => ({
  face: isTotal || isOwn ? 'sansBold' : 'sans',
  size,
  fill: palette.ink,
});

const longestWord = (context: LayoutContext, text: string, style: TextStyle): number =>
  Math.max(...text.split(' ').map((w) => context.measure(w, style)));

function wishesOf(context: LayoutContext, table: BlockTable, size: number) {
  const figures = table.heads.map(({ text, mark }, i) => {
    const widest = Math.max(...table.lines.map((l) => context.measure(l.cells[i]!.text, lineStyle(context, size, l))));
    const style = headStyle(context, size);
    const head = context.measure(text + mark, style);
    // Its words are parted, not broken, as far as they are of usual length.
    const word = longestWord(context, text + mark, style);
    const least = Math.max(widest, Math.min(word, HEAD_WIDTH));
    return { least, natural: Math.max(least, Math.min(head, HEAD_WIDTH)) };
  });
  const labels = Math.max(
    ...table.lines.map((l) => context.measure(l.label, lineStyle(context, size, l))),
    context.measure(table.head, headStyle(context, size)),
  );
  const words = [
    ...table.lines.map((l) => longestWord(context, l.label, lineStyle(context, size, l))),
    longestWord(context, table.head, headStyle(context, size)),
  ];
  const least = Math.max(LABEL.least, Math.min(LABEL.word, Math.max(...words)));
  const beside = pictured(table);
  const label = {
    least: beside + Math.min(labels, least),
    natural: beside + Math.min(labels, Math.max(LABEL.natural, least)),
  };
  return { label, figures };
}

/** Narrowest width at which the table can be read, in its usual size. */
export function leastOfTable(context: LayoutContext, table: BlockTable): number {
  const { label, figures } = wishesOf(context, table, SIZES[0]!);
  return [label, ...figures].reduce((sum, w) => sum + w.least, figures.length * GAP);
}

const heightOfLines = (size: number, lines: number): number => size + 8.5 + (lines - 1) * size * LABEL_LEADING;

function measure(context: LayoutContext, table: BlockTable): Measured {
  for (const size of SIZES) {
    const { label, figures } = wishesOf(context, table, size);
    const room = context.width - figures.length * GAP;
    const widths =
      shareColumns([label, ...figures], room) ??
      (size === SIZES.at(-1) ? [label, ...figures].map((w) => w.least) : null);
    if (!widths) continue;
    const left = room - widths.reduce((sum, w) => sum + w, 0);
    const bar = left - GAP >= BAR.least ? left - GAP : 0;
    // Where no bar stands, the label has what is left.
    const labelWidth = widths[0]! + (bar > 0 ? 0 : Math.max(0, left));
    const ends: number[] = [];
    let x = labelWidth + (bar > 0 ? GAP + bar : 0);
    for (const w of widths.slice(1)) {
      x += GAP + w;
      ends.push(x);
    }
    const head = headStyle(context, size);
    const heads = table.heads.map(({ text, mark }, i) =>
      fewLines(context, text, mark, head, widths[i + 1]! + (i === 0 ? bar : 0), HEAD_LINES),
    );
    const headLabel = fewLines(context, table.head, '', head, labelWidth, HEAD_LINES);
    const most = Math.max(headLabel.length, ...heads.map((h) => h.length));
    const labels = table.lines.map((l) =>
      fewLines(context, l.label, '', lineStyle(context, size, l), labelWidth - pictured(table), LABEL_LINES),
    );
    const lowest = pictured(table) > 0 ? PICTURE.side + 2 * PICTURE.apart : 0;
    return {
      size,
      label: labelWidth,
      bar,
      ends,
      widths: widths.slice(1),
      heads,
      labels,
      heights: labels.map((l) => Math.max(lowest, heightOfLines(size, l.length))),
      headLabel,
      headHeight: 8 + most * (size + 1.5),
    };
  }
  throw new RangeError('a table has no size');
}

/** Draws the line of a place with its top at `y`. */
function drawLine(
  pen: Pen,
  context: LayoutContext,
  table: BlockTable,
  m: Measured,
  i: number,
  x: number,
  y: number,
): void {
  const line = table.lines[i]!;
  const height = m.heights[i]!;
  const labels = m.labels[i]!;
  const style = lineStyle(context, m.size, line);
  const leading = m.size * LABEL_LEADING;
  // Words stand beside the middle of their picture.
  const first = y + (height - heightOfLines(m.size, labels.length)) / 2 + m.size + 3;
  const left = x + pictured(table);
  // Figures stand beside the middle of their label.
  const baseline = first + ((labels.length - 1) * leading) / 2;
  const { palette } = context;
  pen.tagged('TR', null, () => {
    const putLabel = () => putLines(pen, labels, (l) => [left, first + l * leading], style);
    const { link } = line;
    const putLinked = () => (link ? pen.tagged('Link', null, putLabel, { link, about: line.label }) : putLabel());
    const putHead = () => {
      const at = { x, y: y + (height - PICTURE.side) / 2 };
      if (line.picture) {
        const box = { ...at, maxWidth: PICTURE.side, maxHeight: PICTURE.side };
        const { words } = context.format;
        const about = fill(words.labelled, { label: words.blocks.picture ?? '', text: line.label });
        pen.picture(line.picture, box, about, palette.main);
      } else if (left > x) pen.rect(at.x, at.y, PICTURE.side, PICTURE.side, palette.rule);
      putLinked();
    };
    pen.tagged('TH', null, putHead, { scope: 'Row' });
    line.cells.forEach((cell, c) => {
      pen.tagged('TD', null, () => {
        if (c === 0 && m.bar > 0 && line.bar !== null) {
          const width = Math.min(1, Math.max(0, line.bar)) * m.bar;
          if (width > 0.2)
            pen.rect(
              x + m.label + GAP,
              baseline - m.size + 1.5,
              width,
              m.size,
              line.isOwn ? palette.main : palette.mainTint,
            );
        }
        pen.text(x + m.ends[c]!, baseline, cell.text, { ...style, fill: cell.fill }, 'right');
      });
    });
  });
  if (!line.isTotal) pen.line(x, y + height, x + context.width, y + height, palette.rule, 0.5);
}

function drawHead(pen: Pen, context: LayoutContext, m: Measured, x: number, y: number): void {
  const style = headStyle(context, m.size);
  const bottom = y + m.headHeight - 2;
  const leading = m.size + 1.5;
  const put = (lines: readonly string[], at: number, align: 'left' | 'right') =>
    pen.tagged(
      'TH',
      null,
      () => putLines(pen, lines, (i) => [at, bottom - 5 - (lines.length - 1 - i) * leading], style, align),
      { scope: 'Column' },
    );
  pen.tagged('TR', null, () => {
    put(m.headLabel, x, 'left');
    m.heads.forEach((lines, i) => {
      put(lines, x + m.ends[i]!, 'right');
    });
  });
  pen.line(x, bottom, x + context.width, bottom, context.palette.ink, 0.8);
}

const sum = (heights: readonly number[]): number => heights.reduce((total, h) => total + h, 0);

/** A table, its columns as wide as what stands in them; divided, its head and its columns are the same on each page. */
export function layTable(context: LayoutContext, table: BlockTable): Laid {
  const measured = measure(context, table);
  const title = setTitle(context, table.title, table.mark, table.beside);
  const head = title.height + measured.headHeight;
  const { heights } = measured;
  const laid = (from: number, to: number): Laid => ({
    height: head + sum(heights.slice(from, to)),
    name: table.title,
    draw(pen, x, y) {
      title.draw(pen, x, y);
      pen.tagged('Table', null, () => {
        drawHead(pen, context, measured, x, y + title.height);
        let top = y + head;
        for (let i = from; i < to; i++) {
          drawLine(pen, context, table, measured, i, x, top);
          top += heights[i]!;
        }
      });
    },
  });
  return {
    ...laid(0, heights.length),
    pieces: {
      heights: heights.map((h, i) => h + (i === 0 ? head : 0)),
      // No row is left alone on either side, and the total stands with a row.
      penalties: heights.map((_, i) => (i < 1 || i >= heights.length - 2 ? Number.POSITIVE_INFINITY : 0)),
      again: head,
      cut: laid,
    },
  };
}
