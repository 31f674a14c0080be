import { hashText, randomFrom } from './random.ts';

const DAY = 86_400_000;
export const dayNumber = (date: string): number => Date.parse(date) / DAY;

/** How busy an account is: on an ordinary day at its beginning, and how that moves. */
export interface Pulse {
  base: number;
  /** Growth a year: 0.1 is ten per cent. */
  growth: number;
  /** By weekday against the mean, Monday first. */
  week: readonly number[];
  /** How far the season swings about its mean, highest in the middle of the year; negative for the winter. */
  swing?: number;
}

/** Whole numbers near an expected one, and chances, of one account and day. */
export interface Dice {
  next(): number;
  /** A whole number whose mean is `x`. */
  whole(x: number): number;
  /** `x`, up to `by` of it more or less. */
  around(x: number, by: number): number;
}

export function diceFor(...parts: readonly string[]): Dice {
  const next = randomFrom(hashText(parts.join('|')));
  return {
    next,
    whole: (x) => Math.floor(x + next()),
    around: (x, by) => x * (1 - by + 2 * by * next()),
  };
}

/** How much an account has to do on a day, before chance. */
export function levelOn({ base, growth, week, swing = 0 }: Pulse, firstDay: string, date: string): number {
  const years = (dayNumber(date) - dayNumber(firstDay)) / 365.25;
  const season = 1 + swing * Math.sin((((dayNumber(date) % 365.25) - 100) / 365.25) * 2 * Math.PI);
  return base * (1 + growth) ** years * season * week[(dayNumber(date) + 3) % 7]!;
}
