import { scaleLinear } from 'd3-scale';
import { type Drivers, isKnown, keyOf, na, type Question, type Value, valueOfAnswer } from '../../figures/index.ts';
import { type ColumnWish, shareColumns } from '../../typeset/index.ts';
import { type Column, fill, fullStop, nameForms, whySentence } from '../../words/index.ts';
import type { Laid, LayoutContext, Pen, Scope, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { fewLines } from './fewLines.ts';
import { countField, dimensionField, metricField, titleField } from './fields.ts';
import { putLines } from './putLines.ts';

const fields = {
  metric: metricField({ divides: true }),
  dimension: dimensionField(),
  n: countField({ label: 'Rows before “Other”', most: 20 }),
  title: titleField,
};

type DriversBlock = BlockOf<'drivers', typeof fields>;

const ROW = 16;
const LEADING = 12;
const NOTE_LEADING = 10;
/** Bars are looked at together: they are divided where nothing else helps. */
const DIVIDED = 400;

/** Asked only where something is compared: there is no change otherwise. */
function asks(block: DriversBlock, { period, compared, filter }: Scope) {
  if (!compared) return null;
  const { metric, dimension } = block;
  const total = (range: Scope['period']): Question => ({ op: 'total', metric, range, filter });
  const parts: Question = { op: 'drivers', metric, dimension, range: period, compared, filter };
  return { parts, current: total(period), before: total(compared) };
}

/** Whether the bars as they are printed come to the change that they are parts of, as it would be printed beside them. */
function addUp(values: readonly number[], { rounded }: Column): boolean {
  const printed = values.reduce((sum, v) => sum + rounded(v), 0);
  const whole = rounded(values.reduce((sum, v) => sum + v, 0));
  return Math.abs(printed - whole) < 1e-6;
}

interface Line {
  label: string;
  value: number;
}

/** The parts that brought most, the others together, and a ratio's numerators without denominators: all of the change. */
function linesOf(found: Drivers, n: number, other: string, nameOf: (label: string) => string): Line[] {
  const lines = found.items.slice(0, n).map((i) => ({ label: nameOf(i.label), value: i.by }));
  const rest = found.items.slice(n).reduce((sum, i) => sum + i.by, found.residual);
  return found.items.length > n || found.residual !== 0 ? [...lines, { label: other, value: rest }] : lines;
}

/** Labels and numbers of the bars: what they need, and what is left for the bars themselves. */
const LABEL = { least: 56, word: 92, natural: 150 };
/** A label has as many lines, each next one so many points beneath. */
const LABEL_LINES = 2;
const LABEL_LEADING = 9.8;
const BAR = 40;
const GAP = 8;

const lineStyle = ({ palette }: LayoutContext): TextStyle => ({ face: 'sans', size: 8.5, fill: palette.ink });
const numberStyle = (context: LayoutContext): TextStyle => ({ ...lineStyle(context), face: 'sansBold' });

/** What each column of the bars wants: labels, bars, numbers. */
function wishesOf(context: LayoutContext, { lines, say }: Told): ColumnWish[] {
  const widest = (texts: string[], style: TextStyle) => Math.max(0, ...texts.map((t) => context.measure(t, style)));
  const labels = widest(
    lines.map((l) => l.label),
    lineStyle(context),
  );
  const numbers = widest(
    lines.map((l) => say(l.value)),
    numberStyle(context),
  );
  const word = widest(
    lines.flatMap((l) => l.label.split(' ')),
    lineStyle(context),
  );
  const least = Math.max(LABEL.least, Math.min(LABEL.word, word));
  return [
    { least: Math.min(labels, least), natural: Math.min(labels, Math.max(LABEL.natural, least)) },
    { least: BAR, natural: BAR },
    { least: numbers, natural: numbers },
  ];
}

/** The bars as they are measured: columns, the lines of each label, and the height of each row. */
function measureBars(context: LayoutContext, told: Told) {
  const style = lineStyle(context);
  const wishes = wishesOf(context, told);
  const [label, , number] = shareColumns(wishes, context.width - 2 * GAP) ?? wishes.map((w) => w.least);
  const labels = told.lines.map((l) => fewLines(context, l.label, '', style, label!, LABEL_LINES));
  return { label: label!, number: number!, labels, heights: labels.map((l) => ROW + (l.length - 1) * LABEL_LEADING) };
}
type Measured = ReturnType<typeof measureBars>;

const sum = (heights: readonly number[]): number => heights.reduce((total, h) => total + h, 0);

/** Draws the bars from one up to, not including, another; all of them have one scale. */
function drawBars(
  pen: Pen,
  context: LayoutContext,
  told: Told,
  m: Measured,
  [first, end]: Span,
  x: number,
  y: number,
): void {
  const { palette } = context;
  const { lines, say } = told;
  const [style, bold] = [lineStyle(context), numberStyle(context)];
  const values = lines.map((l) => l.value);
  const scale = scaleLinear(
    [Math.min(0, ...values), Math.max(0, ...values) || 1],
    [x + m.label + GAP, x + context.width - m.number - GAP],
  );
  let top = y;
  pen.tagged('Table', null, () => {
    for (let i = first; i < end; i++) {
      const line = lines[i]!;
      const labels = m.labels[i]!;
      const baseline = top + 11 + ((labels.length - 1) * LABEL_LEADING) / 2;
      const [from, to] = [scale(Math.min(0, line.value)), scale(Math.max(0, line.value))];
      if (to - from > 0.2)
        pen.rect(from, baseline - 7.5, to - from, 9, line.value > 0 ? palette.main : palette.compared);
      pen.tagged('TR', null, () => {
        const putLabel = () =>
          labels.forEach((label, l) => {
            pen.text(x, top + 11 + l * LABEL_LEADING, `${label} `, style);
          });
        pen.tagged('TH', null, putLabel, { scope: 'Row' });
        pen.tagged('TD', null, () => pen.text(x + context.width, baseline, say(line.value), bold, 'right'));
      });
      top += m.heights[i]!;
    }
  });
  pen.line(scale(0), y, scale(0), top, palette.muted, 0.6);
}

/** Bars from one up to, not including, another. */
type Span = readonly [number, number];

/** The block with some of its bars: the sentence stands over the first of them, the note beneath the last. */
function layBars(context: LayoutContext, told: Told, mark: string, span: Span): Laid {
  const all = told.lines.length;
  const [first, end] = span;
  const title = setTitle(context, told.title, mark);
  const note: TextStyle = { face: 'sans', size: 7.5, fill: context.palette.muted };
  const text = lineStyle(context);
  const said = first === 0 ? context.wrap(told.sentence, text, context.width) : [];
  const barsAt = title.height + said.length * LEADING + 4;
  const m = measureBars(context, told);
  const footAt = barsAt + sum(m.heights.slice(first, end));
  const foot = all > 0 && end === all ? context.wrap(told.foot, note, context.width) : [];
  const beneath = foot.length > 0 ? 6 + foot.length * NOTE_LEADING : 0;
  const paragraph = (pen: Pen, lines: string[], style: TextStyle, x: number, y: number, leading: number) =>
    lines.length > 0 && pen.tagged('P', null, () => putLines(pen, lines, (i) => [x, y + i * leading], style));
  return {
    height: footAt + beneath,
    name: told.title,
    draw(pen, x, y) {
      title.draw(pen, x, y);
      paragraph(pen, said, text, x, y + title.height + 7, LEADING);
      if (end > first) drawBars(pen, context, told, m, span, x, y + barsAt);
      paragraph(pen, foot, note, x, y + footAt + 11, NOTE_LEADING);
    },
    ...(all > 0 && {
      pieces: {
        heights: m.heights.map((h, i) => h + (i === 0 ? barsAt : 0) + (i === all - 1 ? beneath : 0)),
        // No bar is left alone on either side.
        penalties: told.lines.map((_, i) => (i < 1 || i >= all - 2 ? Number.POSITIVE_INFINITY : DIVIDED)),
        again: title.height + 4,
        cut: (from, to) => layBars(context, told, mark, [from, to]),
      },
    }),
  };
}

/** What the block says before it is known how wide it is. */
interface Told {
  title: string;
  sentence: string;
  lines: Line[];
  say: (value: number) => string;
  foot: string;
  addsUp: boolean;
}

/** Null where there is nothing to hold against: nothing is said then. */
function toldOf(block: DriversBlock, context: LayoutContext): Told | null {
  const { format } = context;
  const { words } = format;
  const asked = asks(block, context);
  if (!asked) return null;
  const metric = context.book.of(block.metric);
  const label = context.labelOf(block.metric);
  const answer = context.answers[keyOf(asked.parts)];
  const found = answer?.op === 'drivers' ? answer.drivers : ({ na: 'no-data' } as const);
  const [current, compared] = [asked.current, asked.before].map(
    (q) => valueOfAnswer(context.answers[keyOf(q)]) ?? na('no-data'),
  ) as [Value, Value];
  const lines =
    'na' in found || !isKnown(compared)
      ? []
      : linesOf(found, block.n, words.other, (l) => format.valueName(block.dimension, l));
  const values = lines.map((l) => l.value);
  const column = format.differences(values, metric.unit);
  return {
    title: block.title.trim() || fill(words.driversTitle, nameForms(label, format)),
    sentence: fullStop(
      whySentence(
        {
          metric,
          label,
          current,
          compared,
          comparedDates: context.compared ? format.range(context.compared) : undefined,
          drivers: found,
          dimension: block.dimension,
        },
        format,
      ),
    ),
    lines,
    say: (v) => (metric.unit === 'percent' ? format.points(v * 100, column.say(v), 'cell') : column.say(v)),
    foot: !('na' in found) && found.kind === 'ratio' ? words.driversNoteRatio : words.driversNote,
    addsUp: addUp(values, column),
  };
}

/** What brought the change of a metric, part by part, the largest first, with a sentence; the bars add up to it (SEMANTICS §7). */
export const drivers = defineBlock({
  kind: 'drivers',
  fields,
  make: ({ metric, dimension }) => ({ metric, dimension, n: 6, title: '' }),
  about: 'metric',
  questions: (block, scope) => Object.values(asks(block, scope) ?? {}),
  least(block, context) {
    const told = toldOf(block, context);
    return told && told.lines.length > 0 ? wishesOf(context, told).reduce((sum, w) => sum + w.least, 2 * GAP) : 0;
  },
  lay(block, context) {
    const told = toldOf(block, context);
    if (!told) return { height: 0, draw() {} };
    if (!told.addsUp) context.note(context.format.words.noteRounding);
    return layBars(context, told, context.dayMark(block.metric), [0, told.lines.length]);
  },
});
