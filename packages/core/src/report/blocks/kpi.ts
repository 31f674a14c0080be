import { noteTypical } from './comparison.ts';
import { defineBlock } from './defineBlock.ts';
import { metricField } from './fields.ts';
import { drawCell, LARGE_STEPS, leastColumn, levelsOf, mailFigureOf, setCell, stepFor } from './kpiCell.ts';
import { figureOf, questionsOfFigure } from './kpiFigure.ts';
import { withSubtitle } from './subtitle.ts';

const PAD = 8;
/** Of the bar beside it, and to the figure. */
const BAR = 3;
const INDENT = 12;
/** Of a wide place, what one figure takes: its days beside it would be a thread. */
const WIDEST = 300;

/** One figure, large: the one that the page is about. */
export const kpi = defineBlock({
  kind: 'kpi',
  fields: { metric: metricField() },
  make: ({ metric }) => ({ metric }),
  about: 'metric',
  hands: (q) => q.op !== 'byDay',
  questions: (block, scope) => questionsOfFigure(block.metric, scope),
  least: (block, context) => leastColumn(context, [figureOf(context, block.metric)]) + INDENT,
  lay(block, context) {
    noteTypical(context, block.metric);
    const figure = figureOf(context, block.metric);
    const width = Math.min(context.width, WIDEST) - INDENT;
    const cell = setCell(context, figure, width, stepFor(context, [figure], width, LARGE_STEPS));
    const levels = levelsOf([cell]);
    return withSubtitle(context, {
      height: levels.height + 2 * PAD,
      draw(pen, x, y) {
        pen.rect(x, y, BAR, levels.height + 2 * PAD, context.palette.main);
        drawCell(pen, context, cell, levels, x + INDENT, y + PAD, width);
      },
    });
  },
  mail: {
    as: 'figures',
    piece(block, context) {
      noteTypical(context, block.metric);
      return { kind: 'figures', figures: [mailFigureOf(context, figureOf(context, block.metric))] };
    },
  },
});
