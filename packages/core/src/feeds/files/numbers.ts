import type { Cell } from './cell.ts';
import type { NumberStyle } from './styles.ts';

const SHAPES: Record<NumberStyle, RegExp> = {
  point: /^\d{1,3}(,\d{3})+(\.\d+)?$|^\d+(\.\d+)?$|^\.\d+$/,
  comma: /^\d{1,3}(\.\d{3})+(,\d+)?$|^\d+(,\d+)?$|^,\d+$/,
};
const PLAIN = /^-?\d+(\.\d+)?$/;
const PLAIN_WHOLE = /^-?\d+$/;
const SPACES = /[\s'’]/g;

/** What stands behind a number that is written short, with its power of ten. A small m is no million: it may be a minute. */
const SHORT: readonly [RegExp, number][] = [
  [/(?:k|tsd\.?|thsd\.?)$/i, 3],
  [/(?:M|mio\.?|Mio\.?|mln\.?|Mln\.?)$/, 6],
  [/(?:B|bn|Mrd\.?|mrd\.?|mld\.?|Mld\.?)$/, 9],
];
/** `m:ss`, or `h:mm:ss` with a fraction of a second perhaps. */
const DURATION = /^(?:(\d{1,4}):)?(\d{1,3}):([0-5]\d(?:[.,]\d+)?)$/;

/** Seconds of a length of time; null for anything else. */
function readDuration(text: string): number | null {
  const [all, hours, minutes, seconds] = DURATION.exec(text) ?? [];
  if (all === undefined || (hours !== undefined && Number(minutes) > 59)) return null;
  return Number(hours ?? 0) * 3_600 + Number(minutes) * 60 + Number(seconds!.replace(',', '.'));
}

/** Whether a cell is a length of time: `1:28`, `00:01:28`. */
export const isDuration = (cell: Cell): boolean => typeof cell === 'string' && readDuration(cell.trim()) !== null;

/**
 * A cell as a number in a style, or null. Signs of money, grouping spaces, a sign of percent (a hundredth), minus signs
 * of every kind, amounts in brackets (below zero), short forms (`4.7K`) and lengths of time (in seconds) are understood.
 *
 * @example readNumber('4.7K', 'point') // 4700
 * @example readNumber('00:01:28', 'comma') // 88
 */
export function readNumber(cell: Cell, style: NumberStyle): number | null {
  if (cell === null) return null;
  if (typeof cell === 'number') return Number.isFinite(cell) ? cell : null;
  if (style === 'point' ? PLAIN.test(cell) : PLAIN_WHOLE.test(cell)) {
    const plain = Number(cell);
    return Number.isFinite(plain) ? plain : null;
  }
  let text = cell.trim().replace(/[\u2212\u2012\u2013]/g, '-');
  const bracketed = /^\((.+)\)$/.exec(text);
  if (bracketed) text = `-${bracketed[1]}`;
  const percent = text.endsWith('%');
  if (percent) text = text.slice(0, -1);
  text = text.replace(/\p{Sc}|^[A-Z]{3}\s|\s[A-Z]{3}$/gu, '').replace(SPACES, '');
  const below = text.startsWith('-') || text.endsWith('-');
  text = text.replace(/^[+-]|-$/g, '');
  const seconds = percent ? null : readDuration(text);
  if (seconds !== null) return below ? -seconds : seconds;
  const short = SHORT.find(([sign]) => sign.test(text));
  if (short) text = text.replace(short[0], '');
  if (!SHAPES[style].test(text)) return null;
  const digits = style === 'point' ? text.replaceAll(',', '') : text.replaceAll('.', '').replace(',', '.');
  // By its exponent, 4.7K is 4,700 to the last digit.
  const value = Number(short ? `${digits}e${short[1]}` : digits);
  if (!Number.isFinite(value)) return null;
  return (below ? -value : value) / (percent ? 100 : 1);
}

export interface NumberGuess {
  style: NumberStyle;
  /** How many samples only this style reads. */
  point: number;
  comma: number;
  /** Samples that both read, as unlike numbers: 1.234. */
  unlike: number;
}

/**
 * How numbers are written, judged by samples; null when they are no numbers.
 * @param usual the style where the samples do not tell
 */
export function guessNumbers(samples: readonly Cell[], usual: NumberStyle = 'point'): NumberGuess | null {
  let [point, comma, unlike, neither] = [0, 0, 0, 0];
  for (const s of samples) {
    const [a, b] = [readNumber(s, 'point'), readNumber(s, 'comma')];
    if (a === null && b === null) neither++;
    else if (b === null) point++;
    else if (a === null) comma++;
    else if (a !== b) unlike++;
  }
  if (samples.length === 0 || neither > samples.length * 0.2) return null;
  return {
    style: comma > point ? 'comma' : point > comma ? 'point' : usual,
    point,
    comma,
    unlike,
  };
}
