import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { describe, expect, it } from 'vitest';
import { instantOf, startOfDay, wallClock } from './index.ts';

const zone = fc.constantFrom(
  'Europe/London',
  'America/New_York',
  'Australia/Lord_Howe',
  'Pacific/Apia',
  'Asia/Kathmandu',
  'Africa/Casablanca',
  'America/Sao_Paulo',
  'Pacific/Kiritimati',
  'UTC',
);
const two = (n: number) => String(n).padStart(2, '0');
/** Quarters of hours from 1970 on, over more than two hundred years. */
const quarter = fc.integer({ min: 0, max: 230 * 366 * 24 * 4 }).map((n) => n * 15 * 60_000);

describe('clocks of any zone', () => {
  it('show, and are met, as another reader of the rules of time zones has it', () => {
    fc.assert(
      fc.property(quarter, zone, (ms, z) => {
        const shown = Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(z).toPlainDateTime();
        const date = shown.toPlainDate().toString();
        const time = `${two(shown.hour)}:${two(shown.minute)}`;
        expect(wallClock(new Date(ms).toISOString(), z)).toEqual({ date, time });
        const met = Temporal.PlainDateTime.from(`${date}T${time}`).toZonedDateTime(z, { disambiguation: 'compatible' });
        expect(Date.parse(instantOf(date, time, z))).toBe(met.epochMilliseconds);
      }),
      { numRuns: 2_000 },
    );
  });

  it.each([
    ['a time that is jumped over', '2026-03-29', '01:30', 'Europe/London', '2026-03-29T01:30:00Z'],
    ['a time that comes twice', '2026-10-25', '01:30', 'Europe/London', '2026-10-25T00:30:00Z'],
    ['a day that there never was', '2011-12-30', '08:00', 'Pacific/Apia', '2011-12-30T18:00:00Z'],
    ['half an hour', '2026-04-05', '01:45', 'Australia/Lord_Howe', '2026-04-04T14:45:00Z'],
  ])('meet %s as SEMANTICS §1 says', (_, date, time, z, at) => {
    expect(instantOf(date, time, z)).toBe(at);
  });

  it('begin a day when it begins, where midnight is jumped over, too', () => {
    expect(startOfDay('2018-11-04', 'America/Sao_Paulo')).toBe('2018-11-04T03:00:00.000Z');
  });
});
