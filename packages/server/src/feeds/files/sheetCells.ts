import type { Cell } from '@chronicon/core/feeds';

/** What a format shows a number as (ECMA-376 part 1, §18.8.30): a day, a time of the day, a length of time, or itself. */
export type NumberLook = 'number' | 'date' | 'length';

const BUILT_IN_DATES = (id: number) => (id >= 14 && id <= 22) || (id >= 27 && id <= 36) || (id >= 50 && id <= 58);

/**
 * @param id of a format; those below 164 are known to every program
 * @param code what the workbook says of it
 */
export function lookOf(id: number, code: string | undefined): NumberLook {
  if (code === undefined)
    return id === 46 ? 'length' : BUILT_IN_DATES(id) || id === 45 || id === 47 ? 'date' : 'number';
  // Letters in quotes or after a backslash are printed as they are; colours and conditions stand in brackets.
  const signs = code.replace(/"[^"]*"|\\.|_.|\*./g, '');
  if (/\[(h+|m+|s+)\]/i.test(signs)) return 'length';
  return /[dmyhs]/i.test(signs.replace(/\[[^\]]*\]|general/gi, '')) ? 'date' : 'number';
}

/**
 * The currency that a format writes beside its numbers, as a code or a sign: `[$€-407] #,##0.00`, `"USD" 0`. Null for none, and for
 * the formats of every program, which write the currency of whoever looks.
 */
export function currencyOfFormat(code: string | undefined): string | null {
  // What is below zero may be written otherwise, but in the same currency.
  const [above = ''] = (code ?? '').split(';');
  const named = /\[\$([^\]-]+)(?:-[^\]]*)?\]/.exec(above)?.[1]?.trim();
  if (named) return /^[A-Za-z]{3}$/.test(named) ? named.toUpperCase() : named;
  const quoted = /"\s*([A-Z]{3})\s*"/.exec(above)?.[1];
  return quoted ?? /\p{Sc}/u.exec(above)?.[0] ?? null;
}

const two = (n: number): string => String(n).padStart(2, '0');

const clock = (seconds: number): string =>
  `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;

const DAY = 86_400;

/** Days between the counting of spreadsheets and 1970: they took 1900 for a leap year, some begin in 1904. */
const epochOf = (serial: number, from1904: boolean): number => (from1904 ? 24_107 : serial < 60 ? 25_568 : 25_569);

/** A counted day, with its time if it has one; a time alone; a length of time. Null beyond the year 9999. */
function timeText(serial: number, look: 'date' | 'length', from1904: boolean): string | null {
  const seconds = Math.round(serial * DAY);
  if (look === 'length') return seconds < 0 ? `-${clock(-seconds)}` : clock(seconds);
  if (seconds >= 0 && seconds < DAY && !from1904) return clock(seconds);
  const at = new Date((seconds - epochOf(serial, from1904) * DAY) * 1000);
  if (Number.isNaN(at.getTime()) || at.getUTCFullYear() > 9999 || at.getUTCFullYear() < 1) return null;
  const iso = at.toISOString();
  return iso.endsWith('T00:00:00.000Z') ? iso.slice(0, 10) : iso.slice(0, 19).replace('T', ' ');
}

/** A cell as it stands in a sheet's XML (ECMA-376 part 1, §18.3.1.4). */
export interface RawCell {
  type: string;
  look: NumberLook;
  /** What `v` holds, or the text of an inline string. */
  value: string | null;
  formula: boolean;
}

export interface ReadCell {
  cell: Cell;
  /** What cannot be taken as it is. */
  fault: string | null;
}

const EMPTY: ReadCell = { cell: null, fault: null };

/** Characters that XML cannot hold stand as `_x000D_` (§22.9.2.19). */
export const unescapeText = (text: string): string =>
  text.replace(/_x([0-9a-f]{4})_/gi, (_, code: string) => String.fromCharCode(Number.parseInt(code, 16)));

/** A cell as text or number: formulas by the result that the file holds. */
export function readCell(raw: RawCell, shared: readonly string[], from1904: boolean): ReadCell {
  const { type, value } = raw;
  if (value === null || (value === '' && type !== 'str')) {
    return raw.formula ? { cell: null, fault: 'has a formula without its result' } : EMPTY;
  }
  switch (type) {
    case 's': {
      const text = shared[Number(value)];
      return text === undefined
        ? { cell: null, fault: 'has text that is not in the file' }
        : { cell: text, fault: null };
    }
    case 'str':
    case 'inlineStr':
      return { cell: unescapeText(value), fault: null };
    case 'b':
      return { cell: String(value === '1' || value === 'true'), fault: null };
    case 'e':
      return { cell: value, fault: `has a spreadsheet error (${value})` };
    case 'd':
      return { cell: value.replace(/T00:00:00(\.0+)?Z?$/, '').replace('T', ' '), fault: null };
    default: {
      const number = Number(value);
      if (!Number.isFinite(number)) return { cell: value, fault: 'has something that is neither text nor a number' };
      if (raw.look === 'number') return { cell: number, fault: null };
      return { cell: timeText(number, raw.look, from1904) ?? number, fault: null };
    }
  }
}
