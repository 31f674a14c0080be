import { describe, expect, it } from 'vitest';
import { asksUntil } from './signingOff.ts';

const until = (at: string, due: string, zone = 'Europe/London') =>
  asksUntil({ signOff: { rule: 'until', until: at, asks: null }, zone }, { due_at: due });

describe('until when somebody is asked', () => {
  it('is the time of the rule on the day of the run, by the schedule’s clock', () => {
    expect(until('11:00', '2026-11-03T08:00:00.000Z')).toBe('2026-11-03T11:00:00.000Z');
    expect(until('11:00', '2026-07-03T07:00:00.000Z')).toBe('2026-07-03T10:00:00.000Z');
    // 08:00 on the 3rd there is the evening of the 2nd in UTC.
    expect(until('11:00', '2026-11-02T19:00:00.000Z', 'Pacific/Auckland')).toBe('2026-11-02T22:00:00.000Z');
  });

  it('is never before the edition is due', () => {
    expect(until('07:00', '2026-11-03T08:00:00.000Z')).toBe('2026-11-03T08:00:00.000Z');
  });

  it('is the first time after it that there is, where the clocks skip it; the first of two that there are', () => {
    expect(until('01:30', '2026-03-29T00:15:00.000Z')).toBe('2026-03-29T01:30:00.000Z');
    expect(until('01:30', '2026-10-24T23:30:00.000Z')).toBe('2026-10-25T00:30:00.000Z');
  });

  it('is no time where it asks however long, or nobody', () => {
    const of = (signOff: Parameters<typeof asksUntil>[0]['signOff']) =>
      asksUntil({ signOff, zone: 'Europe/London' }, { due_at: '2026-11-03T08:00:00.000Z' });
    expect(of({ rule: 'first', asks: null })).toBeNull();
    expect(of({ rule: 'none' })).toBeNull();
  });
});
