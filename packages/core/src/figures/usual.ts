import { medianOf } from './median.ts';
import { SortedWindow } from './sortedWindow.ts';

/**
 * What the days of a sum usually bring, robustly: a rhythm of the week from the weeks around, and a level from the days
 * around. One value a day; NaN where none is known.
 */
export interface Usual {
  values: Float64Array;
  /** Each weekday's part of the level, by day. */
  rhythm: Float64Array;
  /** The level of the two weeks before and the two after each day, together and, asked for seldom, alone. */
  both: Float64Array;
  before(i: number): number;
  after(i: number): number;
}

/** Weeks before and after a week that its rhythm is taken from: a season moves little within them. */
export const WEEKS = 8;
/** Days before and after a day that its level is taken from. */
export const LEVEL_DAYS = 14;
const FEWEST_WEEKS = 4;
const FEWEST_DAYS = 6;
/** So few days after one say that a new level has begun: a campaign at the end of what is known. */
const FEWEST_AFTER = 3;
/** A weekday with less than this part of the level says nothing about it: a shop that is closed on Sundays. */
const SILENT = 0.05;

/** The mean of the seven days around each day; NaN where one of them is not known. */
function weekMeans(values: Float64Array): Float64Array {
  const means = new Float64Array(values.length).fill(Number.NaN);
  for (let i = 3; i + 3 < values.length; i++) {
    let sum = 0;
    for (let j = i - 3; j <= i + 3; j++) sum += values[j]!;
    means[i] = sum / 7;
  }
  return means;
}

/** For the seven days from `start` on, the median part that their weekdays had of their weeks. */
function rhythmOfWeek(values: Float64Array, means: Float64Array, start: number, out: Float64Array): void {
  const parts = new Float64Array(2 * WEEKS + 1);
  for (let i = start; i < Math.min(start + 7, values.length); i++) {
    let n = 0;
    // Never beside the ends: reading there is slow.
    const last = Math.min(values.length - 1, i + 7 * WEEKS);
    for (let j = i - 7 * Math.min(WEEKS, Math.floor(i / 7)); j <= last; j += 7) {
      if (means[j]! > 0) parts[n++] = values[j]! / means[j]!;
    }
    out[i] = n < FEWEST_WEEKS ? Number.NaN : medianOf(parts, n);
  }
}

/** The median of the days around each day, itself left out; NaN with too few of them. */
function levelsAround(plain: Float64Array): Float64Array {
  const n = plain.length;
  const out = new Float64Array(n);
  const window = new SortedWindow(2 * LEVEL_DAYS + 2);
  const known = (i: number) => i >= 0 && i < n && !Number.isNaN(plain[i]!);
  for (let i = 0; i < Math.min(n, LEVEL_DAYS); i++) if (known(i)) window.add(plain[i]!);
  for (let i = 0; i < n; i++) {
    if (known(i + LEVEL_DAYS)) window.add(plain[i + LEVEL_DAYS]!);
    if (known(i - LEVEL_DAYS - 1)) window.remove(plain[i - LEVEL_DAYS - 1]!);
    if (known(i)) window.remove(plain[i]!);
    out[i] = window.size < FEWEST_DAYS ? Number.NaN : window.median();
    if (known(i)) window.add(plain[i]!);
  }
  return out;
}

/** The days of a series, by the weeks and days around each. Days are in order, without gaps. */
export function usualOf(values: Float64Array): Usual {
  const n = values.length;
  const means = weekMeans(values);
  const rhythm = new Float64Array(n);
  for (let start = 0; start < n; start += 7) rhythmOfWeek(values, means, start, rhythm);
  const plain = new Float64Array(n);
  for (let i = 0; i < n; i++) plain[i] = rhythm[i]! >= SILENT ? values[i]! / rhythm[i]! : Number.NaN;
  const level = (from: number, to: number, fewest: number): number => {
    const near = plain.slice(Math.max(0, from), Math.max(0, to + 1)).filter((v) => !Number.isNaN(v));
    return near.length < fewest ? Number.NaN : medianOf(near, near.length);
  };
  return {
    values,
    rhythm,
    both: levelsAround(plain),
    before: (i) => level(i - LEVEL_DAYS, i - 1, FEWEST_DAYS),
    after: (i) => level(i + 1, i + LEVEL_DAYS, FEWEST_AFTER),
  };
}
