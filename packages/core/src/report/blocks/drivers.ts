import { scaleLinear } from 'd3-scale';
import { z } from 'zod';
import {
  type Breakdown,
  isKnown,
  keyOf,
  METRIC_KEYS,
  metricOf,
  type Pair,
  type Question,
  type Value,
} from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import { DIMENSION_KEYS } from './ranking.ts';
import type { BlockKind, Dates, Desk, Pen, TextStyle } from './sheet.ts';

/** Sums alone have parts that add up to their change. */
const summed = METRIC_KEYS.filter((k) => metricOf(k).aggregation.kind === 'sum');

export const driversSchema = z.strictObject({
  kind: z.literal('drivers'),
  id: z.string(),
  metric: z
    .string()
    .refine((k) => summed.includes(k), 'Choose a metric whose parts add up, such as visits or revenue.'),
  dimension: z.enum(DIMENSION_KEYS),
  n: z.int().min(1, 'Show at least one row.').max(20, 'Show at most 20 rows.'),
  /** Empty: "Why visits changed", in the report's language. */
  title: z.string().max(120, 'Keep a title to 120 characters.'),
});

type Drivers = z.infer<typeof driversSchema>;

const ROW = 16;
const TITLE = 20;
const NOTE = 16;

/** Asked only where something is compared: there is no change otherwise. */
const ask = (block: Drivers, { period, compared }: Dates): Question | null =>
  compared && {
    op: 'top',
    metrics: [block.metric],
    dimension: block.dimension,
    n: block.n,
    range: period,
    compared,
    filter: {},
    order: 'change',
  };

/** What a part brought: what is not there on one side is nothing there. */
function contribution({ current, compared }: Pair): number {
  const value = (v: Value | null) => (v && isKnown(v) ? v.value : 0);
  return value(current) - value(compared);
}

interface Line {
  label: string;
  value: number;
}

function linesOf(b: Breakdown, other: string): Line[] {
  const lines = b.rows.map((r) => ({ label: r.label, value: contribution(r.cells[0]!) }));
  return b.other ? [...lines, { label: other, value: contribution(b.other[0]!) }] : lines;
}

function drawBars(pen: Pen, desk: Desk, block: Drivers, lines: Line[], x: number, y: number): void {
  const { palette, format } = desk;
  const { unit } = metricOf(block.metric);
  const style: TextStyle = { face: 'sans', size: 8.5, fill: palette.ink };
  const bold: TextStyle = { ...style, face: 'sansBold' };
  const labelWidth = Math.min(desk.width * 0.34, 150);
  const numberWidth = Math.max(...lines.map((l) => desk.measure(format.difference(l.value, unit), bold))) + 8;
  const values = lines.map((l) => l.value);
  const scale = scaleLinear(
    [Math.min(0, ...values), Math.max(0, ...values) || 1],
    [x + labelWidth + 8, x + desk.width - numberWidth],
  );
  lines.forEach((line, i) => {
    const top = y + i * ROW;
    const text = format.difference(line.value, unit);
    pen.tagged('P', null, () => {
      pen.text(x, top + 11, `${desk.fit(line.label, style, labelWidth)} `, style);
      const [from, to] = [scale(Math.min(0, line.value)), scale(Math.max(0, line.value))];
      if (to - from > 0.2) pen.rect(from, top + 3.5, to - from, 9, line.value > 0 ? palette.main : '#a9afb5');
      pen.text(x + desk.width, top + 11, text, bold, 'right');
    });
  });
  pen.line(scale(0), y, scale(0), y + lines.length * ROW, palette.muted, 0.6);
}

/** What brought the change of a sum, part by part, the largest first; the bars add up to it (SEMANTICS §7). */
export const drivers: BlockKind<Drivers> = {
  questions(block, dates) {
    const question = ask(block, dates);
    return question ? [question] : [];
  },
  lay(block, desk) {
    const { words } = desk.format;
    const { palette } = desk;
    const question = ask(block, desk);
    const answer = question && desk.answers[keyOf(question)];
    const metric = words.metrics[block.metric] ?? block.metric;
    const name = words.smallNouns ? metric.toLowerCase() : metric;
    const title = block.title.trim() || fill(words.driversTitle, { metric: name });
    const titleStyle: TextStyle = { face: 'sansBold', size: 9.5, fill: palette.ink };
    const note: TextStyle = { face: 'sans', size: 7.5, fill: palette.muted };
    const found = answer?.op === 'top' ? answer.breakdown : ({ na: 'no-data' } as const);
    const before = 'na' in found ? null : found.total[0]!.compared;
    const lack = 'na' in found ? found.na : before && 'na' in before ? before.na : null;
    const lines = 'na' in found || lack ? [] : linesOf(found, words.other);
    return {
      // Nothing to hold against: nothing to say.
      height: question === null ? 0 : TITLE + lines.length * ROW + NOTE,
      draw(pen, x, y) {
        if (question === null) return;
        pen.tagged('H2', null, () => pen.text(x, y + 10, desk.fit(`${title} `, titleStyle, desk.width), titleStyle));
        if (lines.length === 0 || 'na' in found) {
          pen.tagged('P', null, () => pen.text(x, y + TITLE + 9, words.reasons[lack ?? 'no-data'], note));
          return;
        }
        const total = desk.format.difference(contribution(found.total[0]!), metricOf(block.metric).unit);
        const indent = desk.measure(`${title}   `, titleStyle);
        pen.tagged('P', null, () =>
          pen.text(x + indent, y + 10, total, { ...titleStyle, face: 'sans', fill: palette.muted }),
        );
        drawBars(pen, desk, block, lines, x, y + TITLE);
        const text = desk.fit(words.driversNote, note, desk.width);
        pen.tagged('P', null, () => pen.text(x, y + TITLE + lines.length * ROW + 11, text, note));
      },
    };
  },
};
