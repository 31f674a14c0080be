import { fill, fullStop, madeWords } from '../../words/index.ts';
import type { Laid, LayoutContext, TextStyle } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { defineBlock } from './defineBlock.ts';
import { titleField } from './fields.ts';
import { putLines } from './putLines.ts';

const LEADING = 11;
const BENEATH = 3;

/** What is said of each figure that the report shows, in reading order. */
function textsOf({ shownMetrics, book, labelOf, format, assumptions }: LayoutContext): string[] {
  const nameOf = (key: string) => assumptions.find((a) => a.key === key)?.label ?? labelOf(key);
  return shownMetrics.map((key) => {
    const { aggregation, written } = book.of(key);
    const text = madeWords(
      written === undefined ? aggregation : { kind: 'derived', formula: written },
      nameOf,
      format.words,
    );
    return fullStop(fill(format.words.labelled, { label: labelOf(key), text }));
  });
}

function layTexts(
  context: LayoutContext,
  title: ReturnType<typeof setTitle>,
  name: string,
  texts: readonly string[],
  withTitle: boolean,
): Laid {
  const style: TextStyle = { face: 'sans', size: 8.5, fill: context.palette.ink };
  const set = texts.map((t) => context.wrap(t, style, context.width));
  const head = withTitle ? title.height : 0;
  const heights = set.map((lines, i) => lines.length * LEADING + BENEATH + (i === 0 ? head : 0));
  return {
    height: heights.reduce((sum, h) => sum + h, 0),
    name,
    draw(pen, x, y) {
      if (withTitle) title.draw(pen, x, y);
      let top = y + head;
      for (const lines of set) {
        const at = top;
        pen.tagged('P', null, () => putLines(pen, lines, (i) => [x, at + 8.5 + i * LEADING], style));
        top += lines.length * LEADING + BENEATH;
      }
    },
    pieces: {
      heights,
      penalties: heights.map((_, i) => (i < 1 || i >= heights.length - 2 ? Number.POSITIVE_INFINITY : 0)),
      again: 0,
      cut: (from, to) => layTexts(context, title, name, texts.slice(from, to), withTitle && from === 0),
    },
  };
}

/** How each figure of the report is made: for whoever asks what a number means. */
export const notes = defineBlock({
  kind: 'notes',
  fields: { title: titleField },
  make: () => ({ title: '' }),
  least: () => 140,
  lay(block, context) {
    const texts = textsOf(context);
    // Where nothing is shown there is nothing to explain.
    if (texts.length === 0) return { height: 0, draw() {} };
    const name = block.title.trim() || context.format.words.notes;
    return layTexts(context, setTitle(context, name), name, texts, true);
  },
});
