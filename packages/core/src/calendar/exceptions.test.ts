import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addDays,
  type Exceptions,
  nextOccurrences,
  occurrenceOn,
  occurrencesAhead,
  type Recurrence,
  type Rule,
  skipping,
  type Weekday,
} from './index.ts';

const base: Recurrence = {
  rule: { freq: 'monthly', every: 1, on: { day: 3 } },
  firstDate: '2026-01-01',
  lastDate: null,
  exceptions: {},
  weekStart: 1,
  calendar: { workingDays: [1, 2, 3, 4, 5], holidays: new Set(['2027-01-01']) },
  workingDayRule: 'next',
  time: '08:00',
  zone: 'Europe/London',
};
const NOV = { after: '2026-11-01T00:00:00Z', until: '2027-02-28T00:00:00Z' };

describe('a run that is otherwise', () => {
  it('goes where it was moved to, past any working day, however far; and keeps its unmoved date', () => {
    const r = { ...base, exceptions: { '2026-12-03': { moved: { date: '2027-02-13', time: '17:30' } } } };
    expect(occurrencesAhead(r, NOV)).toEqual([
      { nominal: '2026-11-03', runs: '2026-11-03', at: '2026-11-03T08:00:00Z' },
      { nominal: '2027-01-03', runs: '2027-01-04', at: '2027-01-04T08:00:00Z' },
      { nominal: '2027-02-03', runs: '2027-02-03', at: '2027-02-03T08:00:00Z' },
      // A Saturday: the person chose it.
      { nominal: '2026-12-03', runs: '2027-02-13', at: '2027-02-13T17:30:00Z' },
    ]);
  });

  it('is none where it is left out, or where the rule has none on its date any more', () => {
    const moved = { moved: { date: '2026-11-20', time: '08:00' } };
    const r = { ...base, exceptions: { ...skipping(['2026-11-03']), '2026-11-17': moved } };
    expect(occurrencesAhead(r, NOV).map((o) => o.nominal)).toEqual(['2026-12-03', '2027-01-03', '2027-02-03']);
    expect(occurrenceOn(r, '2026-11-03')).toBeNull();
    expect(occurrenceOn(r, '2026-11-17')).toBeNull();
    expect(occurrenceOn(r, '2026-12-03')?.runs).toBe('2026-12-03');
  });

  it('is found from before and after: moved from the past into the span, or out of it', () => {
    const into = { ...base, exceptions: { '2026-08-03': { moved: { date: '2026-11-09', time: '08:00' } } } };
    expect(occurrencesAhead(into, NOV).map((o) => o.nominal)).toContain('2026-08-03');
    const out = { ...base, exceptions: { '2026-12-03': { moved: { date: '2026-10-20', time: '08:00' } } } };
    expect(occurrencesAhead(out, NOV).map((o) => o.nominal)).not.toContain('2026-12-03');
  });
});

const day = fc.integer({ min: 0, max: 180 }).map((n) => addDays('2026-09-01', n));
const rule: fc.Arbitrary<Rule> = fc.oneof(
  fc.constant<Rule>({ freq: 'daily' }),
  fc.constant<Rule>({ freq: 'workdays' }),
  fc.record({
    freq: fc.constant('weekly' as const),
    every: fc.integer({ min: 1, max: 4 }),
    weekdays: fc.uniqueArray(fc.integer({ min: 1, max: 7 }) as fc.Arbitrary<Weekday>, { minLength: 1, maxLength: 3 }),
  }),
  fc.record({
    freq: fc.constant('monthly' as const),
    every: fc.integer({ min: 1, max: 3 }),
    on: fc.oneof(
      fc.integer({ min: 1, max: 31 }).map((d) => ({ day: d })),
      fc.integer({ min: -5, max: 5 }).map((k) => ({ workday: k === 0 ? 1 : k })),
    ),
  }),
);
const exception = fc.oneof(
  fc.constant({ skipped: true as const }),
  fc.record({ moved: fc.record({ date: day, time: fc.constantFrom('00:30', '08:00', '23:45') }) }),
  fc.record({ covers: fc.record({ from: fc.constant('2026-01-01'), to: fc.constant('2026-01-31') }) }),
);

describe('exceptions of any schedule', () => {
  it('change their own runs alone, and each unmoved date has one run at most', () => {
    fc.assert(
      fc.property(
        rule,
        fc.array(fc.tuple(fc.integer({ min: 0, max: 30 }), exception), { maxLength: 6 }),
        fc.integer({ min: 0, max: 60 }),
        (r, said, least) => {
          const plain = { ...base, rule: r, workingDayRule: 'as is' as const };
          const dates = nextOccurrences(plain, '2026-10-01', 31).map((o) => o.nominal);
          const exceptions: Exceptions = Object.fromEntries(
            said.flatMap(([i, e]) => (dates[i] === undefined ? [] : [[dates[i], e]])),
          );
          const span = { after: '2026-10-01T00:00:00Z', until: '2027-01-15T00:00:00Z', least };
          const found = occurrencesAhead({ ...plain, exceptions }, span);
          const nominals = found.map((o) => o.nominal);
          expect(new Set(nominals).size).toBe(nominals.length);
          const instants = found.map((o) => Date.parse(o.at));
          expect(instants).toEqual([...instants].sort((a, b) => a - b));
          expect(instants.every((at) => at > Date.parse(span.after))).toBe(true);
          for (const o of found) {
            const e = exceptions[o.nominal];
            expect(e?.skipped).toBeUndefined();
            // Reset to schedule, or as the person did.
            const ruled = occurrenceOn(plain, o.nominal)!;
            if (e?.moved) expect(o.runs).toBe(e.moved.date);
            else expect(o).toEqual(ruled);
          }
          // Nothing that was not otherwise is lost.
          const kept = occurrencesAhead(plain, { ...span, least: 0 }).filter((o) => !exceptions[o.nominal]);
          expect(nominals).toEqual(expect.arrayContaining(kept.map((o) => o.nominal)));
        },
      ),
      { numRuns: 100 },
    );
  });
});
