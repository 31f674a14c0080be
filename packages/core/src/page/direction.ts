import type { Direction } from '../words/index.ts';

/** Letters of scripts that are written from right to left (UAX 9: R and AL), and marks that ask for that direction. */
const RIGHT_TO_LEFT =
  /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff\u200f\u202b\u202e\u2067\u{10800}-\u{10fff}\u{1e800}-\u{1efff}]/u;
/** Whether a text has to be taken apart by direction at all. */
export const hasRightToLeft = (text: string): boolean => RIGHT_TO_LEFT.test(text);

const LETTER = /\p{L}/gu;

/**
 * The direction that a text has as a whole. Where its letters are of one direction, that one, whatever surrounds it;
 * where they are of both, the page's own. Numbers without letters read from left to right everywhere.
 */
export function directionOf(text: string, page: Direction): Direction {
  if (!hasRightToLeft(text)) return 'ltr';
  for (const [letter] of text.matchAll(LETTER)) if (!hasRightToLeft(letter)) return page;
  return 'rtl';
}

/** The direction of a paragraph somebody wrote: that of its first letter (UAX 9, P2 and P3), else the page's. */
export function paragraphDirection(text: string, page: Direction): Direction {
  const first = /\p{L}/u.exec(text);
  return first === null ? page : hasRightToLeft(first[0]) ? 'rtl' : 'ltr';
}
