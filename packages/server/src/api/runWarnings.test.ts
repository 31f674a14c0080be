import { formatterOf } from '@chronicon/core/words';
import { describe, expect, it } from 'vitest';
import { type FeedHabit, type WarnedRun, warningsOf } from './runWarnings.ts';

const reader = { id: 'co_1', name: 'Orla Fenwick', fault: null, consents: true };
/** A run of October, against September, on Tuesday, 3 November, at 08:00 in London. */
const run = (change: Partial<WarnedRun> = {}): WarnedRun => ({
  at: '2026-11-03T08:00:00.000Z',
  period: { from: '2026-10-01', to: '2026-10-31' },
  compared: { from: '2026-09-01', to: '2026-09-30' },
  daily: false,
  readers: [reader],
  archive: false,
  unread: [],
  unknown: [],
  others: [],
  ...change,
});
const around = {
  zone: 'Europe/London',
  agency: { workingDays: [1, 2, 3, 4, 5], namedHolidays: [{ date: '2026-12-25', name: 'Christmas Day' }] },
  whose: 'the agency' as const,
  feeds: [] as FeedHabit[],
  english: formatterOf('en-GB', 'GBP'),
};
const warned = (change: Partial<WarnedRun> = {}, more: Partial<typeof around> = {}) =>
  warningsOf(run(change), { ...around, ...more } as typeof around).map((w) => `${w.kind}: ${w.text}`);

describe('what is said of a run before it goes', () => {
  it('is nothing where all is as it should be', () => {
    expect(warned()).toEqual([]);
  });

  it('is that nobody reads it, but for what is meant for the archive', () => {
    expect(warned({ readers: [] })).toEqual(['nobody: No readers.']);
    expect(warned({ readers: [], archive: true })).toEqual([]);
    expect(warned({ readers: [], unread: ['Riverside', 'Old Mill'] })).toEqual([
      'nobody: No reader for Riverside and Old Mill.',
    ]);
  });

  it('is who must not have it, and why', () => {
    const others = [
      { ...reader, fault: 'left' as const },
      { ...reader, name: 'Tobin Aske', fault: 'outside' as const },
    ];
    expect(warned({ readers: others })).toEqual([
      'guard: Orla Fenwick has left. Choose another reader.',
      'guard: Tobin Aske has an unapproved address outside the client’s domains.',
    ]);
  });

  it('is which values are new, three of them by name', () => {
    expect(warned({ unknown: ['North Yard'] })).toEqual(['new-value: North Yard has no group, so nobody receives it.']);
    expect(warned({ unknown: ['A', 'B', 'C', 'D', 'E'] })).toEqual([
      'new-value: A, B, C and 2 more have no group, so nobody receives them.',
    ]);
  });

  it('is that its period is not over, or was over long ago', () => {
    expect(warned({ period: { from: '2026-11-01', to: '2026-11-03' }, compared: null })).toEqual([
      'unfinished: The period isn’t over by then: the edition would be held.',
    ]);
    const period = { from: '2026-09-01', to: '2026-09-30' };
    expect(warned({ period, compared: null })).toEqual(['old: Its period ended 34 days earlier.']);
    expect(warned({ period: { from: '2026-10-01', to: '2026-10-14' }, compared: null })).toEqual([]);
    expect(warned({ period: { from: '2026-10-01', to: '2026-10-13' }, compared: null })).toHaveLength(1);
  });

  it('is a day on which nobody works; a rule that names every day means that one, too', () => {
    const saturday = { at: '2026-11-07T08:00:00.000Z' };
    expect(warned(saturday)).toEqual(['weekend: Not a working day.']);
    expect(warned({ ...saturday, daily: true })).toEqual([]);
    const christmas = {
      at: '2026-12-25T08:00:00.000Z',
      period: { from: '2026-12-01', to: '2026-12-24' },
      compared: null,
    };
    expect(warned(christmas)).toEqual(['holiday: This is a holiday of the agency: Christmas Day.']);
    // By the clock of the client: it is still Christmas Eve there.
    const tokyo = { ...christmas, at: '2026-12-24T15:30:00.000Z', period: { from: '2026-12-01', to: '2026-12-23' } };
    expect(warned(tokyo, { zone: 'Asia/Tokyo' })).toHaveLength(1);
    expect(warned(tokyo)).toEqual([]);
  });

  it('is what else the same people get on that day, each report once', () => {
    const others = [
      { reader: 'Orla Fenwick', title: 'Shop' },
      { reader: 'Tobin Aske', title: 'Shop' },
      { reader: 'Orla Fenwick', title: 'Ads' },
      { reader: 'Orla Fenwick', title: 'Shop' },
    ];
    expect(warned({ others })).toEqual([
      'same-day: Orla Fenwick and Tobin Aske also get “Shop” on that day.',
      'same-day: Orla Fenwick also gets “Ads” on that day.',
    ]);
  });

  it('is who has not said that they want reports, but once of one who must not have them', () => {
    const silent = { ...reader, name: 'Tobin Aske', consents: false };
    expect(warned({ readers: [silent] })).toEqual(['consent: No consent recorded for Tobin Aske.']);
    expect(warned({ readers: [silent, { ...silent, name: 'Ada Pell' }] })).toEqual([
      'consent: No consent recorded for Tobin Aske and Ada Pell.',
    ]);
    expect(warned({ readers: [{ ...silent, fault: 'bounced' as const }] })).toHaveLength(1);
  });

  it('is periods that are of another length than a month is from a month', () => {
    const month = (from: string, to: string) => ({
      period: { from: '2026-10-01', to: '2026-10-31' },
      compared: { from, to },
    });
    expect(warned(month('2026-02-01', '2026-02-28'))).toEqual([]);
    expect(warned(month('2026-02-02', '2026-02-28'))).toEqual(['length: Compares 31 days with 27 days.']);
  });
});

