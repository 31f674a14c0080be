import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isTotalLabel, totalsSieve } from './index.ts';

describe('the label of a total', () => {
  it.each([
    'Total',
    'TOTALS',
    'Grand total',
    'Subtotal',
    'Summe',
    'Gesamt',
    'Total général',
    'Totale',
    'Totaal',
    'Razem',
    'Итого',
    'סה"כ',
    ' total: ',
  ])('is known: %s', (label) => expect(isTotalLabel(label)).toBe(true));
  it.each(['Total Fitness', 'Summer', 'Totally', 'Somme-Leuze', 'Sumatra', '', '12', 'All visits'])(
    'is no other word: %s',
    (label) => expect(isTotalLabel(label)).toBe(false),
  );
});

describe('rows that may be totals', () => {
  const rows = fc.array(fc.record({ day: fc.integer({ min: 0, max: 5 }), value: fc.integer({ min: 1, max: 1_000 }) }), {
    minLength: 2,
    maxLength: 40,
  });

  it('are one where they are the sum of all others, wherever they stand, and none where they are not', () => {
    fc.assert(
      fc.property(rows, fc.boolean(), fc.boolean(), (all, first, off) => {
        const sieve = totalsSieve<string>([true]);
        const sum = all.reduce((n, r) => n + r.value, 0);
        const hold = () => sieve.hold(null, Float64Array.of(off ? sum + 1 : sum), 'total');
        if (first) hold();
        for (const r of all) sieve.add(r.day, Float64Array.of(r.value));
        if (!first) hold();
        const { totals, others } = sieve.settle();
        expect([totals.length, others.length]).toEqual(off ? [0, 1] : [1, 0]);
      }),
    );
  });

  it('of days are totals all together, and never where each day has one row alone', () => {
    fc.assert(
      fc.property(rows, (all) => {
        const days = new Map<number, { sum: number; rows: number }>();
        const sieve = totalsSieve<number>([true]);
        for (const { day, value } of all) {
          sieve.add(day, Float64Array.of(value));
          const known = days.get(day) ?? { sum: 0, rows: 0 };
          days.set(day, { sum: known.sum + value, rows: known.rows + 1 });
        }
        for (const [day, { sum }] of days) sieve.hold(day, Float64Array.of(sum), day);
        const proved = [...days.values()].some((d) => d.rows >= 2);
        expect(sieve.settle().totals.length).toBe(proved ? days.size : 0);
      }),
    );
  });

  it('are compared by what adds up alone: a rate of a total is no sum', () => {
    const sieve = totalsSieve<string>([true, false]);
    sieve.add(1, Float64Array.of(100, 0.1));
    sieve.add(2, Float64Array.of(300, 0.5));
    sieve.hold(null, Float64Array.of(400, 0.4), 'total');
    expect(sieve.settle().totals).toHaveLength(1);
    expect(totalsSieve([false]).hold(null, Float64Array.of(0.4), 'nothing to compare')).toBe(false);
  });
});
