import { describe, expect, it } from 'vitest';
import { addDays, type Range } from '../../calendar/index.ts';
import { comparedPoints, periodPoints, pointsOf, spanOf } from './trendSpan.ts';

const spanning = (from: string, days: number): Range => ({ from, to: addDays(from, days - 1) });
const FROM = '2025-02-05';
const even = (days: number, missing: readonly number[] = []): (number | null)[] =>
  Array.from({ length: days }, (_, i) => (missing.includes(i) ? null : 10));

describe('the points of a trend', () => {
  it.each([
    [1, 'day', 1],
    [99, 'day', 99],
    [100, 'week', 15],
    [399, 'week', 58],
    [400, 'month', 14],
  ] as const)('of %i days of what adds up are of a %s each: %i of them', (days, span, points) => {
    const period = spanning(FROM, days);
    expect(spanOf(period, true)).toBe(span);
    expect(pointsOf(period, span, 1)).toHaveLength(points);
    expect(periodPoints(even(days), period, span, 1).values).toHaveLength(points);
  });

  it('of rates and uniques stay days, however many: they are neither averaged nor added up', () => {
    for (const days of [120, 450]) expect(spanOf(spanning(FROM, days), false)).toBe('day');
  });

  it('are what a day has: a week that is cut at the ends of the period falls no lower for that', () => {
    for (const days of [30, 120, 450]) {
      const [period, compared] = [spanning(FROM, days), spanning('2024-02-07', days)];
      const span = spanOf(period, true);
      expect(periodPoints(even(days), period, span, 1)).toEqual({ values: expect.any(Array), partial: false });
      expect(new Set(periodPoints(even(days), period, span, 1).values)).toEqual(new Set([10]));
      expect(new Set(comparedPoints(even(days), period, compared, span, 1).values)).toEqual(new Set([10]));
    }
  });

  it('are made from the days that are known and say so; there is none where no day is', () => {
    // Two days of the second week, and all of the third.
    const missing = [5, 6, 12, 13, 14, 15, 16, 17, 18];
    const { values, partial } = periodPoints(even(120, missing), spanning(FROM, 120), 'week', 1);
    expect(values.slice(0, 4)).toEqual([10, 10, null, 10]);
    expect(partial).toBe(true);
    expect(periodPoints(even(120, missing.slice(2)), spanning(FROM, 120), 'week', 1).partial).toBe(false);
  });

  it('are of the weeks that the client has: one that begins on Sunday has Sundays for its points', () => {
    const period = spanning('2026-03-01', 120);
    expect(pointsOf(period, 'week', 7).slice(0, 3)).toEqual(['2026-03-01', '2026-03-08', '2026-03-15']);
    expect(pointsOf(period, 'week', 1).slice(0, 3)).toEqual(['2026-03-01', '2026-03-02', '2026-03-09']);
    // A first Sunday of its own week, against one that stands alone before Monday.
    const daily = Array.from({ length: 120 }, (_, i) => (i === 0 ? 70 : 0));
    expect(periodPoints(daily, period, 'week', 7).values[0]).toBe(10);
    expect(periodPoints(daily, period, 'week', 1).values[0]).toBe(70);
  });

  it('end where the compared range ends', () => {
    const [period, compared] = [spanning(FROM, 120), spanning('2024-02-07', 60)];
    const { values } = comparedPoints(even(60), period, compared, 'week', 1);
    expect(values).toHaveLength(pointsOf(period, 'week', 1).length);
    expect(values.filter((v) => v !== null)).toHaveLength(9);
    expect(values.at(-1)).toBeNull();
  });
});
