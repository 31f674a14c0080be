import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, daysOf, lengthOf, toDayNumber } from '../calendar/index.ts';
import {
  type Aggregation,
  aggregate,
  byDay,
  coverageOf,
  type Dataset,
  isKnown,
  rhythmOf,
  STANDARD,
  stepsOf,
} from './index.ts';

const FIRST = '2026-10-01';
const DAYS = 21;

interface Row {
  day: number;
  hour: number;
  a: number;
  b: number;
}

function datasetOf(rows: Row[], covered: number[]): Dataset {
  const sorted = [...rows].sort((x, y) => x.day - y.day);
  const first = toDayNumber(FIRST);
  const labels = Array.from({ length: 24 }, (_, h) => String(h));
  return {
    id: 'd',
    name: 'd',
    firstDay: FIRST,
    dimensions: ['hour'],
    measures: ['visits', 'orders'],
    covered: coverageOf(covered.map((d) => first + d)),
    columns: {
      days: Int32Array.from(sorted, (r) => first + r.day),
      dims: { hour: { labels, codes: Int32Array.from(sorted, (r) => r.hour) } },
      measures: { visits: Float64Array.from(sorted, (r) => r.a), orders: Float64Array.from(sorted, (r) => r.b) },
    },
  };
}

const row = fc.record({
  day: fc.nat(DAYS - 1),
  hour: fc.nat(23),
  a: fc.integer({ min: 0, max: 40 }),
  b: fc.integer({ min: 0, max: 9 }),
});
const rows = fc.array(row, { maxLength: 60 });
const range = { from: FIRST, to: addDays(FIRST, DAYS - 1) };
const all = Array.from({ length: DAYS }, (_, i) => i);

describe('day by day', () => {
  it.each([
    ['sum', { kind: 'sum', measure: 'visits' }],
    ['rate', { kind: 'ratio', num: 'orders', den: 'visits' }],
    ['weighted mean', { kind: 'weighted', measure: 'orders', weight: 'visits' }],
    ['largest', { kind: 'max', measure: 'visits' }],
    ['level', { kind: 'level', measure: 'visits' }],
    ['growth', { kind: 'level', measure: 'visits', net: true }],
    ['formula', { kind: 'derived', formula: 'orders / visits * 10 - visits' }],
  ] as [string, Aggregation][])('a %s is what it is when each day is asked alone', (_, aggregation) => {
    fc.assert(
      fc.property(rows, fc.uniqueArray(fc.nat(DAYS - 1), { maxLength: 4 }), (found, gaps) => {
        const dataset = datasetOf(
          found,
          all.filter((d) => !gaps.includes(d)),
        );
        const series = byDay(dataset, aggregation, range, {});
        daysOf(range).forEach((day, i) => {
          if (gaps.includes(i)) {
            expect(series[i]).toBeNull();
            return;
          }
          const alone = aggregate(dataset, aggregation, { from: day, to: day }, {});
          // Growth needs the day before; on the first day there is none, whatever its level.
          const expected = isKnown(alone) ? alone.value : null;
          if (expected === null) expect(series[i]).toBeNull();
          else expect(series[i]).toBeCloseTo(expected, 9);
        });
      }),
      { numRuns: 40 },
    );
  });

  it('steps tile their range, cut at its ends, and begin with the client’s week', () => {
    fc.assert(
      fc.property(fc.nat(800), fc.nat(300), fc.integer({ min: 1, max: 7 }), (start, length, weekStart) => {
        const from = addDays('2024-01-01', start);
        const whole = { from, to: addDays(from, length) };
        for (const step of ['day', 'week', 'month', 'quarter'] as const) {
          const steps = stepsOf(whole, step, weekStart);
          expect(steps[0]!.from).toBe(whole.from);
          expect(steps.at(-1)!.to).toBe(whole.to);
          expect(steps.reduce((n, s) => n + lengthOf(s), 0)).toBe(lengthOf(whole));
          for (const [i, s] of steps.slice(1).entries()) expect(s.from).toBe(addDays(steps[i]!.to, 1));
        }
      }),
    );
  });
});

describe('weekday by hour', () => {
  it('is the mean of the days of each weekday, and adds up to the total', () => {
    fc.assert(
      fc.property(rows, (found) => {
        const dataset = datasetOf(found, all);
        const rhythm = rhythmOf(dataset, { kind: 'sum', measure: 'visits' }, range, {}, 1)!;
        const sum = rhythm.cells.reduce(
          (n, cells, d) => n + cells.reduce<number>((m, v) => m + (v ?? 0), 0) * rhythm.days[d]!,
          0,
        );
        const whole = found.reduce((n, r) => n + r.a, 0);
        expect(sum).toBeCloseTo(whole, 6);
        expect(rhythm.days).toEqual([3, 3, 3, 3, 3, 3, 3]);
      }),
    );
  });

  it('begins with the client’s first day of the week, and is none for what has no such mean', () => {
    const dataset = datasetOf([{ day: 0, hour: 9, a: 6, b: 3 }], all);
    // 1 October 2026 was a Thursday.
    expect(rhythmOf(dataset, { kind: 'sum', measure: 'visits' }, range, {}, 1)!.cells[3]![9]).toBe(2);
    expect(rhythmOf(dataset, { kind: 'sum', measure: 'visits' }, range, {}, 7)!.cells[4]![9]).toBe(2);
    expect(rhythmOf(dataset, STANDARD.lookup('orderRate'), range, {}, 1)!.cells[3]![9]).toBe(0.5);
    expect(rhythmOf(dataset, { kind: 'level', measure: 'visits' }, range, {}, 1)).toBeNull();
  });
});
