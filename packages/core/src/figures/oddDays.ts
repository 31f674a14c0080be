import { addDays, type CivilDate, fromDayNumber, type Range, toDayNumber } from '../calendar/index.ts';
import { medianOf } from './median.ts';
import { LEVEL_DAYS, type Usual, usualOf, WEEKS } from './usual.ts';

/** A day that weekday and season do not explain, and what is usual there. */
export interface OddDay {
  day: CivilDate;
  /** `zero`: nothing came though something always does. `jump`: far from what its weekday brings. */
  kind: 'zero' | 'jump';
  value: number;
  usual: number;
}

/** One value a day from `from` on; NaN where it is not known. */
export interface DaySeries {
  from: CivilDate;
  values: Float64Array;
}

/** Days with fewer expected events are not judged: small numbers scatter (SEMANTICS §6). */
const FEWEST_EVENTS = 10;
/** Money scatters by its amounts, too: as much as fewer events would. */
const FEWEST_OF_MONEY = 5;
/** How many standard deviations are too far. */
const FAR = 4;
/** What moves less than this part of what is usual is not odd, however still the others lie. */
const LEAST = 0.3;
/** Makes a median absolute deviation a standard deviation under a normal law. */
const MAD_TO_SIGMA = 1.4826;
const SCATTER_DAYS = 56;
const FEWEST_SCATTER = 21;
/** Nothing for longer than this is a pause, not a fault. */
const LONGEST_HOLE = 28;
/** Where so many of the same weekdays around were empty, too, there is not always something. */
const MOST_ZEROES = 1;
const YEAR_OF_WEEKS = 364;
/** Where the season is looked for a year before: the same weekday, its neighbours, and the same date. */
const YEAR_BEFORE = [YEAR_OF_WEEKS, YEAR_OF_WEEKS - 7, YEAR_OF_WEEKS + 7, 365, 366];

/** A series with what is usual, and how far its days lie from that. */
class Judge {
  private readonly scatters = new Map<number, number>();
  private readonly isCount: boolean;
  private readonly usual: Usual;

  constructor(
    private readonly values: Float64Array,
    counts: boolean | undefined,
  ) {
    this.isCount = counts ?? values.every((v) => Number.isNaN(v) || Number.isInteger(v));
    this.usual = usualOf(values);
  }

  /**
   * How far a value lies from what is expected, on the scale of square roots, on which numbers of events scatter alike
   * whatever their size (Anscombe 1948): for events, in standard deviations at least.
   */
  private distance(value: number, expected: number): number {
    const c = this.isCount ? 0.375 : 0;
    return 2 * (Math.sqrt(Math.max(0, value) + c) - Math.sqrt(Math.max(0, expected) + c));
  }

  /** The scatter of the days around a day's week; NaN where too few of them are known. */
  private scatterAt(i: number): number {
    const week = Math.floor(i / 7);
    const found = this.scatters.get(week);
    if (found !== undefined) return found;
    const middle = 7 * week + 3;
    const near = new Float64Array(2 * SCATTER_DAYS + 1);
    const { both, rhythm } = this.usual;
    const last = Math.min(this.values.length - 1, middle + SCATTER_DAYS);
    let n = 0;
    for (let j = Math.max(0, middle - SCATTER_DAYS); j <= last; j++) {
      const far = this.distance(this.values[j]!, both(j) * rhythm(j));
      if (!Number.isNaN(far)) near[n++] = Math.abs(far);
    }
    const own = n < FEWEST_SCATTER ? Number.NaN : MAD_TO_SIGMA * medianOf(near, n);
    const scatter = this.isCount ? Math.max(1, own) : own;
    this.scatters.set(week, scatter);
    return scatter;
  }

  /** Whether at least ten events are expected: of money, as many as its scatter tells of. */
  private isEnough(expected: number, scatter: number): boolean {
    if (!(expected > 0)) return false;
    return this.isCount ? expected >= FEWEST_EVENTS : expected >= FEWEST_OF_MONEY * scatter * scatter;
  }

  /** Whether a value is too far from what is expected there. */
  private isFar(i: number, expected: number): boolean {
    const distance = Math.abs(this.distance(this.values[i]!, expected));
    // A count scatters by one on this scale at least: most days end here.
    return distance > (this.isCount ? FAR : 0) && distance > FAR * this.scatterAt(i);
  }

  /** What is expected by the side that explains a day best; null where nothing can be said, or a side explains it. */
  private expectedAt(i: number): number | null {
    const { before, after, both, rhythm } = this.usual;
    let best: number | null = null;
    for (const level of [both, before, after]) {
      const expected = level(i) * rhythm(i);
      if (Number.isNaN(expected)) continue;
      if (!this.isFar(i, expected)) return null;
      const value = this.values[i]!;
      if (best === null || Math.abs(this.distance(value, expected)) < Math.abs(this.distance(value, best))) {
        best = expected;
      }
    }
    return best;
  }

