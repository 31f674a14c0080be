import { z } from 'zod';
import {
  type Answer,
  type Change,
  changeOf,
  isKnown,
  keyOf,
  type Metric,
  type Question,
  type Value,
  valueOfAnswer,
} from '../../figures/index.ts';
import { type Agreement, agree, fill } from '../../words/index.ts';
import { metricKey, unknownMetrics } from './keys.ts';
import type { BlockKind, Dates, Desk, Pen } from './sheet.ts';

export const kpiRowSchema = z.strictObject({
  kind: z.literal('kpiRow'),
  id: z.string(),
  metrics: z.array(metricKey).min(1, 'Choose at least one metric.').max(5, 'A row has room for five metrics.'),
});

type KpiRow = z.infer<typeof kpiRowSchema>;

/** What a figure is held against: another range, its usual level, its target, or nothing. */
function beforeOf(metric: string, { period, compared, yardstick }: Dates): Question | null {
  if (compared) return { op: 'total', metric, range: compared, filter: {} };
  if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter: {} };
  return yardstick ? { op: 'target', metric, range: period } : null;
}

const asks = (metric: string, dates: Dates) => ({
  current: { op: 'total', metric, range: dates.period, filter: {} } satisfies Question,
  before: beforeOf(metric, dates),
  daily: { op: 'byDay', metric, range: dates.period, filter: {} } satisfies Question,
});

/** A small triangle that points the way the figure went; drawn, since many faces lack the character. */
function arrow(pen: Pen, x: number, baseline: number, up: boolean, fill: string): void {
  const [tip, base] = up ? [baseline - 6.5, baseline - 0.5] : [baseline, baseline - 6];
  pen.path(`M${x} ${base}L${x + 7} ${base}L${x + 3.5} ${tip}Z`, { fill });
}

const LINE = 12;
/** Lines beneath a figure for which there is always room. */
const LINES = 2;

/** How much is known of a figure that is not made from all of its days; nothing of one that is. */
function partialLines({ format }: Desk, value: Value): string[] {
  if (!isKnown(value) || !value.partial) return [];
  const { words } = format;
  return [
    value.share === undefined
      ? words.reasons.partial
      : fill(words.partial, { share: format.coveredShare(value.share) }),
  ];
}

/** What a figure is held against, in words, and how much of either is known. */
function linesBeneath(desk: Desk, metric: Metric, current: Value, before: Value | null, more: number): string[] {
  if (!isKnown(current)) return [];
  const lines = partialLines(desk, current);
  if (before === null) return lines;
  const { format } = desk;
  if (isKnown(before)) lines.push(fill(saysBefore(desk), { value: format.figure(before.value, metric.unit, more) }));
  else if (desk.yardstick?.kind !== 'target') lines.push(format.words.reasons[before.na]);
  return [...lines, ...partialLines(desk, before)];
}

/** A change with its words; null where none may be told. */
interface Told {
  change: Change;
  text: string;
  /** Whether its verdict stands beside it: where the word for steady stands instead of a number, nothing else does. */
  isJudged: boolean;
}

function toldOf(desk: Desk, change: Change | null, agreement: Agreement): Told | null {
  const text = change && desk.format.change(change, agreement);
  return change && text !== null ? { change, text, isJudged: agreement.isTold } : null;
}

function drawChange(pen: Pen, desk: Desk, { change, text, isJudged }: Told, x: number, y: number) {
  const { palette, format } = desk;
  const { words } = format;
  const verdict = isJudged ? change.verdict : 'steady';
  const tone = verdict === 'better' ? palette.good : verdict === 'worse' ? palette.wrong : palette.muted;
  const moved = typeof change.abs === 'number' && verdict !== 'steady' && change.abs !== 0;
  const bold = { face: 'sansBold', size: 8.5, fill: tone } as const;
  const word = { none: '', better: words.better, worse: words.worse, steady: words.steady, changed: words.changed };
  const indent = moved ? 9 : 0;
  pen.tagged('P', null, () => {
    if (moved) arrow(pen, x, y, (change.abs as number) > 0, tone);
    pen.text(x + indent, y, `${text} `, bold);
    if (isJudged) {
      pen.text(x + indent + desk.measure(`${text} `, bold), y, word[verdict], { ...bold, face: 'sans' });
    }
  });
}

/** How the figure that it is held against is named. */
const saysBefore = ({ yardstick, format: { words } }: Desk): string =>
  yardstick ? (yardstick.kind === 'target' ? words.target : words.typical) : words.from;

