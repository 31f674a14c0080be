import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, lengthOf } from '../calendar/index.ts';
import { isKnown, type Target, targetOf, targetSpanAt, targetsFor } from './index.ts';

const month = (from: string, value: number, repeats = false): Target => ({
  metric: 'revenue',
  span: 'month',
  from,
  value,
  repeats,
});
const year: Target = { metric: 'revenue', span: 'year', from: '2026-01', value: 3_650, repeats: true };

describe('targets', () => {
  it('of a month come before those of its quarter and year; a repeated one lasts until another is set', () => {
    const targets = [year, month('2026-03', 500, true), month('2026-05', 700)];
    expect(targetSpanAt(targets, '2026-02-10')).toMatchObject({ from: '2026-01-01', to: '2026-12-31', value: 3_650 });
    expect(targetSpanAt(targets, '2026-04-10')).toMatchObject({ from: '2026-04-01', value: 500 });
    expect(targetSpanAt(targets, '2026-05-31')).toMatchObject({ value: 700 });
    expect(targetSpanAt(targets, '2026-06-01')).toMatchObject({ value: 500 });
    expect(targetSpanAt(targets, '2025-12-31')).toBeNull();
    const quarter: Target = { metric: 'revenue', span: 'quarter', from: '2026-01', value: 90, repeats: true };
    expect(targetSpanAt([quarter], '2026-06-30')).toEqual({ from: '2026-04-01', to: '2026-06-30', value: 90 });
    // Whichever is named first: of two repeated ones, that set later; of two of one month, its own.
    const steps = [month('2026-06', 900, true), month('2026-03', 500, true), month('2026-06', 950)];
    expect(targetSpanAt(steps, '2026-08-01')).toMatchObject({ from: '2026-08-01', value: 900 });
    expect(targetSpanAt([...steps].reverse(), '2026-08-01')).toMatchObject({ value: 900 });
    expect(targetSpanAt(steps, '2026-06-10')).toMatchObject({ value: 950 });
    expect(targetSpanAt([...steps].reverse(), '2026-06-10')).toMatchObject({ value: 950 });
  });

  it('are found for the very same values alone, in whatever order they are named', () => {
    const narrowed = (filter: Record<string, string[]>): Target => ({ ...month('2026-03', 5), filter });
    const targets = [
      month('2026-03', 500),
      narrowed({ channel: ['Email', 'Social'] }),
      narrowed({ channel: ['Email'] }),
    ];
    const found = (filter: Record<string, string[]>) => targets.indexOf(targetsFor(targets, 'revenue', filter)[0]!);
    expect(found({})).toBe(0);
    expect(found({ channel: ['Social', 'Email'] })).toBe(1);
    expect(found({ channel: ['Email'] })).toBe(2);
    expect(found({ channel: ['Social'] })).toBe(-1);
    expect(found({ channel: ['Email'], device: ['Mobile'] })).toBe(-1);
    expect(targetsFor(targets, 'visits', {})).toEqual([]);
  });

  it('of sums are shared out by days, across spans of every length', () => {
    const targets = [year, month('2026-03', 310, true)];
    expect(targetOf(true, targets, { from: '2026-01-01', to: '2026-01-10' })).toEqual({ value: 100 });
    expect(targetOf(true, targets, { from: '2026-03-01', to: '2026-03-31' })).toEqual({ value: 310 });
    expect(targetOf(true, targets, { from: '2026-02-27', to: '2026-03-02' })).toEqual({ value: 40 });
    expect(targetOf(true, targets, { from: '2025-12-31', to: '2026-01-01' })).toEqual({ na: 'no-data' });
  });

  it('of sums add up, however a range is divided', () => {
    const targets = [year, month('2026-03', 333, true), month('2026-06', 912)];
    fc.assert(
      fc.property(fc.nat(400), fc.nat(200), fc.nat(200), (start, a, b) => {
        const from = addDays('2026-01-01', start);
        const middle = addDays(from, a);
        const to = addDays(middle, b + 1);
        const value = (r: { from: string; to: string }) => {
          const v = targetOf(true, targets, r);
          return isKnown(v) ? v.value : Number.NaN;
        };
        const whole = value({ from, to });
        const parts = value({ from, to: middle }) + value({ from: addDays(middle, 1), to });
        expect(Math.abs(whole - parts)).toBeLessThan(1e-9 * Math.max(1, whole) * lengthOf({ from, to }));
      }),
    );
  });

  it('of rates and levels are those of the last span, or of the very date', () => {
    const dated: Target = { metric: 'followers', span: 'date', on: '2026-12-31', value: 9_000 };
    expect(targetOf(false, [month('2026-03', 0.04, true), dated], { from: '2026-01-01', to: '2026-04-30' })).toEqual({
      value: 0.04,
    });
    expect(targetOf(false, [dated], { from: '2026-12-01', to: '2026-12-31' })).toEqual({ value: 9_000 });
    expect(targetOf(false, [dated], { from: '2026-12-01', to: '2026-12-30' })).toEqual({ na: 'no-data' });
  });
});
