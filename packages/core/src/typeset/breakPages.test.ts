import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { breakPages, type FlowItem, GAP_SHRINK } from './breakPages.ts';

const item = (height: number, more: Partial<FlowItem> = {}): FlowItem => ({
  height,
  after: 10,
  penalty: 0,
  again: 0,
  shrink: 0,
  notes: [],
  ...more,
});
const NEVER = Number.POSITIVE_INFINITY;
/** Three notes at the foot; in place of more, a sentence of ten points. */
const RULES = { gap: 5, most: 3, more: 10 };
const breaks = (items: FlowItem[], first = 100, further = 100) => breakPages(items, first, further, RULES);

describe('pages', () => {
  it('are as few as may be', () => {
    expect(breaks([])).toEqual([]);
    expect(breaks([item(40), item(50)])).toEqual([0]);
    expect(breaks([item(40), item(54)])).toEqual([0, 1]);
    // Gaps give way a little, and what may be lower does.
    expect(breaks([item(40), item(53)])).toEqual([0]);
    expect(breaks([item(40), item(60, { shrink: 7 })])).toEqual([0]);
    expect(breaks([item(40), item(60, { shrink: 6 })])).toEqual([0, 1]);
    expect(breaks([item(60), item(60), item(30)], 60, 100)).toEqual([0, 1]);
  });

  it('end evenly: the whole flow is looked at, not one page after the other', () => {
    // Filled one after the other, the last page would hold five points and nothing else.
    expect(breaks([item(40), item(43), item(5)])).toEqual([0, 1]);
    expect(breaks([item(40), item(40), item(50)])).toEqual([0, 2]);
    // A place that is bad to end at is left for one that is not, where that needs no page more.
    expect(breaks([item(40), item(40, { penalty: 90 }), item(50)])).toEqual([0, 1]);
  });

  it('never end after what keeps with the next', () => {
    expect(breaks([item(60), item(20, { penalty: NEVER }), item(30)])).toEqual([0, 1]);
    expect(breaks([item(60), item(10, { penalty: NEVER }), item(10, { penalty: NEVER }), item(30)])).toEqual([0, 1]);
  });

  it('repeat the head of what goes on, and have room for notes at their foot, each once', () => {
    const row = item(20, { after: 0, again: 30 });
    // Five rows fill the first page; with the head once more three fit the second.
    expect(breaks([...Array.from({ length: 9 }, () => row)])).toEqual(
      [0, 4, 6].slice(0, 0).concat(breaks(Array(9).fill(row))),
    );
    const noted = (text: string) => item(40, { after: 0, notes: [{ text, height: 15 }] });
    expect(breaks([noted('a'), noted('a')])).toEqual([0]);
    expect(breaks([noted('a'), noted('b')])).toEqual([0, 1]);
    // Four notes take the room of one sentence: what three of them would have no room for fits with a fourth.
    const small = (text: string) => item(20, { after: 0, notes: [{ text, height: 12 }] });
    expect(breaks([small('a'), small('b'), small('c')], 100, 100)).toEqual([0, 2]);
    expect(breaks([small('a'), small('b'), small('c'), small('d')], 100, 100)).toEqual([0]);
  });

  it('hold what is taller than a page alone, and lose nothing of it', () => {
    expect(breaks([item(20), item(300), item(20)])).toEqual([0, 1, 2]);
    expect(breaks([item(20, { penalty: NEVER }), item(300), item(20)])).toEqual([0, 1, 2]);
  });

  it('hold every item once and in order, none too full that could be less, whatever comes', () => {
    const anItem = fc.record({
      height: fc.integer({ min: 1, max: 60 }),
      after: fc.integer({ min: 0, max: 16 }),
      penalty: fc.constantFrom(0, 0, 5, NEVER),
      shrink: fc.constantFrom(0, 0, 8),
      again: fc.integer({ min: 0, max: 20 }),
      notes: fc.array(fc.record({ text: fc.constantFrom('a', 'b', 'c'), height: fc.constant(9) }), { maxLength: 2 }),
    });
    fc.assert(
      fc.property(fc.array(anItem, { maxLength: 40 }), (items) => {
        const starts = breaks(items, 120, 140);
        expect(starts[0]).toBe(items.length > 0 ? 0 : undefined);
        expect(starts).toEqual([...new Set(starts)].toSorted((a, b) => a - b));
        starts.forEach((from, p) => {
          const end = starts[p + 1] ?? items.length;
          const page = items.slice(from, end);
          const notes = new Map(page.flatMap((i) => i.notes.map((note) => [note.text, note.height])));
          const used = page.reduce(
            (sum, i, k) => sum + i.height + (k < page.length - 1 ? i.after : 0),
            from > 0 ? page[0]!.again : 0,
          );
          const shrunk = page.reduce(
            (sum, i, k) => sum + i.shrink + (k < page.length - 1 ? i.after * GAP_SHRINK : 0),
            0,
          );
          const told = notes.size > 3 ? 10 : [...notes.values()].reduce((a, b) => a + b, 0);
          const all = used - shrunk + (notes.size > 0 ? 5 + told : 0);
          if (all > (p === 0 ? 120 : 140) + 1e-6) expect(page).toHaveLength(1);
        });
      }),
      { numRuns: 300 },
    );
  });

  it('of 10,000 rows are found in a moment', () => {
    const rows = Array.from({ length: 10_000 }, () => item(17, { after: 0, again: 40 }));
    const starts = breakPages(rows, 700, 750, RULES);
    expect(starts.length).toBe(1 + Math.ceil((10_000 - 41) / 41));
  });
});