  /** First and last day of the days without anything around a day, those of silent weekdays among them. */
  private holeAround(i: number): [number, number] {
    const isEmpty = (j: number) => this.values[j] === 0 || this.usual.rhythm(j) === 0;
    let [a, b] = [i, i];
    // Longer than the longest is too long, however long it is.
    while (i - a <= LONGEST_HOLE && isEmpty(a - 1)) a--;
    while (b - i <= LONGEST_HOLE && isEmpty(b + 1)) b++;
    return [a, b];
  }

  /** What is usual on a day on which nothing came though something always does; null on any other. */
  private hole(i: number): number | null {
    if (this.values[i] !== 0) return null;
    const { before, after, rhythm } = this.usual;
    const [a, b] = this.holeAround(i);
    const isOver = b + 1 < this.values.length && this.values[b + 1]! > 0;
    if (b - a + 1 > (isOver ? LONGEST_HOLE : LEVEL_DAYS)) return null;
    const level = isOver ? (before(a) + after(b)) / 2 : before(a);
    const expected = level * rhythm(i);
    if (!this.isEnough(expected, this.scatterAt(i))) return null;
    let others = 0;
    for (let j = i - 7 * WEEKS; j <= i + 7 * WEEKS; j += 7) if (this.values[j] === 0 && (j < a || j > b)) others++;
    return others > MOST_ZEROES ? null : expected;
  }

  /** Whether the same day a year before left its own neighbours the same way: then the season explains it. */
  private isSeasonal(i: number, expected: number): boolean {
    const { both, rhythm } = this.usual;
    const value = this.values[i]!;
    return YEAR_BEFORE.some((days) => {
      const j = i - days;
      const then = both(j) * rhythm(j);
      const ratio = (this.values[j] ?? Number.NaN) / then;
      if (!(ratio >= 0) || !Number.isFinite(ratio)) return false;
      const [moved, movedThen] = [value / expected - 1, ratio - 1];
      const alike = Math.sign(moved) === Math.sign(movedThen) && Math.abs(movedThen) >= Math.abs(moved) / 2;
      if (!alike) return false;
      const left = Math.abs(this.distance(value, expected * ratio));
      return left <= FAR * this.scatterAt(i) || Math.abs(movedThen) >= Math.abs(moved);
    });
  }

  at(i: number): Omit<OddDay, 'day'> | null {
    const value = this.values[i] ?? Number.NaN;
    if (Number.isNaN(value)) return null;
    const hole = this.hole(i);
    if (hole !== null) return this.isSeasonal(i, hole) ? null : { kind: 'zero', value, usual: hole };
    const expected = this.expectedAt(i);
    if (expected === null) return null;
    if (!this.isEnough(expected, this.scatterAt(i))) return null;
    if (Math.abs(value - expected) < LEAST * expected || this.isSeasonal(i, expected)) return null;
    return { kind: 'jump', value, usual: expected };
  }
}

/**
 * Judges the days of a series, range by range, for their odd days (SEMANTICS §6): nothing came though something always does,
 * or the value lies beyond what weekday and season explain, from the days and weeks around as they are known. Days on which
 * fewer than ten events are expected, and those of `idle` (holidays), are not judged.
 * @param series from {@link rangesToJudge} of each range; more of it does no harm
 * @param counts whether it is a number of events; told by its values where nobody knows
 */
export function judgeOf(
  series: DaySeries,
  idle: ReadonlySet<CivilDate> = new Set(),
  counts?: boolean,
): (range: Range) => OddDay[] {
  const first = toDayNumber(series.from);
  const values = series.values.slice();
  for (const day of idle) {
    const i = toDayNumber(day) - first;
    if (i >= 0 && i < values.length) values[i] = Number.NaN;
  }
  const judge = new Judge(values, counts);
  return (range) => {
    const odd: OddDay[] = [];
    for (let day = toDayNumber(range.from); day <= toDayNumber(range.to); day++) {
      const found = judge.at(day - first);
      if (found) odd.push({ day: fromDayNumber(day), ...found });
    }
    return odd;
  };
}

/** {@link judgeOf} for one range. */
export const oddDaysIn = (series: DaySeries, range: Range, idle?: ReadonlySet<CivilDate>, counts?: boolean): OddDay[] =>
  judgeOf(series, idle, counts)(range);

/** The days that are wanted to judge those of a range: the weeks around it, and those around it a year before. */
export const rangesToJudge = ({ from, to }: Range): Range[] => [
  { from: addDays(from, -YEAR_OF_WEEKS - 7 - 4 * 7), to: addDays(to, -YEAR_OF_WEEKS + 7 + 4 * 7) },
  { from: addDays(from, -7 * (WEEKS + 1)), to: addDays(to, 7 * WEEKS) },
];
