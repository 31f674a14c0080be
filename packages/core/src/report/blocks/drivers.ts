import { scaleLinear } from 'd3-scale';
import { type Drivers, isKnown, keyOf, na, type Question, type Value, valueOfAnswer } from '../../figures/index.ts';
import { type Column, fill, fullStop, whySentence } from '../../words/index.ts';
import type { LayoutContext, Pen, Scope, TextStyle } from './block.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { countField, dimensionField, metricField, titleField } from './fields.ts';

const fields = {
  metric: metricField({ divides: true }),
  dimension: dimensionField(),
  n: countField({ label: 'Rows before “Other”', most: 20 }),
  title: titleField,
};

type DriversBlock = BlockOf<'drivers', typeof fields>;

const ROW = 16;
const TITLE = 20;
const LEADING = 12;
const NOTE = 16;

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
function linesOf(found: Drivers, n: number, other: string): Line[] {
  const lines = found.items.slice(0, n).map((i) => ({ label: i.label, value: i.by }));
  const rest = found.items.slice(n).reduce((sum, i) => sum + i.by, found.residual);
  return found.items.length > n || found.residual !== 0 ? [...lines, { label: other, value: rest }] : lines;
}

function drawBars(
  pen: Pen,
  context: LayoutContext,
  lines: Line[],
  say: (value: number) => string,
  x: number,
  y: number,
): void {
  const { palette } = context;
  const style: TextStyle = { face: 'sans', size: 8.5, fill: palette.ink };
  const bold: TextStyle = { ...style, face: 'sansBold' };
  const labelWidth = Math.min(context.width * 0.34, 150);
  const numberWidth = Math.max(...lines.map((l) => context.measure(say(l.value), bold))) + 8;
  const values = lines.map((l) => l.value);
  const scale = scaleLinear(
    [Math.min(0, ...values), Math.max(0, ...values) || 1],
    [x + labelWidth + 8, x + context.width - numberWidth],
  );
  lines.forEach((line, i) => {
    const top = y + i * ROW;
    const text = say(line.value);
    pen.tagged('P', null, () => {
      pen.text(x, top + 11, `${context.fit(line.label, style, labelWidth)} `, style);
      const [from, to] = [scale(Math.min(0, line.value)), scale(Math.max(0, line.value))];
      if (to - from > 0.2) pen.rect(from, top + 3.5, to - from, 9, line.value > 0 ? palette.main : '#a9afb5');
      pen.text(x + context.width, top + 11, text, bold, 'right');
    });
  });
  pen.line(scale(0), y, scale(0), y + lines.length * ROW, palette.muted, 0.6);
}

/** What brought the change of a metric, part by part, the largest first, with a sentence; the bars add up to it (SEMANTICS §7). */
export const drivers = defineBlock({
  kind: 'drivers',
  fields,
  make: ({ metric, dimension }) => ({ metric, dimension, n: 6, title: '' }),
  about: 'metric',
  questions: (block, scope) => Object.values(asks(block, scope) ?? {}),
  lay(block, context) {
    const { format, palette } = context;
    const { words } = format;
    const asked = asks(block, context);
    // Nothing to hold against: nothing to say.
    if (!asked) return { height: 0, draw() {} };
    const metric = context.book.of(block.metric);
    const label = context.labelOf(block.metric);
    const title =
      block.title.trim() || fill(words.driversTitle, { metric: words.smallNouns ? label.toLowerCase() : label });
    const mark = context.oddMark(block.metric);
    const titleStyle: TextStyle = { face: 'sansBold', size: 9.5, fill: palette.ink };
    const note: TextStyle = { face: 'sans', size: 7.5, fill: palette.muted };
    const text: TextStyle = { face: 'sans', size: 8.5, fill: palette.ink };
    const answer = context.answers[keyOf(asked.parts)];
    const found = answer?.op === 'drivers' ? answer.drivers : ({ na: 'no-data' } as const);
    const [current, compared] = [asked.current, asked.before].map(
      (q) => valueOfAnswer(context.answers[keyOf(q)]) ?? na('no-data'),
    ) as [Value, Value];
    const sentence = fullStop(whySentence({ metric, label, current, compared, drivers: found }, format));
    const said = context.wrap(sentence, text, context.width);
    const lines = 'na' in found || !isKnown(compared) ? [] : linesOf(found, block.n, words.other);
    const values = lines.map((l) => l.value);
    const column = format.differences(values, metric.unit);
    const say = (v: number) =>
      metric.unit === 'percent' ? `${column.say(v)} ${format.pointsOf(v * 100)}` : column.say(v);
    if (!addUp(values, column)) context.note(words.noteRounding);
    const barsAt = TITLE + said.length * LEADING + 4;
    return {
      height: barsAt + lines.length * ROW + (lines.length > 0 ? NOTE : 0),
      draw(pen, x, y) {
        pen.tagged('H2', null, () =>
          pen.text(x, y + 10, context.fit(title, titleStyle, context.width, mark), titleStyle),
        );
        pen.tagged('P', null, () => {
          said.forEach((line, i) => {
            pen.text(x, y + TITLE + 7 + i * LEADING, line, text);
          });
        });
        if (lines.length === 0 || 'na' in found) return;
        drawBars(pen, context, lines, say, x, y + barsAt);
        const foot = found.kind === 'ratio' ? words.driversNoteRatio : words.driversNote;
        pen.tagged('P', null, () =>
          pen.text(x, y + barsAt + lines.length * ROW + 11, context.fit(foot, note, context.width), note),
        );
      },
    };
  },
});
