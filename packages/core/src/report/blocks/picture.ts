import { logoSchema } from '../brand.ts';
import type { Laid, TextStyle } from './block.ts';
import { defineBlock } from './defineBlock.ts';
import { type Field, textField } from './fields.ts';
import { putLines } from './putLines.ts';

const fields = {
  /** None until one is chosen. */
  picture: { schema: logoSchema.optional(), shape: { kind: 'picture', label: 'Picture' } },
  alt: textField({ label: 'What it shows', hint: 'For people who can’t see it (alt text)', most: 300 }),
  caption: textField({ label: 'Caption', most: 200 }),
} satisfies Record<string, Field>;

/** A picture is no taller: a page has more to say. */
const TALLEST = 360;
/** Nor lower, where a page needs room. */
const LOWEST = 60;
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
    const style: TextStyle = {
      face: 'sans',
      size: 8.5,
      fill: context.palette.muted,
      direction: context.directionOf(block.caption),
    };
    const lines = block.caption.trim() === '' ? [] : context.wrap(block.caption.trim(), style, context.width);
    const alt = block.alt.trim() || block.caption.trim() || context.format.words.blocks.picture!;
    const beneath = lines.length > 0 ? 4 + lines.length * LEADING : 0;
    const layAt = (tallest: number): Laid => {
      const height = shown.height * Math.min(context.width / shown.width, tallest / shown.height);
      return {
        height: height + beneath,
        draw(pen, x, y) {
          pen.picture(shown, { x, y, maxWidth: context.width, maxHeight: tallest }, alt, context.palette.main);
          if (lines.length > 0)
            pen.tagged('P', null, () => putLines(pen, lines, (i) => [x, y + height + BENEATH + i * LEADING], style));
        },
        // Smaller, rather than on a page of its own.
        elastic: { shrink: Math.max(0, height - LOWEST), grow: 0, at: (whole) => layAt(whole - beneath) },
      };
    };
    return layAt(TALLEST);
  },
});
