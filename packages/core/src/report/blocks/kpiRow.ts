import { z } from 'zod';
import {
  type Answer,
  changeOf,
  isKnown,
  keyOf,
  type Metric,
  type Question,
  type Value,
  valueOfAnswer,
} from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
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

/** The change as sign, number, word and tone, and what it was before. */
function drawChange(
  pen: Pen,
  desk: Desk,
  metric: Metric,
  current: Value,
  before: Value,
  x: number,
  y: number,
  width: number,
): void {
  const { palette, format } = desk;
  const { words } = format;
  const small = { face: 'sans', size: 8.5, fill: palette.muted } as const;
  const change = changeOf(current, before, metric.unit, metric.polarity);
  const tone = change.verdict === 'better' ? palette.good : change.verdict === 'worse' ? palette.wrong : palette.muted;
  const moved = typeof change.abs === 'number' && change.verdict !== 'steady' && change.abs !== 0;
  const text = format.change(change);
  if (text !== null) {
    const bold = { face: 'sansBold', size: 8.5, fill: tone } as const;
    const word = { none: '', better: words.better, worse: words.worse, steady: words.steady, changed: words.changed };
    const indent = moved ? 9 : 0;
    pen.tagged('P', null, () => {
      if (moved) arrow(pen, x, y + 46, (change.abs as number) > 0, tone);
      pen.text(x + indent, y + 46, `${text} `, bold);
      pen.text(x + indent + desk.measure(`${text} `, bold), y + 46, word[change.verdict], { ...bold, face: 'sans' });
    });
  }
  const was = isKnown(before)
    ? fill(saysBefore(desk), { value: format.figure(before.value, metric.unit) })
    : desk.yardstick?.kind === 'target'
      ? ''
      : words.reasons[before.na];
  if (was === '') return;
  pen.tagged('P', null, () => pen.text(x, y + (text === null ? 46 : 58), desk.fit(was, small, width), small));
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

function drawKpi(pen: Pen, desk: Desk, key: string, x: number, y: number, width: number): void {
  const { palette, format, answers } = desk;
  const { words } = format;
  const metric = desk.book.of(key);
  const { current: currentQ, before: beforeQ, daily } = asks(key, desk);
  const current = valueOfAnswer(answers[keyOf(currentQ)]) ?? { na: 'no-data' as const };
  const before = beforeQ ? (valueOfAnswer(answers[keyOf(beforeQ)]) ?? { na: 'no-data' as const }) : null;
  const label = { face: 'sansBold', size: 8.5, fill: palette.muted } as const;
  const small = { face: 'sans', size: 8.5, fill: palette.muted } as const;
  const big = { face: 'serifBold', size: 20, fill: palette.ink } as const;
  const say = (draw: () => void) => pen.tagged('P', null, draw);
  say(() => pen.text(x, y + 9, desk.fit(desk.labelOf(key), label, width), label));
  if (isKnown(current)) {
    const shown = format.figure(current.value, metric.unit);
    say(() => pen.text(x, y + 31, desk.fit(shown, big, width), big));
    if (current.partial) {
      const share = current.share === undefined ? '' : format.wholePercent(current.share);
      const at = desk.measure(`${shown} `, big);
      const text = desk.fit(fill(words.partial, { share }), small, width - at);
      if (share !== '') say(() => pen.text(x + at, y + 31, text, small));
    }
    if (before) drawChange(pen, desk, metric, current, before, x, y, width);
  } else {
    say(() => pen.text(x, y + 30, '–', big));
    say(() => pen.text(x, y + 44, desk.fit(words.reasons[current.na], small, width), small));
  }
  const series = answers[keyOf(daily)];
  if (series?.op === 'byDay' && Array.isArray(series.values) && series.values.length > 2) {
    desk.sparkline(series.values, width - 8, 22).draw(pen, x, y + 66);
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
    const n = block.metrics.length;
    const gap = 16;
    const width = (desk.width - gap * (n - 1)) / n;
    return {
      height: 106,
      draw(pen, x, y) {
        pen.line(x, y, x + desk.width, y, desk.palette.rule, 0.6);
        block.metrics.forEach((key, i) => {
          const left = x + i * (width + gap);
          if (i > 0) pen.line(left - gap / 2 - 2, y + 10, left - gap / 2 - 2, y + 96, desk.palette.rule, 0.6);
          drawKpi(pen, desk, key, left, y + 10, width);
        });
        pen.line(x, y + 106, x + desk.width, y + 106, desk.palette.rule, 0.6);
      },
    };
  },
};
