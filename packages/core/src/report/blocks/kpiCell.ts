import type { Change, Metric, Value } from '../../figures/index.ts';
import { isKnown } from '../../figures/index.ts';
import type { Formatter } from '../../words/index.ts';
import type { LayoutContext, Pen, TextStyle } from './block.ts';
import { fewLines } from './fewLines.ts';
import type { MailFigure } from './mailPiece.ts';
import { putLines } from './putLines.ts';

/** A change with its words; null where none may be told. */
export interface Told {
  change: Change;
  text: string;
  /** Whether its verdict stands beside it: where the word for steady stands instead of a number, nothing else does. */
  isJudged: boolean;
}

/** What is said of one figure, before it is known how much room there is. */
export interface KpiFigure {
  metric: Metric;
  label: string;
  /** What stands after the label, and is never cut. */
  mark: string;
  current: Value;
  change: Told | null;
  /** What stands beneath, each its own paragraph. */
  lines: string[];
  /** Decimals beyond the usual. */
  more: number;
  /** Its days, for the line without axes; empty where there are too few. */
  days: (number | null)[];
}

/**
 * How the figures of a row are written, the first that fits: a figure is never cut, and those that stand together are
 * written alike. At last over two lines, in the last of these.
 */
export const STEPS = [
  { size: 20, as: 'full' },
  { size: 17, as: 'full' },
  { size: 14, as: 'full' },
  { size: 14, as: 'bare' },
  { size: 14, as: 'short' },
] as const satisfies Step[];

/** Of one figure that stands alone. */
export const LARGE_STEPS = [
  { size: 34, as: 'full' },
  { size: 28, as: 'full' },
  { size: 24, as: 'full' },
  ...STEPS,
] as const;

type Step = { size: number; as: 'full' | 'bare' | 'short' };

/** Points; of the label, the figure's own line for each size, and small lines. */
const LABEL = 10;
const LABEL_LINES = 3;
const LINE = 12;
const SPARKLINE = 22;
const INDENT = 9;
/** No figure is set smaller. */
const SMALLEST = 5;

const bigStyle = (context: LayoutContext, size: number): TextStyle => ({
  face: 'serifBold',
  size,
  fill: context.palette.ink,
});
const labelStyle = ({ palette }: LayoutContext): TextStyle => ({ face: 'sansBold', size: 8.5, fill: palette.muted });
const smallStyle = ({ palette }: LayoutContext): TextStyle => ({ face: 'sans', size: 8.5, fill: palette.muted });

function textOf({ current, metric, more }: KpiFigure, as: Step['as'], format: Formatter): string {
  if (!isKnown(current)) return '–';
  if (as === 'short') return format.shortFigure(current.value, metric.unit);
  if (as === 'bare') return format.bareFigure(current.value, metric.unit, more);
  return format.figure(current.value, metric.unit, more);
}

const widest = (context: LayoutContext, figures: readonly KpiFigure[], step: Step): number =>
  Math.max(...figures.map((f) => context.measure(textOf(f, step.as, context.format), bigStyle(context, step.size))));

/** Narrowest column in which the figures of a row can be written on one line. */
export const leastColumn = (context: LayoutContext, figures: readonly KpiFigure[]): number =>
  Math.max(44, widest(context, figures, STEPS.at(-1)!));

/** How a row of figures is written in columns of `width` points; null where not on one line. */
export const stepFor = (
  context: LayoutContext,
  figures: readonly KpiFigure[],
  width: number,
  steps: readonly Step[] = STEPS,
): Step | null => steps.find((step) => widest(context, figures, step) <= width) ?? null;

/** Lines of a change: its number, and its verdict beside it or beneath. */
function changeLines(context: LayoutContext, told: Told, width: number) {
  const { change, text } = told;
  const { verdict, word } = verdictOf(told, context.format);
  const { palette } = context;
  const fill = verdict === 'better' ? palette.good : verdict === 'worse' ? palette.wrong : palette.muted;
  const bold: TextStyle = { face: 'sansBold', size: 8.5, fill };
  const plain: TextStyle = { ...bold, face: 'sans' };
  const hasArrow = typeof change.abs === 'number' && verdict !== 'steady' && change.abs !== 0;
  const indent = hasArrow ? INDENT : 0;
  const lines = context.wrap(text, bold, width - indent).map((t) => [{ text: t, x: indent, style: bold }]);
  if (word !== '') {
    const last = lines.at(-1)!;
    const beside = indent + context.measure(`${last[0]!.text} `, bold);
    if (beside + context.measure(word, plain) <= width) last.push({ text: word, x: beside, style: plain });
    else for (const t of context.wrap(word, plain, width - indent)) lines.push([{ text: t, x: indent, style: plain }]);
  }
  return { lines, arrow: hasArrow ? { up: (change.abs as number) > 0, fill } : null };
}

/** How a change is judged, and in which word; none where nothing is told. */
function verdictOf({ change, isJudged }: Told, { words }: Formatter) {
  const verdict = isJudged ? change.verdict : 'steady';
  // A change in places says by itself whether it is good; of one that is neither there is nothing to say.
  const named = { none: '', better: words.better, worse: words.worse, steady: words.steady, changed: '' };
  return { verdict, word: isJudged && change.places === undefined ? named[verdict] : '' };
}

