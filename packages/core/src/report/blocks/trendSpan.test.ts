import { describe, expect, it } from 'vitest';
import { addDays, type Range, toDayNumber } from '../../calendar/index.ts';
import { answerAll, coverageOf, type Dataset, STANDARD } from '../../figures/index.ts';
import type { Scope } from './block.ts';
import { lineQuestions, lineValues, pointsOf, spanOf } from './trendSpan.ts';

const FIRST = '2024-01-01';
const DAYS = 1_000;

/** Ten visits a day, of which four bounce. */
function evenDays(missing: readonly number[] = []): Dataset {
  const from = toDayNumber(FIRST);
  const days = Array.from({ length: DAYS }, (_, i) => from + i).filter((_, i) => !missing.includes(i));
  const of = (value: number) => Float64Array.from(days, () => value);
  return {
    id: 'd',
    name: 'Visits',
    firstDay: FIRST,
    dimensions: [],
    measures: ['visits', 'bounces'],
    covered: coverageOf(days),
    columns: { days: Int32Array.from(days), dims: {}, measures: { visits: of(10), bounces: of(4) } },
  };
}

const spanning = (from: string, days: number): Range => ({ from, to: addDays(from, days - 1) });
const scopeOf = (days: number): Scope => ({
  period: spanning('2025-02-05', days),
  compared: spanning('2024-02-07', days),
  filter: {},
});
const lines = (metric: string, scope: Scope, dataset = evenDays()) => {
  const { current, before } = lineQuestions(metric, scope);
  return lineValues(metric, scope, answerAll([current, before!], [dataset]), STANDARD);
};

describe('the points of a trend', () => {
  it.each([
    [1, 'day', 1],
    [99, 'day', 99],
    [100, 'week', 15],
    [399, 'week', 58],
    [400, 'month', 14],
  ])('of %i days are of a %s each: %i of them', (days, span, points) => {
    const period = spanning('2025-02-05', days);
    expect(spanOf(period)).toBe(span);
    expect(pointsOf(period)).toHaveLength(points);
    expect(lines('visits', scopeOf(days)).current).toHaveLength(points);
  });

  it('are what a day has: a week that is cut at the ends of the period falls no lower for that', () => {
    for (const days of [30, 120, 450]) {
      const { current, before } = lines('visits', scopeOf(days));
      expect(new Set(current)).toEqual(new Set([10]));
      expect(new Set(before)).toEqual(new Set([10]));
      expect(new Set(lines('bounceRate', scopeOf(days)).current)).toEqual(new Set([0.4]));
    }
  });

  it('are made from the days that are known, and none where no day is', () => {
    const from = toDayNumber('2025-02-10') - toDayNumber(FIRST);
    // Two days of one week, and all of another.
    const { current } = lines(
      'visits',
      scopeOf(120),
      evenDays([from, from + 1, ...Array.from({ length: 7 }, (_, i) => from + 7 + i)]),
    );
    expect(current!.slice(0, 4)).toEqual([10, 10, null, 10]);
  });

  it('end where the compared range ends', () => {
    const scope = { ...scopeOf(120), compared: spanning('2024-02-07', 60) };
    const { current, before } = lines('visits', scope);
    expect(before).toHaveLength(current!.length);
    expect(before!.filter((v) => v !== null)).toHaveLength(9);
    expect(before!.at(-1)).toBeNull();
  });
});
