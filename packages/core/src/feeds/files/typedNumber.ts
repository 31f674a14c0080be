import { readNumber } from './numbers.ts';

export type TypedNumber =
  | { value: number }
  /** `empty`: nothing stands there; `words`: no number alone; `unlike`: some read it a thousand times as large. */
  | { fault: 'empty' | 'words' | 'unlike' };

/** Digits with points and commas; spaces and apostrophes between groups of three alone. */
const ALONE = /^[-\u2212]?(\d{1,3}([\s'’]\d{3})+|[\d.,]+)([.,]\d+)?$/;

/**
 * A number that a person typed or pasted into a form in English: groups by commas, decimals by a point. A sign of money
 * or percent is no part of it: the field says its unit. `28.000` and `1,5` are numbers elsewhere and are not guessed at:
 * the first is one here, too, but another one.
 *
 * @example readTyped('31,000') // { value: 31000 }
 * @example readTyped('28.000') // { fault: 'unlike' }
 */
export function readTyped(text: string): TypedNumber {
  if (text.trim() === '') return { fault: 'empty' };
  if (!ALONE.test(text.trim())) return { fault: 'words' };
  const [here, elsewhere] = [readNumber(text, 'point'), readNumber(text, 'comma')];
  const grouped = text.includes(',');
  if (here === null) return { fault: elsewhere === null ? 'words' : 'unlike' };
  return elsewhere !== null && elsewhere !== here && !grouped ? { fault: 'unlike' } : { value: here };
}
