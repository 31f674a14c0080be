import type { LayoutContext, TextStyle } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import { textField } from './fields.ts';
import { putLines } from './putLines.ts';

const SIZES = [15, 13, 12, 10, 9];

const styleOf = ({ palette }: LayoutContext, size: number): TextStyle => ({
  face: 'serifBold',
  size,
  fill: palette.ink,
});

/** A line that says what the page, or the part below it, is about. */
export const heading = defineBlock({
  kind: 'heading',
  fields: { text: textField({ label: 'Words', most: 160, required: 'Enter a heading.' }) },
  make: ({ words }) => ({ text: words.blocks.heading! }),
  about: 'text',
  least: (block, context) =>
    Math.max(...block.text.split(/\s+/).map((w) => context.measure(w, styleOf(context, SIZES.at(-1)!)))),
  lay(block, context) {
    const sized = (size: number) => styleOf(context, size);
    // Smaller, rather than a word broken somewhere.
    const words = block.text.split(/\s+/);
    const fits = (size: number) => words.every((w) => context.measure(w, sized(size)) <= context.width);
    const size = SIZES.find(fits) ?? SIZES.at(-1)!;
    const style = { ...sized(size), direction: context.directionOf(block.text) };
    const lines = context.wrap(block.text, style, context.width);
    const leading = size * 1.25;
    const isOther = style.direction !== context.format.words.direction;
    return {
      height: lines.length * leading,
      keepsWithNext: true,
      name: block.text,
      draw(pen, x, y) {
        pen.tagged('H2', null, () => {
          // One of the other direction begins on the other side.
          const at = (i: number) => [isOther ? x + context.width : x, y + size - 1 + i * leading] as const;
          putLines(pen, lines, at, style, isOther ? 'right' : 'left');
        });
      },
    };
  },
});
