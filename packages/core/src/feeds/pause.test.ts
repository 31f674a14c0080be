import fc from 'fast-check';
import { expect, it } from 'vitest';
import { mayAsk, pauseBefore } from './index.ts';

it('waits longer after every failure, six hours and a quarter at most, and never less than the service asked for', () => {
  const chance = fc.double({ min: 0, max: 0.999, noNaN: true });
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 60 }), chance, chance, (n, a, b) => {
      expect(pauseBefore(n, null, a)).toBeLessThanOrEqual(450);
      // Twice as long is more than any chance takes away.
      expect(pauseBefore(n + 1, null, a)).toBeGreaterThanOrEqual(Math.min(360, pauseBefore(n, null, b)));
      expect(pauseBefore(n, 900, a)).toBeGreaterThanOrEqual(15);
    }),
  );
  expect(pauseBefore(1, 900, 0.5)).not.toBe(pauseBefore(1, 900, 0.1));
});

it('keeps the last tenth of a quota for what cannot wait', () => {
  const quota = { limit: 100, resets: '2026-11-03T00:00:00Z' };
  expect(mayAsk({ ...quota, used: 89 }, false)).toBe(true);
  expect(mayAsk({ ...quota, used: 90 }, false)).toBe(false);
  expect(mayAsk({ ...quota, used: 99 }, true)).toBe(true);
  expect(mayAsk({ ...quota, used: 100 }, true)).toBe(false);
  expect(mayAsk(null, false)).toBe(true);
});
