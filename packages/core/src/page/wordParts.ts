import LineBreaker from 'linebreak';
import type { PageRuler } from './ruler.ts';

/** A part of a word, and what stands at the end of a line that ends after it: nothing, or a hyphen. */
export interface WordPart {
  text: string;
  hyphen: '' | '-';
}

const THAI = /[\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff]/;
/** Scripts that part lines anywhere between their characters, or between words that no space parts. */
const WITHOUT_SPACES =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\u3000-\u30ff\uff00-\uffef\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff]/u;

const thaiWords = new Intl.Segmenter('th', { granularity: 'word' });

/** Where a line may end within a text without spaces: UAX 14, and by dictionary where words have no marks between them. */
function breakable(text: string): string[] {
  if (THAI.test(text)) return Array.from(thaiWords.segment(text), (s) => s.segment);
  const breaker = new LineBreaker(text);
  const parts: string[] = [];
  let from = 0;
  for (let next = breaker.nextBreak(); next !== null; next = breaker.nextBreak()) {
    if (next.position > from) parts.push(text.slice(from, next.position));
    from = next.position;
  }
  return parts.length > 0 ? parts : [text];
}

/** What lines may be made of, of a text between two spaces: the whole, or the characters and words of scripts without. */
export const unitsOf = (word: string): string[] => (WITHOUT_SPACES.test(word) ? breakable(word) : [word]);

/** The smallest parts into which a word may be divided: after hyphens and slashes, at soft hyphens, between syllables. */
export function partsOfWord(word: string, ruler: PageRuler): WordPart[] {
  return breakable(word).flatMap((part) => {
    const bare = part.replaceAll('\u00ad', '');
    // UAX 14 ends lines after soft hyphens, too: there a hyphen is seen.
    const isSoft = part.endsWith('\u00ad');
    const within = word.includes('\u00ad')
      ? [bare]
      : /^[\p{L}\p{M}]{5,}\p{P}*$/u.test(bare)
        ? ruler.syllables(bare)
        : [bare];
    return within.map((text, j): WordPart => ({ text, hyphen: isSoft || j < within.length - 1 ? '-' : '' }));
  });
}
