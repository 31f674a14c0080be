import { changeOf, isKnown, type Metric, type Pair, type Value } from '../../figures/index.ts';
import { shareColumns } from '../../set/index.ts';
import type { Column } from '../../words/index.ts';
import type { Laid, LayoutContext, Pen, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { fewLines } from './fewLines.ts';
import { putLines } from './putLines.ts';

export interface Line {
  label: string;
  cells: Pair[];
  kind: 'row' | 'other' | 'total';
}

export interface Table {
  title: string;
  lines: Line[];
  metrics: Metric[];
  /** How each metric's column is written. */
  columns: Column[];
  /** Largest current value of the ranking metric: a full bar. */
  top: number;
  hasChange: boolean;
  head: string;
}

/** Stands after a figure that is not made from all of its days; a note says how much is known. */
export const PARTLY = '†';

/** Sizes of the table's text, the first that fits: a figure is never cut, however many digits it has. */
const SIZES = [8.5, 8, 7.5, 7, 6.5, 6, 5.5, 5, 4.5, 4];
const GAP = 10;
/** Label columns: never narrower, room for words as long as usual, and wide enough for most labels. */
const LABEL = { least: 56, word: 92, natural: 150 };
/** A head wraps; it never makes a column wider than this. */
const HEAD_WIDTH = 72;
const HEAD_LINES = 4;
/** A label has as many, each next one so many sizes beneath. */
const LABEL_LINES = 2;
const LABEL_LEADING = 1.15;
/** A bar that has less than this to grow in says nothing, and is left out. */
const BAR = { least: 28, natural: 200 };

/** A cell of a line: how it is printed, and in which colour. */
interface Cell {
  text: string;
  fill: string;
}

function cellText(column: Column, value: Value): string {
  if (!isKnown(value)) return '–';
  const text = column.say(value.value);
  return value.partial ? `${text} ${PARTLY}` : text;
}

/** What is printed of a line, from left to right after its label. */
function cellsOf({ palette, format }: LayoutContext, table: Table, line: Line): Cell[] {
  return table.metrics.flatMap((metric, i) => {
    const pair = line.cells[i]!;
    const figure = { text: cellText(table.columns[i]!, pair.current), fill: palette.ink };
    if (i !== 0 || !table.hasChange) return [figure];
    const change = pair.compared && changeOf(pair.current, pair.compared, metric.unit, metric.polarity);
    const tones = { better: palette.good, worse: palette.wrong };
    const fill = tones[change?.verdict as 'better' | 'worse'] ?? palette.muted;
    return [figure, { text: (change && format.change(change)) ?? '–', fill }];
  });
}

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
const lineStyle = ({ palette }: LayoutContext, size: number, kind: Line['kind']): TextStyle => ({
  face: kind === 'total' ? 'sansBold' : 'sans',
  size,
  fill: palette.ink,
});

const longestWord = (context: LayoutContext, text: string, style: TextStyle): number =>
  Math.max(...text.split(' ').map((w) => context.measure(w, style)));

/** What stands over the columns of figures. */
const headsOf = (context: LayoutContext, table: Table): { text: string; mark: string }[] =>
  table.metrics.flatMap((metric, i) => [
    { text: context.labelOf(metric.key), mark: context.oddMark(metric.key) },
    ...(i === 0 && table.hasChange ? [{ text: context.format.words.change, mark: '' }] : []),
  ]);

function wishesOf(context: LayoutContext, table: Table, size: number) {
  const rows = table.lines.map((line) => ({ line, cells: cellsOf(context, table, line) }));
  const figures = headsOf(context, table).map(({ text, mark }, i) => {
    const widest = Math.max(
      ...rows.map(({ line, cells }) => context.measure(cells[i]!.text, lineStyle(context, size, line.kind))),
    );
    const style = headStyle(context, size);
    const head = context.measure(text + mark, style);
    // Its words are parted, not broken, as far as they are of usual length.
    const word = longestWord(context, text + mark, style);
    const least = Math.max(widest, Math.min(word, HEAD_WIDTH));
    return { least, natural: Math.max(least, Math.min(head, HEAD_WIDTH)) };
  });
  const labels = Math.max(
    ...table.lines.map((l) => context.measure(l.label, lineStyle(context, size, l.kind))),
    context.measure(table.head, headStyle(context, size)),
  );
  const words = [
    ...table.lines.map((l) => longestWord(context, l.label, lineStyle(context, size, l.kind))),
    longestWord(context, table.head, headStyle(context, size)),
  ];
  const least = Math.max(LABEL.least, Math.min(LABEL.word, Math.max(...words)));
  const label = { least: Math.min(labels, least), natural: Math.min(labels, Math.max(LABEL.natural, least)) };
  return { label, figures };
}

/** Narrowest width at which the table can be read, in its usual size. */
export function leastOfTable(context: LayoutContext, table: Table): number {
  const { label, figures } = wishesOf(context, table, SIZES[0]!);
  return [label, ...figures].reduce((sum, w) => sum + w.least, figures.length * GAP);
}

function measure(context: LayoutContext, table: Table): Measured {
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
    const heads = headsOf(context, table).map(({ text, mark }, i) =>
      fewLines(context, text, mark, head, widths[i + 1]! + (i === 0 ? bar : 0), HEAD_LINES),
    );
    const headLabel = fewLines(context, table.head, '', head, labelWidth, HEAD_LINES);
    const most = Math.max(headLabel.length, ...heads.map((h) => h.length));
    const labels = table.lines.map((l) =>
      fewLines(context, l.label, '', lineStyle(context, size, l.kind), labelWidth, LABEL_LINES),
    );
    return {
      size,
      label: labelWidth,
      bar,
      ends,
      widths: widths.slice(1),
      heads,
      labels,
      heights: labels.map((l) => size + 8.5 + (l.length - 1) * size * LABEL_LEADING),
      headLabel,
      headHeight: 8 + most * (size + 1.5),
    };
  }
  throw new RangeError('a table has no size');
}

/** Draws the line of a place with its top at `y`. */
function drawLine(pen: Pen, context: LayoutContext, table: Table, m: Measured, i: number, x: number, y: number): void {
  const line = table.lines[i]!;
  const height = m.heights[i]!;
  const labels = m.labels[i]!;
  const style = lineStyle(context, m.size, line.kind);
  const leading = m.size * LABEL_LEADING;
  const first = y + m.size + 3;
  // Figures stand beside the middle of their label.
  const baseline = first + ((labels.length - 1) * leading) / 2;
  const { palette } = context;
  pen.tagged('TR', null, () => {
    pen.tagged('TH', null, () => putLines(pen, labels, (l) => [x, first + l * leading], style), { scope: 'Row' });
    cellsOf(context, table, line).forEach((cell, c) => {
      pen.tagged('TD', null, () => {
        const value = line.cells[0]!.current;
        if (c === 0 && m.bar > 0 && isKnown(value) && line.kind !== 'total') {
          const width = Math.min(1, Math.max(0, value.value / table.top)) * m.bar;
          if (width > 0.2) pen.rect(x + m.label + GAP, baseline - m.size + 1.5, width, m.size, palette.mainTint);
        }
        pen.text(x + m.ends[c]!, baseline, cell.text, { ...style, fill: cell.fill }, 'right');
      });
    });
  });
  if (line.kind !== 'total') pen.line(x, y + height, x + context.width, y + height, palette.rule, 0.5);
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
export function layTable(context: LayoutContext, table: Table): Laid {
  const measured = measure(context, table);
  const title = setTitle(context, table.title);
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