describe('figures that are not there yet when a run is due', () => {
  const first = (time: string) => ({ at: `2026-11-01T${time}:00.000Z`, daily: true });
  const feed = (minutes: number | null, name = 'Web analytics') => ({ feeds: [{ name, minutes }] });

  it('are said with their usual time, and with the time after which it is safe to send', () => {
    expect(warned(first('06:00'), feed(380))).toEqual([
      'late-data: Data for 31 Oct usually arrives by 06:20 from Web analytics. At 06:00 the edition would be held – send after 07:00.',
    ]);
    expect(warned(first('06:59'), feed(380))).toHaveLength(1);
    expect(warned(first('07:00'), feed(380))).toEqual([]);
  });

  it('are those of the slowest feed; one without a habit counts as it usually is with services', () => {
    const feeds = [...feed(120, 'Shop').feeds, ...feed(600, 'Ads').feeds];
    expect(warned(first('09:00'), { feeds })[0]).toContain('by 10:00 from Ads');
    expect(warned(first('05:00'), feed(null))[0]).toContain('usually arrives by 05:20. At 05:00');
    expect(warned(first('06:00'), feed(null))).toEqual([]);
  });

  it('count from midnight by the client’s clock, over a change of the clocks, too', () => {
    // 24 October ends at 23:00 UTC; an hour comes twice after that.
    const clocks = { period: { from: '2026-10-01', to: '2026-10-24' }, compared: null, daily: true };
    expect(warned({ ...clocks, at: '2026-10-25T04:30:00.000Z' }, feed(330))[0]).toContain('by 04:30 from');
  });

  it('are of no matter where a client has no feed', () => {
    expect(warned(first('00:30'))).toEqual([]);
  });

  it('say the day when they come a day later', () => {
    expect(warned(first('06:00'), feed(26 * 60))[0]).toContain('usually arrives by 02:00 on 2 Nov');
  });
});
