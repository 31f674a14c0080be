import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayOfMonth, daysAfter, daysBetween, weekdayLetter } from './days.ts';

const date = fc
  .integer({ min: Date.UTC(1970, 0, 1) / 86_400_000, max: Date.UTC(9990, 0, 1) / 86_400_000 })
  .map((n) => new Date(n * 86_400_000).toISOString().slice(0, 10));

describe('days of the Almanac', () => {
  it('lie as far apart as one was counted from the other', () => {
    fc.assert(fc.property(date, fc.integer({ min: -400, max: 400 }), (d, n) => daysBetween(d, daysAfter(d, n)) === n));
  });

  it('know leap days, and no clock that goes forward or back', () => {
    expect(daysAfter('2028-02-28', 1)).toBe('2028-02-29');
    expect(daysAfter('2100-02-28', 1)).toBe('2100-03-01');
    expect(daysAfter('2026-03-28', 2)).toBe('2026-03-30');
    expect(daysBetween('2026-10-24', '2026-10-26')).toBe(2);
    expect(daysBetween('2027-01-01', '2026-12-31')).toBe(-1);
  });

  it('are named by a letter and a number', () => {
    expect(['2026-11-29', '2026-11-30', '2026-12-01'].map((d) => weekdayLetter(d) + dayOfMonth(d))).toEqual([
      'S29',
      'M30',
      'T1',
    ]);
  });
});
