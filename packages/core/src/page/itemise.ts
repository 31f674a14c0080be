import bidiFactory from 'bidi-js';
import type { Direction } from '../words/index.ts';
import { hasRightToLeft } from './direction.ts';

const bidi = bidiFactory();

/** A stretch of text of one direction. */
export interface Stretch {
  text: string;
  rtl: boolean;
}

/**
 * What steers the order or breaks of a text and is never drawn: marks, embeddings and isolates of direction, soft hyphens,
 * zero-width spaces and byte order marks; control characters. Joiners stay: they choose shapes.
 */
const UNDRAWN = /[\p{Cc}\u00ad\u061c\u200b\u200e\u200f\u202a-\u202e\u2060-\u2069\ufeff]/gu;

/**
 * Parts a line of text by direction, in the order in which its stretches stand from left to right (UAX 9, rules P2 to
 * L2). The text within a stretch stays in the order in which it is read.
 * @param base the direction of the line as a whole
 */
export function itemise(text: string, base: Direction): Stretch[] {
  if (base === 'ltr' && !hasRightToLeft(text)) return [{ text: text.replace(UNDRAWN, ''), rtl: false }];
  const found = bidi.getEmbeddingLevels(text, base);
  const order = bidi.getReorderedIndices(text, found);
  // White space at the end of a line has the direction of the line (rule L1).
  const levels = found.levels.fill(base === 'rtl' ? 1 : 0, text.trimEnd().length);
  const stretches: { level: number; at: number[] }[] = [];
  for (const i of order) {
    const last = stretches.at(-1);
    const level = levels[i]!;
    const next = last && (level % 2 === 1 ? last.at.at(-1)! - 1 : last.at.at(-1)! + 1);
    if (last && last.level === level && next === i) last.at.push(i);
    else stretches.push({ level, at: [i] });
  }
  return stretches.flatMap(({ level, at }) => {
    const rtl = level % 2 === 1;
    const [first, last] = rtl ? [at.at(-1)!, at[0]!] : [at[0]!, at.at(-1)!];
    const part = text.slice(first, last + 1).replace(UNDRAWN, '');
    return part === '' ? [] : [{ text: part, rtl }];
  });
}
