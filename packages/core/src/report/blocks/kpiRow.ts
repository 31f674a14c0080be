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
import type { LayoutContext, Pen, Scope } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import { metricsField } from './fields.ts';

/** What a figure is held against: another range, its usual level, its target, or nothing. */
function beforeOf(metric: string, { period, compared, yardstick, filter }: Scope): Question | null {
  if (compared) return { op: 'total', metric, range: compared, filter };
  if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
  return yardstick ? { op: 'target', metric, range: period, filter } : null;
}

const asks = (metric: string, scope: Scope) => ({
  current: { op: 'total', metric, range: scope.period, filter: scope.filter } satisfies Question,
  before: beforeOf(metric, scope),
  daily: { op: 'byDay', metric, range: scope.period, filter: scope.filter } satisfies Question,
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
function partialLines({ format }: LayoutContext, value: Value): string[] {
  if (!isKnown(value) || !value.partial) return [];
  const { words } = format;
  return [
    value.share === undefined
      ? words.reasons.partial
      : fill(words.partial, { share: format.coveredShare(value.share) }),
  ];
}

/** What a figure is held against, in words, and how much of either is known. */
function linesBeneath(
  context: LayoutContext,
  metric: Metric,
  current: Value,
  before: Value | null,
  more: number,
): string[] {
  if (!isKnown(current)) return [];
  const lines = partialLines(context, current);
  if (before === null) return lines;
  const { format } = context;
  if (isKnown(before)) lines.push(fill(saysBefore(context), { value: format.figure(before.value, metric.unit, more) }));
  else if (context.yardstick?.kind !== 'target') lines.push(format.words.reasons[before.na]);
  return [...lines, ...partialLines(context, before)];
}

/** A change with its words; null where none may be told. */
interface Told {
  change: Change;
  text: string;
  /** Whether its verdict stands beside it: where the word for steady stands instead of a number, nothing else does. */
  isJudged: boolean;
}

function toldOf(context: LayoutContext, change: Change | null, agreement: Agreement): Told | null {
  const text = change && context.format.change(change, agreement);
  return change && text !== null ? { change, text, isJudged: agreement.isTold } : null;
}

function drawChange(pen: Pen, context: LayoutContext, { change, text, isJudged }: Told, x: number, y: number) {
  const { palette, format } = context;
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
      pen.text(x + indent + context.measure(`${text} `, bold), y, word[verdict], { ...bold, face: 'sans' });
    }
  });
}

/** How the figure that it is held against is named. */
const saysBefore = ({ yardstick, format: { words } }: LayoutContext): string =>
  yardstick ? (yardstick.kind === 'target' ? words.target : words.typical) : words.from;

/** Says of a usual level that fewer periods stand behind it than were asked for. */
function noteTypical(context: LayoutContext, key: string, answer: Answer | undefined): void {
  if (answer?.op !== 'typical' || 'na' in answer.value || answer.value.count === answer.value.of) return;
  const { count, of } = answer.value;
  context.note(fill(context.format.words.noteTypical, { metric: context.labelOf(key), count, of }));
}

/** One figure with what it is held against. */
function figureOf(context: LayoutContext, key: string) {
  const { answers } = context;
  const metric = context.book.of(key);
  const asked = asks(key, context);
  const none = { na: 'no-data' as const };
  const current = valueOfAnswer(answers[keyOf(asked.current)]) ?? none;
  const before = asked.before ? (valueOfAnswer(answers[keyOf(asked.before)]) ?? none) : null;
  const moved = before && changeOf(current, before, metric.unit, metric.polarity);
  const agreement = agree(current, before, moved, metric.unit, context.format);
  const change = toldOf(context, moved, agreement);
  const lines = linesBeneath(context, metric, current, before, agreement.more);
  return { metric, current, change, lines, more: agreement.more, daily: answers[keyOf(asked.daily)] };
}

/** Lines beneath the figure, its change among them. */
const linesOf = ({ change, lines }: ReturnType<typeof figureOf>): number => lines.length + (change ? 1 : 0);

function drawKpi(
  pen: Pen,
  context: LayoutContext,
  key: string,
  x: number,
  y: number,
  width: number,
  more: number,
): void {
  const { palette, format } = context;
  const { words } = format;
  const { metric, current, change, lines, more: decimals, daily } = figureOf(context, key);
  const label = { face: 'sansBold', size: 8.5, fill: palette.muted } as const;
  const small = { face: 'sans', size: 8.5, fill: palette.muted } as const;
  const big = { face: 'serifBold', size: 20, fill: palette.ink } as const;
  const say = (draw: () => void) => pen.tagged('P', null, draw);
  say(() => pen.text(x, y + 9, context.fit(context.labelOf(key), label, width, context.oddMark(key)), label));
  if (isKnown(current)) {
    say(() => pen.text(x, y + 31, context.fit(format.figure(current.value, metric.unit, decimals), big, width), big));
    if (change) drawChange(pen, context, change, x, y + 46);
    lines.forEach((line, i) => {
      const at = y + 46 + (i + (change ? 1 : 0)) * LINE;
      say(() => pen.text(x, at, context.fit(line, small, width), small));
    });
  } else {
    say(() => pen.text(x, y + 30, '–', big));
    say(() => pen.text(x, y + 44, context.fit(words.reasons[current.na], small, width), small));
  }
  if (daily?.op === 'byDay' && Array.isArray(daily.values) && daily.values.length > 2) {
    context.sparkline(daily.values, width - 8, 22).draw(pen, x, y + 66 + more);
  }
}

/** The figures that answer "how did we do", side by side, each with its change and its days. */
export const kpiRow = defineBlock({
  kind: 'kpiRow',
  fields: { metrics: metricsField({ most: 5 }) },
  make: ({ metric }) => ({ metrics: [metric] }),
  questions: (block, scope) =>
    block.metrics.flatMap((m) => {
      const { current, before, daily } = asks(m, scope);
      return before ? [current, before, daily] : [current, daily];
    }),
  lay(block, context) {
    for (const key of block.metrics) {
      const { before } = asks(key, context);
      if (before) noteTypical(context, key, context.answers[keyOf(before)]);
    }
    const most = Math.max(...block.metrics.map((key) => linesOf(figureOf(context, key))));
    const more = Math.max(0, most - LINES) * LINE;
    const height = 106 + more;
    const n = block.metrics.length;
    const gap = 16;
    const width = (context.width - gap * (n - 1)) / n;
    return {
      height,
      draw(pen, x, y) {
        pen.line(x, y, x + context.width, y, context.palette.rule, 0.6);
        block.metrics.forEach((key, i) => {
          const left = x + i * (width + gap);
          if (i > 0)
            pen.line(left - gap / 2 - 2, y + 10, left - gap / 2 - 2, y + height - 10, context.palette.rule, 0.6);
          drawKpi(pen, context, key, left, y + 10, width, more);
        });
        pen.line(x, y + height, x + context.width, y + height, context.palette.rule, 0.6);
      },
    };
  },
});
