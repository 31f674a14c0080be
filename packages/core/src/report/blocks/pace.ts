import { elapsed, isKnown, keyOf, type Question, type Value, valueOfAnswer } from '../../figures/index.ts';
import { fill, fullStop, gapDecimals, printedGap } from '../../words/index.ts';
import type { Laid, LayoutContext, Pen, Scope, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { metricField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { notePartly } from './notePartly.ts';
import { partlyText } from './partly.ts';
import { putLines } from './putLines.ts';

const fields = { metric: metricField(), title: titleField };

type PaceBlock = BlockOf<'pace', typeof fields>;

const BAR = 16;
const LINE = 13;
const NUMBER = 15;
/** Sizes in which the figures stand beside each other, the first that fits. */
const SIZES = [NUMBER, 13, 11];
const GAP = 14;
/** Above the longest of what is shown. */
const AIR = 1.06;

const asks = ({ metric }: PaceBlock, { period, at, weekStart, filter }: Scope) => ({
  pace: { op: 'pace', metric, range: period, at, weekStart, filter } satisfies Question,
  target: { op: 'target', metric, range: period, filter } satisfies Question,
});

type Lacking = Extract<Value, { na: unknown }>['na'];

/** One of the figures of a pace: its number, and what it is. */
interface Figure {
  text: string;
  name: string;
}

interface Told {
  title: string;
  figures: Figure[];
  /** What it comes to, each on a line of its own, with its tone. */
  lines: { text: string; fill: string }[];
  /** As drawn: to date, and where it will end; the target. */
  bar: { toDate: number; end: number | null; target: number | null };
  mark: string;
}

/** How far a figure is from its target, in words. */
function outlook({ format: { words } }: LayoutContext, off: number, say: (v: number) => string): string {
  if (off === 0) return words.pace.reached;
  return off > 0 ? fill(words.pace.over, { value: say(off) }) : fill(words.pace.short, { value: say(-off) });
}

function toldOf(block: PaceBlock, context: LayoutContext): Told | { title: string; na: Lacking } {
  const { format, palette, answers, period, at } = context;
  const { words } = format;
  const metric = context.book.of(block.metric);
  const label = context.labelOf(block.metric);
  const title = block.title.trim() || fill(words.pace.title, { metric: label });
  const asked = asks(block, context);
  const answer = answers[keyOf(asked.pace)];
  const found = answer?.op === 'pace' ? answer.pace : null;
  if (!found || !isKnown(found.toDate))
    return { title, na: found && !isKnown(found.toDate) ? found.toDate.na : 'no-data' };
  const target = valueOfAnswer(answers[keyOf(asked.target)]);
  const aim = target && isKnown(target) ? target.value : null;
  const isOver = period.to < at;
  const end = isKnown(found.projected) ? found.projected.value : null;
  const more = aim === null || end === null ? 0 : gapDecimals(end, aim, metric.unit, format);
  const say = (value: number) => format.figure(value, metric.unit, more);
  const figures: Figure[] = [
    { text: partlyText({ say }, found.toDate), name: isOver ? format.range(period) : words.pace.soFar },
    ...(isOver ? [] : [{ text: partlyText({ say }, found.projected), name: words.pace.atThisPace }]),
    ...(aim === null ? [] : [{ text: say(aim), name: words.pace.target }]),
  ];
  const lines: Told['lines'] = [];
  if (!isKnown(found.projected)) lines.push({ text: words.reasons[found.projected.na], fill: palette.muted });
  if (aim !== null && end !== null) {
    const isGood = metric.polarity === 'lower' ? end <= aim : end >= aim;
    const tone = metric.polarity === 'neutral' ? palette.muted : isGood ? palette.good : palette.wrong;
    lines.push({ text: outlook(context, printedGap(end, aim, metric.unit, more), say), fill: tone });
    if (!isOver && found.net !== null && found.toDate.value < aim) {
      const days = found.net > 0 ? Math.ceil((aim - found.toDate.value) / found.net - 1e-9) : null;
      lines.push({
        text: days === null ? words.pace.never : format.count(words.pace.days, days),
        fill: palette.muted,
      });
    }
  }
  return {
    title,
    figures,
    lines,
    bar: { toDate: found.toDate.value, end, target: aim },
    mark: context.dayMark(block.metric),
  };
}

const numberStyle = ({ palette }: LayoutContext, size = NUMBER): TextStyle => ({
  face: 'serifBold',
  size,
  fill: palette.ink,
});
const nameStyle = ({ palette }: LayoutContext): TextStyle => ({ face: 'sans', size: 8.5, fill: palette.muted });

/** What each figure of the row needs. */
const columnsOf = (context: LayoutContext, figures: readonly Figure[], size = NUMBER): number[] =>
  figures.map((f) => context.measure(f.text, numberStyle(context, size)));

function drawBar(pen: Pen, context: LayoutContext, { toDate, end, target }: Told['bar'], x: number, y: number): void {
  const { palette, width } = context;
  const most = Math.max(toDate, end ?? 0, target ?? 0) * AIR;
  const at = (value: number) => (most > 0 ? (Math.max(0, value) / most) * width : 0);
  pen.rect(x, y + BAR - 1, width, 1, palette.rule);
  if (end !== null && end > toDate) pen.rect(x, y, at(end), BAR, palette.mainTint);
  if (toDate > 0) pen.rect(x, y, at(toDate), BAR, palette.main);
  if (target !== null) {
    const tx = x + at(target);
    pen.line(tx, y - 4, tx, y + BAR + 4, palette.ink, 1.4);
  }
}

function layPace(context: LayoutContext, told: Told): Laid {
  const title = setTitle(
    context,
    told.title,
    told.mark,
    // Its own dates stand beneath.
    context.subtitle === '' ? context.format.range(context.period) : '',
  );
  const name = nameStyle(context);
  const n = told.figures.length;
  const third = (context.width - GAP * (n - 1)) / n;
  const size = SIZES.find((s) => Math.max(...columnsOf(context, told.figures, s)) <= third);
  const isRow = size !== undefined;
  const number = numberStyle(context, size);
  const column = isRow ? third : context.width;
  const cells = told.figures.map((f) => {
    const over = context.measure(f.text, number) / column;
    return {
      text: f.text,
      style: over > 1 ? { ...number, size: Math.floor((NUMBER / over) * 10) / 10 } : number,
      names: context.wrap(f.name, name, column),
    };
  });
  const heightOf = (c: (typeof cells)[number]) => NUMBER + 4 + c.names.length * 10 + 4;
  const figuresHeight = isRow ? Math.max(...cells.map(heightOf)) : cells.reduce((sum, c) => sum + heightOf(c), 0);
  const lines = told.lines.flatMap((l) => context.wrap(l.text, name, context.width).map((text) => ({ ...l, text })));
  const barAt = title.height + figuresHeight + 6;
  const { labelled } = context.format.words;
  const figures = told.figures.map((f) => fullStop(fill(labelled, { label: f.name, text: f.text })));
  const alt = [fullStop(told.title), ...figures, ...told.lines.map((l) => fullStop(l.text))].join(' ');
  return {
    height: barAt + BAR + 8 + lines.length * LINE,
    name: told.title,
    draw(pen, x, y) {
      title.draw(pen, x, y);
      let top = y + title.height;
      cells.forEach((cell, i) => {
        const left = isRow ? x + i * (column + GAP) : x;
        pen.tagged('P', null, () => {
          pen.text(left, top + NUMBER, `${cell.text} `, cell.style);
          putLines(pen, cell.names, (l) => [left, top + NUMBER + 13 + l * 10], name);
        });
        if (!isRow) top += heightOf(cell);
      });
      pen.tagged('Figure', alt, () => drawBar(pen, context, told.bar, x, y + barAt));
      lines.forEach((line, i) => {
        const style: TextStyle = { ...name, fill: line.fill };
        pen.tagged('P', null, () => pen.text(x, y + barAt + BAR + 16 + i * LINE, line.text, style));
      });
    },
  };
}

/** How a figure stands on its way: what came so far, where it will end at this pace, and its target (SEMANTICS §8). */
export const pace = defineBlock({
  kind: 'pace',
  fields,
  mail: { as: 'chart' },
  make: ({ metric }) => ({ metric, title: '' }),
  about: 'metric',
  questions: (block, scope) => Object.values(asks(block, scope)),
  least(block, context) {
    const told = toldOf(block, context);
    return 'na' in told ? 0 : Math.max(...columnsOf(context, told.figures));
  },
  lay(block, context) {
    const told = toldOf(block, context);
    if ('na' in told) return layReason(context, told.title, context.format.words.reasons[told.na]);
    const answer = context.answers[keyOf(asks(block, context).pace)];
    const passed = elapsed(context.period, context.at);
    if (answer?.op === 'pace' && passed) notePartly(context, block.metric, answer.pace.toDate, passed);
    return layPace(context, told);
  },
});
