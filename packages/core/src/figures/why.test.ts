import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toDayNumber } from '../calendar/index.ts';
import {
  type Aggregation,
  aggregate,
  coverageOf,
  type Dataset,
  driversOf,
  formOf,
  isKnown,
  STANDARD,
} from './index.ts';

const LABELS = ['Direct', 'Email', 'Paid search', 'Social'];
const [NOW, BEFORE] = ['2026-10-02', '2026-10-01'];
const day = (d: string) => ({ from: d, to: d });

interface Row {
  day: string;
  label: number;
  a: number;
  b: number;
}

function datasetOf(rows: Row[]): Dataset {
  const sorted = [...rows].sort((x, y) => (x.day < y.day ? -1 : x.day > y.day ? 1 : 0));
  const column = (f: (r: Row) => number) => Float64Array.from(sorted, f);
  return {
    id: 'd',
    name: 'd',
    firstDay: BEFORE,
    dimensions: ['channel'],
    measures: ['visits', 'orders'],
    covered: coverageOf([toDayNumber(BEFORE), toDayNumber(NOW)]),
    columns: {
      days: Int32Array.from(sorted, (r) => toDayNumber(r.day)),
      dims: { channel: { labels: LABELS, codes: Int32Array.from(sorted, (r) => r.label) } },
      measures: { visits: column((r) => r.a), orders: column((r) => r.b) },
    },
  };
}

const row = fc.record({
  day: fc.constantFrom(NOW, BEFORE),
  label: fc.nat(3),
  a: fc.integer({ min: 0, max: 500 }),
  b: fc.integer({ min: 0, max: 60 }),
});
const ask = { dimension: 'channel', range: day(NOW), compared: day(BEFORE), filter: {} };
const derived = (formula: string): Aggregation => ({ kind: 'derived', formula });

describe('drivers', () => {
  it.each([
    ['a sum', { kind: 'sum', measure: 'visits' }],
    ['a rate', { kind: 'ratio', num: 'orders', den: 'visits' }],
    ['a weighted mean', { kind: 'weighted', measure: 'orders', weight: 'visits' }],
    ['a sum of sums', derived('visits - 2 * orders')],
    ['a quotient of sums', derived('(orders + visits) / visits * 100')],
  ] as [string, Aggregation][])('of %s add up to the change of its figure', (_, aggregation) => {
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 30 }), (rows) => {
        const dataset = datasetOf(rows);
        const [now, before] = [day(NOW), day(BEFORE)].map((r) => aggregate(dataset, aggregation, r, {}));
        const found = driversOf(dataset, aggregation, ask, STANDARD.lookup);
        if (!isKnown(now!) || !isKnown(before!) || 'na' in found) return;
        const sum = found.items.reduce((n, i) => n + i.by, found.residual);
        const size = Math.max(1, Math.abs(now.value), Math.abs(before.value));
        expect(Math.abs(found.change - (now.value - before.value))).toBeLessThanOrEqual(1e-9 * size);
        expect(Math.abs(sum - found.change)).toBeLessThanOrEqual(1e-9 * size);
      }),
    );
  });

  it('come largest first, of levels too, and not of what cannot be divided', () => {
    const dataset = datasetOf([
      { day: BEFORE, label: 0, a: 10, b: 0 },
      { day: BEFORE, label: 1, a: 50, b: 0 },
      { day: NOW, label: 0, a: 12, b: 0 },
      { day: NOW, label: 1, a: 20, b: 0 },
    ]);
    const level = driversOf(dataset, { kind: 'level', measure: 'visits' }, ask, STANDARD.lookup);
    expect(level).toMatchObject({
      change: -28,
      items: [
        { label: 'Email', by: -30 },
        { label: 'Direct', by: 2 },
      ],
    });
    expect(driversOf(dataset, { kind: 'max', measure: 'visits' }, ask, STANDARD.lookup)).toEqual({
      na: 'not-additive',
    });
    expect(
      driversOf(dataset, { kind: 'sum', measure: 'visits' }, { ...ask, dimension: 'device' }, STANDARD.lookup),
    ).toEqual({ na: 'filtered-out-of-feed' });
  });

  it('are not made of formulas that are neither a sum nor one sum over another', () => {
    const lookup = STANDARD.lookup;
    for (const formula of [
      'max(visits, orders)',
      'visits * orders',
      'visits + 1',
      'orderRate / visits',
      'abs(visits)',
    ]) {
      expect(formOf(derived(formula), lookup), formula).toBeNull();
    }
    expect(formOf(derived('orderRate + leadRate'), lookup)?.kind).toBe('ratio');
    expect(formOf(derived('orderRate * 100'), lookup)?.kind).toBe('ratio');
  });
});
