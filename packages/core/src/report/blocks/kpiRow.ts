import {
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
import type { Laid, LayoutContext, Scope } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import { metricsField } from './fields.ts';
import { beforeOf, noteTypical } from './heldAgainst.ts';
import {
  drawCell,
  type KpiFigure,
  leastColumn,
  levelsOf,
  type SetCell,
  setCell,
  stepFor,
  type Told,
} from './kpiCell.ts';
import { withSubtitle } from './subtitle.ts';

const asks = (metric: string, scope: Scope) => ({
  current: { op: 'total', metric, range: scope.period, filter: scope.filter } satisfies Question,
  before: beforeOf(metric, scope),
  daily: { op: 'byDay', metric, range: scope.period, filter: scope.filter } satisfies Question,
});

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

function toldOf(context: LayoutContext, change: Change | null, agreement: Agreement): Told | null {
  const text = change && context.format.change(change, agreement);
  return change && text !== null ? { change, text, isJudged: agreement.isTold } : null;
}

/** How the figure that it is held against is named. */
const saysBefore = ({ yardstick, format: { words } }: LayoutContext): string =>
  yardstick ? (yardstick.kind === 'target' ? words.target : words.typical) : words.from;

/** One figure with what it is held against. */
function figureOf(context: LayoutContext, key: string): KpiFigure {
  const { answers } = context;
  const metric = context.book.of(key);
  const asked = asks(key, context);
  const none = { na: 'no-data' as const };
  const current = valueOfAnswer(answers[keyOf(asked.current)]) ?? none;
  const before = asked.before ? (valueOfAnswer(answers[keyOf(asked.before)]) ?? none) : null;
  const moved = before && changeOf(current, before, metric.unit, metric.polarity);
  const agreement = agree(current, before, moved, metric.unit, context.format);
  const daily = answers[keyOf(asked.daily)];
  const days = daily?.op === 'byDay' && Array.isArray(daily.values) ? daily.values : [];
  return {
    metric,
    label: context.labelOf(key),
    mark: context.oddMark(key),
    current,
    change: toldOf(context, moved, agreement),
    lines: linesBeneath(context, metric, current, before, agreement.more),
    more: agreement.more,
    // Of one day or two a line says nothing.
    days: days.length > 2 && days.some((d) => d !== null) ? days : [],
  };
}

const GAP = 16;
const PAD = 10;
/** Figures that belong together are parted where nothing else helps. */
const DIVIDED = 400;

/** Figures side by side in as many rows as they need, written alike. */
function layFigures(context: LayoutContext, figures: readonly KpiFigure[]): Laid {
  const widthOf = (n: number) => (context.width - GAP * (n - 1)) / n;
  const all = figures.length;
  const counts = Array.from({ length: all }, (_, i) => Math.ceil(all / (i + 1)));
  const abreast = counts.find((n) => stepFor(context, figures, widthOf(n))) ?? 1;
  const width = widthOf(abreast);
  const step = stepFor(context, figures, width);
  const cells = figures.map((f) => setCell(context, f, width, step));
  const rows = Array.from({ length: Math.ceil(all / abreast) }, (_, i) => cells.slice(i * abreast, (i + 1) * abreast));
  return layRows(context, rows, width);
}

/** Rows of figures, one beneath the other; divided between rows. */
function layRows(context: LayoutContext, rows: readonly (readonly SetCell[])[], width: number): Laid {
  const levels = rows.map(levelsOf);
  const heights = levels.map((l) => l.height + 2 * PAD - 2);
  const { rule } = context.palette;
  return {
    height: heights.reduce((sum, h) => sum + h, 0),
    draw(pen, x, top) {
      let y = top;
      pen.line(x, y, x + context.width, y, rule, 0.6);
      rows.forEach((row, r) => {
        const height = heights[r]!;
        row.forEach((cell, i) => {
          const left = x + i * (width + GAP);
          const between = left - GAP / 2 - 2;
          if (i > 0) pen.line(between, y + PAD, between, y + height - PAD, rule, 0.6);
          drawCell(pen, context, cell, levels[r]!, left, y + PAD, width);
        });
        y += height;
        pen.line(x, y, x + context.width, y, rule, 0.6);
      });
    },
    ...(rows.length > 1 && {
      pieces: {
        heights,
        penalties: rows.map(() => DIVIDED),
        again: 0,
        cut: (from, to) => layRows(context, rows.slice(from, to), width),
      },
    }),
  };
}

/** The figures that answer "how did we do", side by side, each with its change and its days. */
export const kpiRow = defineBlock({
  kind: 'kpiRow',
  fields: { metrics: metricsField({ most: 5 }) },
  make: ({ metric }) => ({ metrics: [metric] }),
  hands: (q) => q.op !== 'byDay',
  questions: (block, scope) =>
    block.metrics.flatMap((m) => {
      const { current, before, daily } = asks(m, scope);
      return before ? [current, before, daily] : [current, daily];
    }),
  least(block, context) {
    const figures = block.metrics.map((key) => figureOf(context, key));
    return figures.length * (leastColumn(context, figures) + GAP) - GAP;
  },
  lay(block, context) {
    for (const key of block.metrics) noteTypical(context, key);
    const figures = block.metrics.map((key) => figureOf(context, key));
    return withSubtitle(context, layFigures(context, figures));
  },
});
