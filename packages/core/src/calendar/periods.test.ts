import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addDays,
  fromDayNumber,
  lengthOf,
  moveUnits,
  resolvePeriod,
  type Unit,
  unitStart,
  wholeUnit,
} from './index.ts';

const date = fc.integer({ min: 0, max: 40_000 }).map(fromDayNumber);
const unit = fc.constantFrom<Unit>('day', 'week', 'month', 'quarter', 'year');
const rules = fc.record({ weekStart: fc.integer({ min: 1, max: 7 }), fiscalStart: fc.integer({ min: 1, max: 12 }) });

describe('periods tile the calendar', () => {
  it('puts every day into exactly one unit, and units end where the next begins', () => {
    fc.assert(
      fc.property(date, unit, rules, (day, u, r) => {
        const start = unitStart(u, day, r.weekStart, r.fiscalStart);
        const whole = wholeUnit(u, start);
        expect(whole.from <= day && day <= whole.to).toBe(true);
        expect(moveUnits(u, start, 1)).toBe(addDays(whole.to, 1));
        expect(unitStart(u, addDays(whole.to, 1), r.weekStart, r.fiscalStart)).toBe(addDays(whole.to, 1));
      }),
    );
  });

  it('gives a rolling period of n days that ends the day before', () => {
    fc.assert(
      fc.property(date, fc.integer({ min: 1, max: 400 }), rules, (asOf, days, r) => {
        const range = resolvePeriod({ kind: 'rolling', days }, asOf, r);
        expect(lengthOf(range)).toBe(days);
        expect(addDays(range.to, 1)).toBe(asOf);
      }),
    );
  });

  it('refuses a fixed period that runs backwards', () => {
    const spec = { kind: 'fixed', from: '2026-03-02', to: '2026-03-01' } as const;
    expect(() => resolvePeriod(spec, '2026-04-01', { weekStart: 1, fiscalStart: 1 })).toThrow('backwards');
  });
});
