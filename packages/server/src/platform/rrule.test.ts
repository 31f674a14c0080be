import {
  addDays,
  nextOccurrences,
  type On,
  type Recurrence,
  type Rule,
  rruleOf,
  skipping,
} from '@chronicon/core/calendar';
import fc from 'fast-check';
import rrule from 'rrule';
import { describe, expect, it } from 'vitest';

const on: fc.Arbitrary<On> = fc.oneof(
  fc.record({ day: fc.integer({ min: 1, max: 31 }) }),
  fc.constant<On>({ last: true }),
  fc.record({
    nth: fc.constantFrom<1 | 2 | 3 | 4 | 'last'>(1, 2, 3, 4, 'last'),
    weekday: fc.constantFrom<1 | 2 | 3 | 4 | 5 | 6 | 7>(1, 2, 3, 4, 5, 6, 7),
  }),
);
const rule: fc.Arbitrary<Rule> = fc.oneof(
  fc.constant<Rule>({ freq: 'daily' }),
  fc.record({
    freq: fc.constant('weekly' as const),
    every: fc.integer({ min: 1, max: 5 }),
    weekdays: fc.subarray<1 | 2 | 3 | 4 | 5 | 6 | 7>([1, 2, 3, 4, 5, 6, 7], { minLength: 1 }),
  }),
  fc.record({ freq: fc.constant('monthly' as const), every: fc.integer({ min: 1, max: 7 }), on }),
  fc.record({ freq: fc.constant('quarterly' as const), month: fc.constantFrom<1 | 2 | 3>(1, 2, 3), on }),
  fc.record({ freq: fc.constant('yearly' as const), month: fc.integer({ min: 1, max: 12 }), on }),
);

const { rrulestr } = rrule;
const ZONE = 'Europe/London';
const base = {
  weekStart: 1 as const,
  calendar: { workingDays: [1, 2, 3, 4, 5] as const, holidays: new Set<string>() },
  workingDayRule: 'as is' as const,
  time: '09:00',
  zone: ZONE,
};

/** The first dates that another reader of RFC 5545 makes of what we write. Without the zone: dates are all that is held. */
function datesOf(text: string, count: number): string[] {
  const local = text
    .replaceAll(`;TZID=${ZONE}:`, ':')
    // An end in UTC as the last moment of its day: the hours between make no other day.
    .replace(/(UNTIL=\d{8})T\d{6}Z/, '$1T235959')
    .replace(
      /^(DTSTART|EXDATE):(.*)$/gm,
      (_, name: string, dates: string) => `${name}:${dates.replace(/00(?=,|$)/g, '00Z')}`,
    );
  return rrulestr(local, { forceset: true })
    .all((_, i) => i < count)
    .slice(0, count)
    .map((at) => at.toISOString().slice(0, 10));
}

describe('a schedule as a rule of calendars (RFC 5545)', () => {
  it('gives the same dates to whoever reads it', () => {
    fc.assert(
      fc.property(
        rule,
        fc.integer({ min: 0, max: 900 }),
        fc.option(fc.integer({ min: 20, max: 2_000 })),
        fc.constantFrom<1 | 7>(1, 7),
        fc.array(fc.integer({ min: 0, max: 7 }), { maxLength: 3 }),
        (r, from, length, weekStart, left) => {
          const firstDate = addDays('2025-11-15', from);
          const lastDate = length === null ? null : addDays(firstDate, length);
          const plain: Recurrence = { ...base, rule: r, firstDate, lastDate, weekStart, exceptions: {} };
          const dates = nextOccurrences(plain, firstDate, 8).map((o) => o.nominal);
          const skip = [...new Set(left.flatMap((i) => (dates[i] === undefined ? [] : [dates[i]!])))];
          const schedule = { ...plain, exceptions: skipping(skip) };
          const ours = nextOccurrences(schedule, firstDate, 12).map((o) => o.nominal);
          const text = rruleOf(schedule);
          if (text === null) {
            expect(dates).toEqual([]);
            return;
          }
          expect(datesOf(text, 12), text).toEqual(ours);
        },
      ),
      { numRuns: 400 },
    );
  });

  it('is written with its zone, its end in UTC, and what is left out', () => {
    const schedule: Recurrence = {
      ...base,
      rule: { freq: 'monthly', every: 1, on: { day: 30 } },
      firstDate: '2026-05-01',
      lastDate: '2026-08-31',
      exceptions: skipping(['2026-06-30', '2026-01-31']),
    };
    expect(rruleOf(schedule)).toBe(
      [
        'DTSTART;TZID=Europe/London:20260530T090000',
        'RRULE:FREQ=MONTHLY;INTERVAL=1;BYMONTHDAY=28,29,30;BYSETPOS=-1;UNTIL=20260831T080000Z',
        'EXDATE;TZID=Europe/London:20260630T090000',
      ].join('\n'),
    );
  });

  it('is not to be had of what hangs on working days, or runs once', () => {
    const of = (r: Rule, workingDayRule: Recurrence['workingDayRule'] = 'as is') =>
      rruleOf({ ...base, workingDayRule, rule: r, firstDate: '2026-01-01', lastDate: null, exceptions: {} });
    expect(of({ freq: 'workdays' })).toBeNull();
    expect(of({ freq: 'monthly', every: 1, on: { workday: -1 } })).toBeNull();
    expect(of({ freq: 'once', date: '2026-02-03' })).toBeNull();
    expect(of({ freq: 'monthly', every: 1, on: { day: 3 } }, 'next')).toBeNull();
    expect(of({ freq: 'monthly', every: 1, on: { day: 3 } })).not.toBeNull();
  });
});
