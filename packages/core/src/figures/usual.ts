import { medianOf } from './median.ts';
import { SortedWindow } from './sortedWindow.ts';

/**
 * What the days of a sum usually bring, robustly: a rhythm of the week from the weeks around, and a level from the days
 * around. Each is reckoned when a day nearby is asked for: of years of days, a month's are. NaN where nothing is known.
 */
export interface Usual {
  /** A weekday's part of the level. */
  rhythm(i: number): number;
  /** The level of the two weeks before and the two after a day, together and alone. */
  both(i: number): number;
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

/** Days whose levels are reckoned together. */
const STRETCH = 28;

/** For the days of a stretch from `start` on, the median of the days around each, itself left out; NaN with too few of them. */
function levelsAround(known: (i: number) => number, start: number, out: Float64Array): void {
  const window = new SortedWindow(2 * LEVEL_DAYS + 2);
  const add = (value: number) => {
    if (!Number.isNaN(value)) window.add(value);
  };
  const remove = (value: number) => {
    if (!Number.isNaN(value)) window.remove(value);
  };
  for (let i = start - LEVEL_DAYS - 1; i < start + LEVEL_DAYS; i++) add(known(i));
  for (let i = start; i < Math.min(start + STRETCH, out.length); i++) {
    add(known(i + LEVEL_DAYS));
    remove(known(i - LEVEL_DAYS - 1));
    remove(known(i));
    out[i] = window.size < FEWEST_DAYS ? Number.NaN : window.median();
    add(known(i));
  }
}

/** What is reckoned for so many days at a time, once, when one of them is asked for; NaN beyond the ends. */
function inStretches(n: number, days: number, reckon: (start: number, out: Float64Array) => void) {
  const out = new Float64Array(n);
  const isDone = new Uint8Array(Math.ceil(n / days));
  return (i: number): number => {
    if (i < 0 || i >= n) return Number.NaN;
    const stretch = Math.floor(i / days);
    if (isDone[stretch] === 0) {
      isDone[stretch] = 1;
      reckon(stretch * days, out);
    }
    return out[i]!;
  };
}

/** The days of a series, one value a day, NaN where none is known; in order, without gaps. */
export function usualOf(values: Float64Array): Usual {
  const n = values.length;
  const means = weekMeans(values);
  const rhythm = inStretches(n, 7, (start, out) => rhythmOfWeek(values, means, start, out));
  const plain = (i: number): number => {
    const part = rhythm(i);
    return part >= SILENT ? values[i]! / part : Number.NaN;
  };
  const level = (from: number, to: number, fewest: number): number => {
    const near = new Float64Array(LEVEL_DAYS);
    let known = 0;
    for (let i = from; i <= to; i++) {
      const value = plain(i);
      if (!Number.isNaN(value)) near[known++] = value;
    }
    return known < fewest ? Number.NaN : medianOf(near, known);
  };
  return {
    rhythm,
    both: inStretches(n, STRETCH, (start, out) => levelsAround(plain, start, out)),
    before: (i) => level(i - LEVEL_DAYS, i - 1, FEWEST_DAYS),
    after: (i) => level(i + 1, i + LEVEL_DAYS, FEWEST_AFTER),
  };
}
