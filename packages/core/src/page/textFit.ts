import type { TextStyle } from '../report/index.ts';
import { type Ruler, widthOf } from './ruler.ts';

const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });
const graphemes = (text: string): string[] => Array.from(segmenter.segment(text), (s) => s.segment);

/** The most graphemes of `parts`, from the start, that fit `width` with `tail` behind them; at least one. */
function longest(ruler: Ruler, parts: string[], style: TextStyle, width: number, tail: string): number {
  let lo = 1;
  let hi = parts.length;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (widthOf(ruler, style.face, style.size, parts.slice(0, mid).join('') + tail) <= width) lo = mid;
    else hi = mid - 1;
  }
  return lo;
}

/** Lines of at most `width` points. Breaks at spaces; inside a word only when it alone is too long. */
export function wrapText(ruler: Ruler, text: string, style: TextStyle, width: number): string[] {
  const lines: string[] = [];
  const fits = (s: string) => widthOf(ruler, style.face, style.size, s) <= width;
  let line = '';
  // A no-break space holds its neighbours together, so only ordinary white space parts words.
  for (let word of text.split(/[ \t\r\n]+/).filter((w) => w !== '')) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (fits(longer)) {
      line = longer;
      continue;
    }
    if (line !== '') lines.push(line);
    while (!fits(word)) {
      const parts = graphemes(word);
      const n = longest(ruler, parts, style, width, '');
      if (n >= parts.length) break;
      lines.push(parts.slice(0, n).join(''));
      word = parts.slice(n).join('');
    }
    line = word;
  }
  if (line !== '') lines.push(line);
  return lines;
}

/** The text itself when it fits, else as much of it as does with an ellipsis. */
export function fitText(ruler: Ruler, text: string, style: TextStyle, width: number): string {
  if (widthOf(ruler, style.face, style.size, text) <= width) return text;
  const parts = graphemes(text);
  return `${parts
    .slice(0, longest(ruler, parts, style, width, '…'))
    .join('')
    .trimEnd()}…`;
}
