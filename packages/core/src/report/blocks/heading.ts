import { z } from 'zod';
import type { BlockKind } from './sheet.ts';

export const headingSchema = z.strictObject({
  kind: z.literal('heading'),
  id: z.string(),
  text: z.string().trim().min(1, 'A heading needs words.').max(160, 'Keep a heading to 160 characters.'),
});

/** A line that says what the page, or the part below it, is about. */
export const heading: BlockKind<z.infer<typeof headingSchema>> = {
  questions: () => [],
  check: () => [],
  lay(block, desk) {
    const style = { face: 'serifBold', size: 16, fill: desk.palette.ink } as const;
    const lines = desk.wrap(block.text, style, desk.width);
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
};
