import type { LayoutContext, TextStyle } from './block.ts';

/** A stretch of what somebody wrote that is set alike. */
export interface Span {
  text: string;
  bold?: true;
  /** Where it leads. */
  link?: string;
}

/** A stretch as it stands on a line: from its left end, in points. */
export interface StyledRun {
  text: string;
  x: number;
  style: TextStyle;
  link?: string | undefined;
}

/** `**bold**` and `[words](https://address)`; an address of another kind is no link. */
const MARKUP = /\*\*([^*\n]+)\*\*|\[([^\]\n]+)\]\(((?:https?:\/\/|mailto:)[^\s)]+)\)/g;

/** What somebody wrote as stretches, in their order. */
export function spansOf(text: string): Span[] {
  const spans: Span[] = [];
  let at = 0;
  for (const found of text.matchAll(MARKUP)) {
    if (found.index > at) spans.push({ text: text.slice(at, found.index) });
    const [, bold, words, link] = found;
    spans.push(bold === undefined ? { text: words!, link: link! } : { text: bold, bold: true });
    at = found.index + found[0].length;
  }
  if (at < text.length) spans.push({ text: text.slice(at) });
  return spans;
}

/** The words alone. */
export const plainText = (text: string): string =>
  spansOf(text)
    .map((s) => s.text)
    .join('');

const styleOf = (base: TextStyle, span: Span, link: string): TextStyle => ({
  ...base,
  ...(span.bold && { face: 'serifBold' as const }),
  ...(span.link !== undefined && { fill: link }),
});

/** A word with what it is set like; `space`: one stands before it. */
interface Word {
  text: string;
  span: Span;
  space: boolean;
}

function wordsOf(spans: readonly Span[]): Word[] {
  let space = false;
  return spans.flatMap((span) =>
    (span.text.match(/\s+|\S+/g) ?? []).flatMap((piece): Word[] => {
      if (/^\s/.test(piece)) {
        space = true;
        return [];
      }
      const word = { text: piece, span, space };
      space = false;
      return [word];
    }),
  );
}

/** The lines of a paragraph of stretches, each no wider than `width` where its words allow it. */
export function setSpans(
  context: LayoutContext,
  spans: readonly Span[],
  base: TextStyle,
  width: number,
): StyledRun[][] {
  const [only] = spans;
  const isOther = base.direction !== undefined && base.direction !== context.format.words.direction;
  // Alone, words may be divided; of the other direction a line is set as one, its words alone.
  if (spans.length === 1 && !only!.bold && only!.link === undefined)
    return context.wrap(only!.text, base, width).map((text) => [{ text, x: 0, style: base }]);
  if (isOther)
    return context.wrap(spans.map((s) => s.text).join(''), base, width).map((text) => [{ text, x: 0, style: base }]);
  const styles = new Map(spans.map((s) => [s, styleOf(base, s, context.palette.main)]));
  const lines: StyledRun[][] = [[]];
  let x = 0;
  for (const word of wordsOf(spans)) {
    const style = styles.get(word.span)!;
    const pieces = context.wrap(word.text, style, width);
    pieces.forEach((piece, i) => {
      const own = context.measure(piece, style);
      const gap = i === 0 && word.space && x > 0 ? context.measure(' ', base) : 0;
      if (x > 0 && (i > 0 || x + gap + own > width)) {
        lines.push([]);
        x = 0;
      }
      const line = lines.at(-1)!;
      const start = x > 0 ? x + gap : 0;
      const last = line.at(-1);
      // Words that are set alike are one run: copied, it reads as it is.
      if (last && last.style === style) last.text += (gap > 0 ? ' ' : '') + piece;
      else if (last && gap > 0) {
        last.text += ' ';
        line.push({ text: piece, x: start, style, link: word.span.link });
      } else line.push({ text: piece, x: start, style, link: word.span.link });
      x = start + own;
    });
  }
  return lines;
}