/** A figure in the words of the page, for a mail. */
export function mailFigureOf({ format }: LayoutContext, figure: KpiFigure): MailFigure {
  const { current, change: told, label, mark, lines } = figure;
  if (!isKnown(current)) {
    const text = format.words.reasons[current.na];
    return { label: label + mark, figure: '–', change: '', verdict: '', tone: 'plain', lines: [text] };
  }
  const judged = told && verdictOf(told, format);
  return {
    label: label + mark,
    figure: textOf(figure, 'full', format),
    change: told?.text ?? '',
    verdict: judged?.word ?? '',
    tone: judged?.verdict === 'better' || judged?.verdict === 'worse' ? judged.verdict : 'plain',
    lines,
  };
}

/** One figure as it is set in a column: its lines, part by part. */
export function setCell(context: LayoutContext, figure: KpiFigure, width: number, step: Step | null) {
  const { format } = context;
  const as = step?.as ?? 'short';
  const label = labelStyle(context);
  const isBare = figure.metric.unit === 'money' && as !== 'full' && isKnown(figure.current);
  const name = isBare ? `${figure.label}, ${format.currencySign}` : figure.label;
  const labelLines = fewLines(context, name, figure.mark, label, width, LABEL_LINES);
  const text = textOf(figure, as, format);
  let big = bigStyle(context, step?.size ?? STEPS.at(-1)!.size);
  let figures = [text];
  if (!step) {
    // A no-break space parts a number from what it counts: the last place at which it may be broken.
    const parts = text.split(/[\u00a0\u202f ]/);
    figures = parts.length === 2 ? parts : [text];
    const over = Math.max(...figures.map((f) => context.measure(f, big))) / width;
    if (over > 1) big = { ...big, size: Math.max(SMALLEST, Math.floor((big.size / over) * 10) / 10) };
  }
  const change = isKnown(figure.current) && figure.change ? changeLines(context, figure.change, width) : null;
  const said = isKnown(figure.current) ? figure.lines : [format.words.reasons[figure.current.na]];
  const small = smallStyle(context);
  return {
    labelLines,
    figures,
    big,
    change,
    lines: said.flatMap((l) => context.wrap(l, small, width)),
    days: figure.days,
  };
}

export type SetCell = ReturnType<typeof setCell>;

/** Where the parts of a row of figures stand, so that they line up: points beneath its top. */
export function levelsOf(cells: readonly SetCell[]) {
  const most = (of: (cell: SetCell) => number) => Math.max(...cells.map(of));
  const size = most((c) => c.big.size);
  const label = 9;
  const figure = label + (most((c) => c.labelLines.length) - 1) * LABEL + 2 + size;
  const leading = size * 1.1;
  const beneath = figure + (most((c) => c.figures.length) - 1) * leading + 15;
  const small = most((c) => (c.change?.lines.length ?? 0) + c.lines.length);
  const spark = beneath + (small - 1) * LINE + 8;
  const hasDays = cells.some((c) => c.days.length > 0);
  return { label, figure, leading, beneath, spark, height: hasDays ? spark + SPARKLINE : spark - 2 };
}
type Levels = ReturnType<typeof levelsOf>;

/** A small triangle that points the way the figure went; drawn, since many faces lack the character. */
function arrow(pen: Pen, x: number, baseline: number, up: boolean, fill: string): void {
  const [tip, base] = up ? [baseline - 6.5, baseline - 0.5] : [baseline, baseline - 6];
  pen.path(`M${x} ${base}L${x + 7} ${base}L${x + 3.5} ${tip}Z`, { fill });
}

/** Draws lines as one paragraph. */
function paragraph(pen: Pen, lines: readonly string[], at: (i: number) => [number, number], style: TextStyle): void {
  if (lines.length === 0) return;
  pen.tagged('P', null, () => putLines(pen, lines, at, style));
}

export function drawCell(
  pen: Pen,
  context: LayoutContext,
  cell: SetCell,
  levels: Levels,
  x: number,
  y: number,
  width: number,
) {
  paragraph(pen, cell.labelLines, (i) => [x, y + levels.label + i * LABEL], labelStyle(context));
  paragraph(pen, cell.figures, (i) => [x, y + levels.figure + i * levels.leading], cell.big);
  const { change } = cell;
  if (change) {
    pen.tagged('P', null, () => {
      if (change.arrow) arrow(pen, x, y + levels.beneath, change.arrow.up, change.arrow.fill);
      change.lines.forEach((runs, i) => {
        for (const run of runs) pen.text(x + run.x, y + levels.beneath + i * LINE, `${run.text} `, run.style);
      });
    });
  }
  const from = levels.beneath + (change?.lines.length ?? 0) * LINE;
  paragraph(pen, cell.lines, (i) => [x, y + from + i * LINE], smallStyle(context));
  if (cell.days.length > 0) context.sparkline(cell.days, width - 8, SPARKLINE).draw(pen, x, y + levels.spark);
}
