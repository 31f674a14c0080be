import type { TextStyle } from '../report/index.ts';
import { type PageRuler, widthOf } from './ruler.ts';
import { partsOfWord, unitsOf } from './wordParts.ts';

const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });
const graphemes = (text: string): string[] => Array.from(segmenter.segment(text), (s) => s.segment);

/** Of an em, what the narrowest letters take: no line holds more of them than so many. */
const NARROWEST = 0.15;

/** The largest count up to `most` that `fits` takes, given that it takes any smaller one, too; 0 for none. */
function largest(most: number, fits: (n: number) => boolean): number {
  let lo = 0;
  let hi = most;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (fits(mid)) lo = mid;
    else hi = mid - 1;
  }
  return lo;
}

/** Ems by which a line may differ from the sum of its words: kerning beside spaces is less. */
const CLOSE = 1;

/** Running text: of a line that is emptier than this, the next word gives a part. */
const RAGGED = 0.7;

/**
 * Lines of at most `width` points. Breaks at spaces, and where a script without spaces allows it (UAX 14). A word is divided
 * by the rules of its language, at soft hyphens and after hyphens: where it is too long for a line, and in running text
 * where the line would be left too empty; anywhere between its graphemes only where nothing else helps.
 */
export function wrapText(ruler: PageRuler, text: string, style: TextStyle, width: number): string[] {
  const lines: string[] = [];
  const measure = (s: string) => widthOf(ruler, style.face, style.size, s);
  const fits = (s: string) => measure(s) <= width;
  const space = measure(' ');
  let line = '';
  /** Of the line, as the sum of its words. */
  let sum = 0;
  const end = () => {
    if (line !== '') lines.push(line);
    line = '';
    sum = 0;
  };

  /** Puts as many parts of a word as have room behind `before`, and goes on in lines of its own. */
  const divide = (word: string, before: string): void => {
    const most = Math.ceil(width / (style.size * NARROWEST)) + 1;
    let parts = partsOfWord(word, ruler);
    let head = before;
    while (parts.length > 0) {
      const joined = (n: number) =>
        head +
        parts
          .slice(0, n)
          .map((p) => p.text)
          .join('');
      if (parts.length <= most && fits(joined(parts.length))) {
        line = joined(parts.length);
        sum = measure(line);
        return;
      }
      const n = largest(Math.min(most, parts.length - 1), (count) => fits(joined(count) + parts[count - 1]!.hyphen));
      if (n > 0) {
        lines.push(joined(n) + parts[n - 1]!.hyphen);
        parts = parts.slice(n);
      } else if (head !== '') {
        lines.push(head.trimEnd());
      } else {
        const [first, ...rest] = parts;
        const whole = graphemes(first!.text);
        // A chain of joined pictures that no line holds is parted after all.
        const all = fits(whole[0]!) ? whole : Array.from(first!.text);
        const count = Math.max(
          1,
          largest(Math.min(most, all.length - 1), (k) => fits(all.slice(0, k).join(''))),
        );
        if (count >= all.length) {
          lines.push(first!.text);
          parts = rest;
        } else {
          lines.push(all.slice(0, count).join(''));
          parts = [{ ...first!, text: all.slice(count).join('') }, ...rest];
        }
      }
      head = '';
    }
    line = '';
  };

  // A no-break space holds its neighbours together, so only ordinary white space parts words.
  for (const word of text.split(/[ \t\r\n]+/).filter((w) => w !== '')) {
    unitsOf(word).forEach((unit, i) => {
      const before = line === '' ? '' : i === 0 ? `${line} ` : line;
      // Words are measured one by one, and a line as a whole where it is close: far fewer texts have to be shaped.
      const added = sum + (line !== '' && i === 0 ? space : 0) + measure(unit);
      const isClose = Math.abs(added - width) < style.size * CLOSE;
      if (isClose ? fits(before + unit) : added < width) {
        line = before + unit;
        sum = added;
      } else if (!fits(unit)) {
        const isRagged = measure(before) < width * RAGGED;
        if (!isRagged) end();
        divide(unit, isRagged ? before : '');
      } else if (style.running && line !== '' && measure(line) < width * RAGGED) {
        divide(unit, before);
      } else {
        end();
        line = unit;
        sum = measure(unit);
      }
    });
  }
  end();
  return lines;
}

/** The text itself when it fits, else as much of it as does with an ellipsis. */
export function fitText(ruler: PageRuler, text: string, style: TextStyle, width: number): string {
  if (widthOf(ruler, style.face, style.size, text) <= width) return text;
  const parts = graphemes(text);
  const n = largest(
    parts.length,
    (k) => widthOf(ruler, style.face, style.size, `${parts.slice(0, k).join('')}…`) <= width,
  );
  return `${parts.slice(0, Math.max(1, n)).join('').trimEnd()}…`;
}
