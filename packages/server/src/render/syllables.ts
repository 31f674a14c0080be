import { createRequire } from 'node:module';
import { wordsFor } from '@chronicon/core/words';
import { LRUCache } from 'lru-cache';
import { fromCache } from './fromCache.ts';

const require = createRequire(import.meta.url);

type Hyphenate = (text: string, options?: { hyphenChar?: string }) => string;

const loaded = new Map<string, Hyphenate>();
const kept = new LRUCache<string, readonly string[]>({ max: 5_000 });

/** Between parts while a word is taken apart: stands in no text that is drawn. */
const BETWEEN = '\u00ad';

/** The parts of a word between which it may be divided (Liang's patterns); loaded by language when first asked for. */
export function syllablesOf(word: string, language: string): readonly string[] {
  const patterns = wordsFor(language).hyphenation;
  if (patterns === null) return [word];
  return fromCache(kept, `${patterns} ${word}`, () => {
    let hyphenate = loaded.get(patterns);
    if (!hyphenate) {
      hyphenate = (require(`hyphen/${patterns}`) as { hyphenateSync: Hyphenate }).hyphenateSync;
      loaded.set(patterns, hyphenate);
    }
    return hyphenate(word, { hyphenChar: BETWEEN }).split(BETWEEN);
  });
}
