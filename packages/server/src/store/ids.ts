import { randomBytes } from 'node:crypto';

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
  | 'im';

const LETTERS = '0123456789abcdefghijklmnopqrstuvwxyz';

/** An opaque id: `cl_` and twenty letters and digits (over 100 bits). */
export const newId = (prefix: IdPrefix): string =>
  `${prefix}_${Array.from(randomBytes(20), (b) => LETTERS[b % 36]).join('')}`;
