import { defineBlock } from './defineBlock.ts';
import { textField } from './fields.ts';

/** A line that says what the page, or the part below it, is about. */
export const heading = defineBlock({
  kind: 'heading',
  fields: { text: textField({ label: 'Words', most: 160, required: 'A heading needs words.' }) },
  make: ({ words }) => ({ text: words.blocks.heading! }),
  about: 'text',
  lay(block, context) {
    const style = { face: 'serifBold', size: 16, fill: context.palette.ink } as const;
    const lines = context.wrap(block.text, style, context.width);
    const leading = 20;
    return {
      height: lines.length * leading,
      draw(pen, x, y) {
        pen.tagged('H1', null, () => {
          lines.forEach((line, i) => {
            // Lines end with the space that parts their words when the text is copied.
            pen.text(x, y + 15 + i * leading, i < lines.length - 1 ? `${line} ` : line, style);
          });
        });
      },
    };
  },
});
