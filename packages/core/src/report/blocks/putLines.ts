import type { Pen, TextStyle } from './block.ts';

/**
 * Draws the lines of one text, each at its place: `x` and baseline, in points. All but the last end with the space that
 * parts their words from the next line's when the text is copied (ISO 14289-1 §7.1).
 */
export function putLines(
  pen: Pen,
  lines: readonly string[],
  at: (i: number) => readonly [x: number, baseline: number],
  style: TextStyle,
  align?: 'left' | 'right' | 'center',
): void {
  lines.forEach((line, i) => {
    const [x, baseline] = at(i);
    pen.text(x, baseline, i < lines.length - 1 ? `${line} ` : line, style, align);
  });
}
