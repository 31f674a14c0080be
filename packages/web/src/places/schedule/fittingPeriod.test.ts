import type { PeriodSpec, Rule } from '@chronicon/core/calendar';
import { describe, expect, it } from 'vitest';
import { proposedPeriod, withRhythm } from './fittingPeriod.ts';

const monthly: Rule = { freq: 'monthly', every: 1, on: { day: 3 } };
const weekly: Rule = { freq: 'weekly', every: 1, weekdays: [1] };
const unit = (u: 'day' | 'week' | 'month' | 'quarter' | 'year'): PeriodSpec => ({ kind: 'unit', unit: u, offset: -1 });

describe('a change of rhythm', () => {
  it('takes the period along that fitted the one before', () => {
    expect(withRhythm({ rule: monthly, period: unit('month') }, weekly)).toEqual({
      rule: weekly,
      period: unit('week'),
    });
    const quarterly: Rule = { freq: 'quarterly', month: 1, on: { day: 3 } };
    expect(withRhythm({ rule: weekly, period: unit('week') }, quarterly).period).toEqual(unit('quarter'));
    expect(withRhythm({ rule: weekly, period: unit('week') }, { ...weekly, every: 2 }).period).toEqual({
      kind: 'rolling',
      days: 14,
    });
  });

  it('leaves a period that somebody chose for itself, and proposes the fitting one', () => {
    const chosen = { rule: monthly, period: unit('quarter') };
    expect(withRhythm(chosen, weekly)).toEqual({ rule: weekly });
    expect(proposedPeriod({ ...chosen, rule: weekly })).toEqual(unit('week'));
    expect(proposedPeriod({ rule: weekly, period: unit('week') })).toBeNull();
  });

  it('proposes nothing in place of dates that are meant as they are, nor where no unit fits', () => {
    const fixed: PeriodSpec = { kind: 'fixed', from: '2026-01-01', to: '2026-03-31' };
    expect(proposedPeriod({ rule: weekly, period: fixed })).toBeNull();
    expect(proposedPeriod({ rule: weekly, period: { kind: 'unit', unit: 'month', toDate: true } })).toBeNull();
    expect(proposedPeriod({ rule: { ...monthly, every: 5 }, period: unit('month') })).toBeNull();
    expect(proposedPeriod({ rule: { freq: 'once', date: '2026-11-03' }, period: unit('month') })).toBeNull();
  });
});
