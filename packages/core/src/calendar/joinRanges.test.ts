import fc from 'fast-check';
import { expect, it } from 'vitest';
import { addDays, daysOf, joinRanges, rangesOfDays } from './index.ts';

const day = fc.nat(60).map((n) => addDays('2026-02-01', n));
const range = fc.tuple(day, fc.nat(9)).map(([from, n]) => ({ from, to: addDays(from, n) }));

it('joined ranges hold the same days, in order, with a gap between each two', () => {
  fc.assert(
    fc.property(fc.array(range, { maxLength: 12 }), (ranges) => {
      const joined = joinRanges(ranges);
      expect(joined.flatMap(daysOf)).toEqual([...new Set(ranges.flatMap(daysOf))].sort());
      joined.slice(1).forEach((r, i) => {
        expect(r.from > addDays(joined[i]!.to, 1)).toBe(true);
      });
    }),
  );
});

it('single days become ranges, whatever their order', () => {
  expect(rangesOfDays(['2026-03-01', '2026-02-27', '2026-02-28', '2026-03-05'])).toEqual([
    { from: '2026-02-27', to: '2026-03-01' },
    { from: '2026-03-05', to: '2026-03-05' },
  ]);
  expect(rangesOfDays([])).toEqual([]);
});
