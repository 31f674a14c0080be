import type { LayoutContext, TextStyle } from './block.ts';

/** A label over at most `most` lines, the last of them cut where there is more; `mark` stands after it and is never cut. */
export function fewLines(
  context: LayoutContext,
  text: string,
  mark: string,
  style: TextStyle,
  width: number,
  most: number,
): string[] {
  const whole = context.wrap(text + mark, style, width);
  if (whole.length <= most) return whole;
  const lines = context.wrap(text, style, width);
  const rest = lines.slice(most - 1, most + 1).join(' ');
  return [...lines.slice(0, most - 1), context.fit(rest, style, width, mark)];
}
