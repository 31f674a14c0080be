import fc from 'fast-check';
import { expect, it } from 'vitest';
import { SortedWindow } from './sortedWindow.ts';

it('has the median of what is in it, whatever comes and goes', () => {
  fc.assert(
    fc.property(
      fc.array(fc.oneof(fc.nat(6), fc.double({ noNaN: true, min: -9, max: 9 })), { maxLength: 60 }),
      (all) => {
        const window = new SortedWindow(8);
        all.forEach((value, i) => {
          if (window.size === 8) window.remove(all[i - 8]!);
          window.add(value);
          const own = all.slice(Math.max(0, i - 7), i + 1).sort((a, b) => a - b);
          const mid = own.length >> 1;
          expect(window.median() === (own.length % 2 === 1 ? own[mid]! : (own[mid - 1]! + own[mid]!) / 2)).toBe(true);
        });
      },
    ),
  );
  expect(new SortedWindow(3).median()).toBeNaN();
  const full = new SortedWindow(1);
  full.add(1);
  expect(() => full.add(2)).toThrow(RangeError);
});