/** Says of a usual level that fewer periods stand behind it than were asked for. */
function noteTypical(desk: Desk, key: string, answer: Answer | undefined): void {
  if (answer?.op !== 'typical' || 'na' in answer.value || answer.value.count === answer.value.of) return;
  const { count, of } = answer.value;
  desk.note(fill(desk.format.words.noteTypical, { metric: desk.labelOf(key), count, of }));
}

/** One figure with what it is held against. */
function figureOf(desk: Desk, key: string) {
  const { answers } = desk;
  const metric = desk.book.of(key);
  const asked = asks(key, desk);
  const none = { na: 'no-data' as const };
  const current = valueOfAnswer(answers[keyOf(asked.current)]) ?? none;
  const before = asked.before ? (valueOfAnswer(answers[keyOf(asked.before)]) ?? none) : null;
  const moved = before && changeOf(current, before, metric.unit, metric.polarity);
  const agreement = agree(current, before, moved, metric.unit, desk.format);
  const change = toldOf(desk, moved, agreement);
  const lines = linesBeneath(desk, metric, current, before, agreement.more);
  return { metric, current, change, lines, more: agreement.more, daily: answers[keyOf(asked.daily)] };
}

/** Lines beneath the figure, its change among them. */
const linesOf = ({ change, lines }: ReturnType<typeof figureOf>): number => lines.length + (change ? 1 : 0);

function drawKpi(pen: Pen, desk: Desk, key: string, x: number, y: number, width: number, more: number): void {
  const { palette, format } = desk;
  const { words } = format;
  const { metric, current, change, lines, more: decimals, daily } = figureOf(desk, key);
  const label = { face: 'sansBold', size: 8.5, fill: palette.muted } as const;
  const small = { face: 'sans', size: 8.5, fill: palette.muted } as const;
  const big = { face: 'serifBold', size: 20, fill: palette.ink } as const;
  const say = (draw: () => void) => pen.tagged('P', null, draw);
  say(() => pen.text(x, y + 9, desk.fit(desk.labelOf(key), label, width), label));
  if (isKnown(current)) {
    say(() => pen.text(x, y + 31, desk.fit(format.figure(current.value, metric.unit, decimals), big, width), big));
    if (change) drawChange(pen, desk, change, x, y + 46);
    lines.forEach((line, i) => {
      const at = y + 46 + (i + (change ? 1 : 0)) * LINE;
      say(() => pen.text(x, at, desk.fit(line, small, width), small));
    });
  } else {
    say(() => pen.text(x, y + 30, '–', big));
    say(() => pen.text(x, y + 44, desk.fit(words.reasons[current.na], small, width), small));
  }
  if (daily?.op === 'byDay' && Array.isArray(daily.values) && daily.values.length > 2) {
    desk.sparkline(daily.values, width - 8, 22).draw(pen, x, y + 66 + more);
  }
}

/** The figures that answer "how did we do", side by side, each with its change and its days. */
export const kpiRow: BlockKind<KpiRow> = {
  questions: (block, dates) =>
    block.metrics.flatMap((m) => {
      const { current, before, daily } = asks(m, dates);
      return before ? [current, before, daily] : [current, daily];
    }),
  check: (block, book) => unknownMetrics(block.metrics, 'metrics', book),
  lay(block, desk) {
    for (const key of block.metrics) {
      const { before } = asks(key, desk);
      if (before) noteTypical(desk, key, desk.answers[keyOf(before)]);
    }
    const most = Math.max(...block.metrics.map((key) => linesOf(figureOf(desk, key))));
    const more = Math.max(0, most - LINES) * LINE;
    const height = 106 + more;
    const n = block.metrics.length;
    const gap = 16;
    const width = (desk.width - gap * (n - 1)) / n;
    return {
      height,
      draw(pen, x, y) {
        pen.line(x, y, x + desk.width, y, desk.palette.rule, 0.6);
        block.metrics.forEach((key, i) => {
          const left = x + i * (width + gap);
          if (i > 0) pen.line(left - gap / 2 - 2, y + 10, left - gap / 2 - 2, y + height - 10, desk.palette.rule, 0.6);
          drawKpi(pen, desk, key, left, y + 10, width, more);
        });
        pen.line(x, y + height, x + desk.width, y + height, desk.palette.rule, 0.6);
      },
    };
  },
};
