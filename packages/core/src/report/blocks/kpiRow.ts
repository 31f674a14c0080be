import type { Laid, LayoutContext } from './block.ts';
import { noteTypical } from './comparison.ts';
import { defineBlock } from './defineBlock.ts';
import { metricsField } from './fields.ts';
import {
  drawCell,
  type KpiFigure,
  leastColumn,
  levelsOf,
  mailFigureOf,
  type SetCell,
  setCell,
  stepFor,
} from './kpiCell.ts';
import { figureOf, questionsOfFigure } from './kpiFigure.ts';
import { withSubtitle } from './subtitle.ts';

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
  questions: (block, scope) => block.metrics.flatMap((m) => questionsOfFigure(m, scope)),
  least(block, context) {
    const figures = block.metrics.map((key) => figureOf(context, key));
    return figures.length * (leastColumn(context, figures) + GAP) - GAP;
  },
  lay(block, context) {
    for (const key of block.metrics) noteTypical(context, key);
    const figures = block.metrics.map((key) => figureOf(context, key));
    return withSubtitle(context, layFigures(context, figures));
  },
  mail: {
    as: 'figures',
    piece(block, context) {
      for (const key of block.metrics) noteTypical(context, key);
      return { kind: 'figures', figures: block.metrics.map((key) => mailFigureOf(context, figureOf(context, key))) };
    },
  },
});
