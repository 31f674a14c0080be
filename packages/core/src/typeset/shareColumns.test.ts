import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shareColumns } from './shareColumns.ts';

describe('columns of a table', () => {
  it('have what they want where there is room, what they need where there is not, and the same share between', () => {
    const wishes = [
      { least: 40, natural: 100 },
      { least: 30, natural: 50 },
    ];
    expect(shareColumns(wishes, 200)).toEqual([100, 50]);
    expect(shareColumns(wishes, 70)).toEqual([40, 30]);
    expect(shareColumns(wishes, 110)).toEqual([70, 40]);
    expect(shareColumns(wishes, 69)).toBeNull();
    expect(shareColumns([{ least: 40, natural: 10 }], 100)).toEqual([40]);
  });

  it('are never narrower than they need, and never come to more than there is', () => {
    const size = fc.double({ min: 0, max: 300, noNaN: true });
    const wish = fc.record({ least: size, natural: size });
    fc.assert(
      fc.property(fc.array(wish, { maxLength: 8 }), fc.double({ min: 0, max: 900, noNaN: true }), (wishes, room) => {
        const needed = wishes.reduce((sum, w) => sum + w.least, 0);
        const widths = shareColumns(wishes, room);
        if (widths === null) {
          expect(needed).toBeGreaterThan(room);
          return;
        }
        expect(widths.every((w, i) => w >= wishes[i]!.least)).toBe(true);
        expect(widths.reduce((sum, w) => sum + w, 0)).toBeLessThanOrEqual(room + 1e-6);
      }),
    );
  });
});
