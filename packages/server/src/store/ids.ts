import { createHash, randomBytes } from 'node:crypto';

export type IdPrefix =
  | 'me'
  | 'cl'
  | 'co'
  | 'fe'
  | 'rp'
  | 'sc'
  | 'ed'
  | 'ms'
  | 'de'
  | 'lg'
  | 'bl'
  | 'ag'
  | 'no'
  | 'ta'
  | 'cn'
  | 'im'
  | 'in'
  | 'ca'
  | 'dg'
  | 'sg'
  | 'rv'
  | 'tp'
  | 'tf'
  | 'li'
  | 'ba'
  | 'gr'
  | 'se'
  | 'ap'
  | 'xd'
  | 'um';

const LETTERS = '0123456789abcdefghijklmnopqrstuvwxyz';

/** An id that the same text always gives; looks like any other. */
export const idFrom = (prefix: IdPrefix, text: string): string =>
  `${prefix}_${Array.from(createHash('sha256').update(text).digest().subarray(0, 20), (b) => LETTERS[b % 36]).join('')}`;

/** An opaque id: `cl_` and twenty letters and digits (over 100 bits). */
export const newId = (prefix: IdPrefix): string =>
  `${prefix}_${Array.from(randomBytes(20), (b) => LETTERS[b % 36]).join('')}`;
