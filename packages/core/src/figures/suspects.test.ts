import { describe, expect, it } from 'vitest';
import { addDays, daysOf, type Range } from '../calendar/index.ts';
import { rangeToJudge, suspectsOf } from './index.ts';

const october: Range = { from: '2026-10-01', to: '2026-10-31' };
const judged = rangeToJudge(october);

/** Two years with a week's rhythm, a slow season and a little scatter; `change` may spoil days. */
function history(change: (day: string, value: number) => number | null) {
  const values = daysOf(judged).map((day, i) => {
    const weekday = new Date(day).getUTCDay();
    const season = 1 + 0.3 * Math.cos((i / 365.25) * 2 * Math.PI);
    const scatter = 1 + 0.05 * Math.sin(i * 12.9898);
    return change(day, Math.round((weekday === 0 ? 300 : 900) * season * scatter));
  });
  return { from: judged.from, values };
}
const found = (change: (day: string, value: number) => number | null, missing: Range[] = []) =>
  suspectsOf(history(change), october, missing, 'count').map((s) => [s.day, s.kind]);

describe('odd days', () => {
  it('are none where week and season explain everything', () => {
    expect(found((_, v) => v)).toEqual([]);
  });

  it('are zeroes where there is never zero, jumps either way, and days that did not come', () => {
    const spoilt: Record<string, number> = { '2026-10-05': 0, '2026-10-14': 2.5, '2026-10-22': 0.3 };
    const missing = [{ from: '2026-10-27', to: '2026-10-28' }];
    expect(found((day, v) => (day in spoilt ? Math.round(v * spoilt[day]!) : v), missing)).toEqual([
      ['2026-10-05', 'zero'],
      ['2026-10-14', 'jump'],
      ['2026-10-22', 'jump'],
      ['2026-10-27', 'missing'],
      ['2026-10-28', 'missing'],
    ]);
  });

  it('are not days of a shop that is closed on Sundays', () => {
    expect(found((day, v) => (new Date(day).getUTCDay() === 0 ? 0 : v))).toEqual([]);
  });

  it('are not days that jump every year', () => {
    const yearly = (day: string, v: number) =>
      day === '2026-10-14' || day === addDays('2026-10-14', -364) ? Math.round(v * 2.5) : v;
    expect(found(yearly)).toEqual([]);
  });

  it('are not looked for where too little is known to judge by', () => {
    expect(found((day, v) => (day < '2026-09-28' || day > '2026-10-31' ? null : day === '2026-10-14' ? 0 : v))).toEqual(
      [],
    );
  });
});
