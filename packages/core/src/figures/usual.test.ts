import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LEVEL_DAYS, usualOf } from './usual.ts';

const median = (values: number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  const mid = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[mid]! : (sorted[mid - 1]! + sorted[mid]!) / 2;
};

/** Sixteen weeks of days, some of them not known. */
const series = fc
  .array(
    fc.oneof(
      { weight: 9, arbitrary: fc.integer({ min: 1, max: 500 }) },
      { weight: 1, arbitrary: fc.constant(Number.NaN) },
    ),
    {
      minLength: 112,
      maxLength: 112,
    },
  )
  .map((v) => Float64Array.from(v));

describe('what days usually bring', () => {
  it('is the level of the two weeks before and after, together and alone, each day by its weekday', () => {
    fc.assert(
      fc.property(series, fc.nat(111), (values, i) => {
        const usual = usualOf(values);
        // A weekday that brings next to nothing says nothing of the level.
        const plain = [...values].map((v, j) => (usual.rhythm(j) >= 0.05 ? v / usual.rhythm(j) : Number.NaN));
        const known = (from: number, to: number) =>
          plain.slice(Math.max(0, from), Math.max(0, to + 1)).filter((v) => !Number.isNaN(v));
        const before = known(i - LEVEL_DAYS, i - 1);
        const after = known(i + 1, i + LEVEL_DAYS);
        const check = (level: number, days: number[], fewest: number) =>
          days.length < fewest ? expect(level).toBeNaN() : expect(level).toBeCloseTo(median(days), 9);
        check(usual.before(i), before, 6);
        check(usual.after(i), after, 3);
        check(usual.both(i), [...before, ...after], 6);
      }),
    );
  });

  it('has the rhythm of the weeks around: each weekday’s median part of its own week', () => {
    const week = [1, 2, 3, 4, 5, 6, 7];
    const values = Float64Array.from({ length: 84 }, (_, i) => week[i % 7]! * (10 + Math.floor(i / 28)));
    const { rhythm } = usualOf(values);
    // By the last weeks, whose parts are those of the days around, the level moves by a tenth at most.
    for (let d = 0; d < 7; d++) expect(rhythm(35 + d) * 4).toBeCloseTo(week[d]!, 0);
    const short = usualOf(Float64Array.from([1, 2, 3])).rhythm;
    expect([0, 1, 2].map(short)).toEqual([Number.NaN, Number.NaN, Number.NaN]);
  });
});
