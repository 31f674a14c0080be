import { logoSchema } from '../brand.ts';
import type { TextStyle } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import { type Field, textField } from './fields.ts';
import { putLines } from './putLines.ts';

const fields = {
  /** None until one is chosen. */
  picture: { schema: logoSchema.optional(), shape: { kind: 'picture', label: 'Picture' } },
  alt: textField({ label: 'What it shows', hint: 'For those who cannot see it', most: 300 }),
  caption: textField({ label: 'Words beneath', most: 200 }),
} satisfies Record<string, Field>;

/** A picture is no taller: a page has more to say. */
const TALLEST = 360;
const LEADING = 11;
const BENEATH = 12;

/** A picture that somebody brought: a photograph, a sketch, a shot of an advertisement. */
export const picture = defineBlock({
  kind: 'picture',
  fields,
  make: () => ({ alt: '', caption: '' }),
  about: null,
  lay(block, context) {
    const { picture: shown } = block;
    // Nothing is chosen yet, and nothing is shown.
    if (!shown) return { height: 0, draw() {} };
    const scale = Math.min(context.width / shown.width, TALLEST / shown.height);
    const height = shown.height * scale;
    const style: TextStyle = {
      face: 'sans',
      size: 8.5,
      fill: context.palette.muted,
      direction: context.directionOf(block.caption),
    };
    const lines = block.caption.trim() === '' ? [] : context.wrap(block.caption.trim(), style, context.width);
    const alt = block.alt.trim() || block.caption.trim() || context.format.words.blocks.picture!;
    return {
      height: height + (lines.length > 0 ? 4 + lines.length * LEADING : 0),
      draw(pen, x, y) {
        const box = { x, y, maxWidth: context.width, maxHeight: TALLEST };
        pen.picture(shown, box, alt, context.palette.main);
        if (lines.length > 0)
          pen.tagged('P', null, () => putLines(pen, lines, (i) => [x, y + height + BENEATH + i * LEADING], style));
      },
    };
  },
});
