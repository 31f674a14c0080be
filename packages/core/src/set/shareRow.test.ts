import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shareRow } from './shareRow.ts';

const widths = (leasts: number[], room = 510, gap = 24) =>
  shareRow(leasts, room, gap).map((r) => r.map((p) => p.width));

describe('blocks of a row', () => {
  it('have the same width where each can live in it', () => {
    expect(widths([0, 0, 100])).toEqual([[154, 154, 154]]);
  });

  it('get what they need where the others have enough left', () => {
    expect(widths([0, 300, 0])).toEqual([[81, 300, 81]]);
    expect(widths([90, 300, 0])).toEqual([[90, 300, 72]]);
  });

  it('take a row of their own where they need too much, the others beside each other in their order', () => {
    expect(shareRow([200, 480, 100, 200], 510, 24).map((r) => r.map((p) => p.index))).toEqual([[0], [1], [2, 3]]);
    expect(widths([900, 0])).toEqual([[510], [510]]);
  });

  it('stand each in one place, in their order, none over another or beside the page, and none too narrow if it can be helped', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 700, noNaN: true }), { maxLength: 6 }), (leasts) => {
        const rows = shareRow(leasts, 510, 24);
        expect(rows.flat().map((p) => p.index)).toEqual(leasts.map((_, i) => i));
        for (const row of rows) {
          let end = -24;
          for (const { index, x, width } of row) {
            expect(x).toBeCloseTo(end + 24, 6);
            end = x + width;
            expect(width).toBeGreaterThanOrEqual(Math.min(510, leasts[index]!) - 1e-9);
          }
          expect(end).toBeCloseTo(510, 6);
        }
      }),
    );
  });
});
