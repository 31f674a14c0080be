import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { columnsWidth, linesOfRow, shareRow } from './shareRow.ts';

const GRID = { room: 510, gap: 24, columns: 12 };
const even = (leasts: number[]) => leasts.map((least) => ({ least }));
const widths = (leasts: number[]) => shareRow(even(leasts), GRID).map((r) => r.map((p) => p.width));

describe('blocks of a row', () => {
  it('have the same width where each can live in it', () => {
    expect(widths([0, 0, 100])).toEqual([[154, 154, 154]]);
  });

  it('get what they need where the others have enough left', () => {
    expect(widths([0, 300, 0])).toEqual([[81, 300, 81]]);
    expect(widths([90, 300, 0])).toEqual([[90, 300, 72]]);
  });

  it('take a row of their own where they need too much, the others beside each other in their order', () => {
    expect(shareRow(even([200, 480, 100, 200]), GRID).map((r) => r.map((p) => p.index))).toEqual([[0], [1], [2, 3]]);
    expect(widths([900, 0])).toEqual([[510], [510]]);
  });

  it('have as many columns as they say, and share evenly what is left', () => {
    const said = [{ least: 0, columns: 8 }, { least: 0 }];
    expect(shareRow(said, GRID)[0]!.map((p) => p.width)).toEqual([columnsWidth(GRID, 8), columnsWidth(GRID, 4)]);
    // Halves and thirds of the grid are those of a row that is shared evenly.
    expect(columnsWidth(GRID, 6)).toBeCloseTo(243);
    expect(columnsWidth(GRID, 4)).toBeCloseTo(154);
  });

  it('stay as wide as they say where the line is not full, and widen where what filled it is not there', () => {
    const half = [{ least: 0, columns: 6 }];
    expect(shareRow(half, GRID, false)[0]![0]!.width).toBeCloseTo(243);
    expect(shareRow(half, GRID, true)[0]![0]!.width).toBeCloseTo(510);
  });

  it('begin another line where the columns are used up', () => {
    const of = (...columns: (number | undefined)[]) =>
      linesOfRow(
        columns.map((c) => ({ columns: c })),
        12,
      );
    expect(of(6, 6, 4)).toEqual([
      { places: [0, 1], fills: true },
      { places: [2], fills: false },
    ]);
    expect(of(undefined, 12, undefined).map((l) => l.places)).toEqual([[0], [1], [2]]);
    expect(of(10, undefined)).toEqual([{ places: [0, 1], fills: true }]);
  });

  it('stand each in one place, in their order, none over another or beside the page, and none too narrow if it can be helped', () => {
    const wish = fc.record({
      least: fc.double({ min: 0, max: 700, noNaN: true }),
      columns: fc.option(fc.integer({ min: 2, max: 12 }), { nil: undefined }),
    });
    fc.assert(
      fc.property(fc.array(wish, { maxLength: 6 }), (wishes) => {
        const lines = linesOfRow(wishes, 12);
        expect(lines.flatMap((l) => l.places)).toEqual(wishes.map((_, i) => i));
        for (const { places, fills } of lines) {
          const own = places.map((i) => wishes[i]!);
          const rows = shareRow(own, GRID, fills);
          expect(rows.flat().map((p) => p.index)).toEqual(own.map((_, i) => i));
          for (const row of rows) {
            let end = -24;
            for (const { index, x, width } of row) {
              expect(x).toBeCloseTo(end + 24, 6);
              end = x + width;
              expect(width).toBeGreaterThanOrEqual(Math.min(510, own[index]!.least) - 1e-9);
            }
            expect(end).toBeLessThanOrEqual(510 + 1e-6);
            if (fills) expect(end).toBeCloseTo(510, 6);
          }
        }
      }),
    );
  });
});
