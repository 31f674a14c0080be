import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FIRST_DATE, LAST_DATE, MOST_DAYS } from '../bounds/index.ts';
import { clampRange, dateFault, isBoundedDate, lengthOf, nextOccurrences, rangeFault } from './index.ts';

const calendar = { workingDays: [1, 2, 3, 4, 5], holidays: new Set<string>() };
const plan = {
  lastDate: null,
  exceptions: {},
  weekStart: 1,
  calendar,
  workingDayRule: 'as is' as const,
  time: '08:00',
  zone: 'Europe/London',
};

describe('dates within bounds', () => {
  it('are refused with a sentence when they lie outside, or are none', () => {
    expect(dateFault('2026-11-25')).toBeNull();
    expect(dateFault('9999-12-01')).toBe('Enter a date between 1970 and 2200.');
    expect(dateFault('0001-01-01')).toBe('Enter a date as YYYY-MM-DD.');
    expect(dateFault('2026-02-30')).toBe('Enter a date as YYYY-MM-DD.');
    expect(rangeFault({ from: '2000-01-01', to: '2020-01-31' })).toContain('20 years');
    expect(rangeFault({ from: '2026-02-01', to: '2026-01-31' })).toContain('before the start date');
  });

  it('are made of whatever was stored before there were bounds', () => {
    const digits = fc.integer({ min: 0, max: 9999 }).map((y) => `${String(y).padStart(4, '0')}-12-01`);
    fc.assert(
      fc.property(digits, digits, (from, to) => {
        const range = clampRange({ from, to });
        expect(isBoundedDate(range.from) && isBoundedDate(range.to)).toBe(true);
        expect(lengthOf(range)).toBeGreaterThanOrEqual(1);
        expect(lengthOf(range)).toBeLessThanOrEqual(MOST_DAYS);
      }),
    );
    expect(clampRange({ from: FIRST_DATE, to: LAST_DATE }).to).toBe(LAST_DATE);
  });
});

describe('a rule', () => {
  it('that never comes round within twenty years ends all the same', () => {
    const yearly = { freq: 'yearly' as const, month: 12, on: { day: 1 } };
    expect(nextOccurrences({ ...plan, rule: yearly, firstDate: '9999-12-01' }, '2026-11-25', 3)).toEqual([]);
    const never = { freq: 'monthly' as const, every: 1, on: { workday: 23 } };
    const closed = { workingDays: [], holidays: new Set<string>() };
    expect(
      nextOccurrences({ ...plan, calendar: closed, rule: never, firstDate: '2026-01-01' }, '2026-11-25', 3),
    ).toEqual([]);
    const workdays = { freq: 'workdays' as const };
    expect(
      nextOccurrences({ ...plan, calendar: closed, rule: workdays, firstDate: '2026-01-01' }, '2026-11-25', 3),
    ).toEqual([]);
  });

  it('gives what it has up to the last date there is', () => {
    const yearly = { freq: 'yearly' as const, month: 12, on: { day: 1 } };
    const found = nextOccurrences({ ...plan, rule: yearly, firstDate: '2190-01-01' }, '2195-01-01', 50);
    expect(found.map((o) => o.nominal.slice(0, 4))).toEqual(['2195', '2196', '2197', '2198', '2199', '2200']);
  });
});
