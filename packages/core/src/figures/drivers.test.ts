import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { driversOfRatio, driversOfSum, sharesOf } from './index.ts';

const label = fc.constantFrom('a', 'b', 'c', 'd', 'e');
const parts = fc.uniqueArray(fc.record({ label, value: fc.integer({ min: -10_000, max: 10_000 }) }), {
  selector: (p) => p.label,
});
const ratioParts = fc.uniqueArray(
  fc.record({ label, num: fc.integer({ min: 0, max: 500 }), den: fc.integer({ min: 0, max: 5_000 }) }),
  { selector: (p) => p.label },
);

describe('drivers', () => {
  it('of a sum add up to its change', () => {
    fc.assert(
      fc.property(parts, parts, (now, before) => {
        const { total, items } = driversOfSum(now, before);
        expect(items.reduce((n, i) => n + i.contribution, 0)).toBe(total);
      }),
    );
  });

  it('of a sum tell its change itself', () => {
    const found = driversOfSum(
      [{ label: 'A', value: 7 }],
      [
        { label: 'A', value: 4 },
        { label: 'B', value: 2 },
      ],
    );
    expect(found.total).toBe(1);
  });

  it('of a ratio add up to its change, with the residual, to 1e-12', () => {
    fc.assert(
      fc.property(ratioParts, ratioParts, (now, before) => {
        const found = driversOfRatio(now, before);
        if ('na' in found) return;
        const sum = found.items.reduce((n, i) => n + i.rate + i.mix, 0) + found.residual;
        expect(Math.abs(sum - (found.current - found.compared))).toBeLessThanOrEqual(
          1e-12 * Math.max(1, Math.abs(found.current), Math.abs(found.compared)),
        );
      }),
    );
  });

  it('of a ratio whose parts are new or gone are all weight, and nothing is left over', () => {
    const found = driversOfRatio([{ label: 'New', num: 3, den: 10 }], [{ label: 'Gone', num: 1, den: 10 }]);
    if ('na' in found) throw new Error('it has both sides');
    expect(found.residual).toBe(0);
    expect(found.items.map((i) => [i.label, i.rate])).toEqual(
      expect.arrayContaining([
        ['New', 0],
        ['Gone', 0],
      ]),
    );
    expect(found.items.reduce((n, i) => n + i.mix, 0)).toBeCloseTo(0.2, 12);
  });

  it('are turned round when the sides are', () => {
    fc.assert(
      fc.property(parts, parts, (now, before) => {
        const there = driversOfSum(now, before).items.map((i) => [i.label, i.contribution + 0]);
        const back = driversOfSum(before, now).items.map((i) => [i.label, 0 - i.contribution]);
        expect(back).toEqual(there);
      }),
    );
  });
});

describe('shares', () => {
  it('with Other make one whole', () => {
    fc.assert(
      fc.property(parts, fc.double({ min: 0, max: 0.4, noNaN: true }), (some, limit) => {
        const found = sharesOf(some, limit);
        if ('na' in found) return;
        const sum = found.slices.reduce((n, s) => n + s.share, found.other?.share ?? 0);
        expect(sum).toBeCloseTo(1, 9);
        for (const s of found.slices) expect(s.value).toBeGreaterThan(0);
      }),
    );
  });
});
