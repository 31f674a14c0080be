import { describe, expect, it } from 'vitest';
import { readICalendar } from './icalendar.ts';

const calendar = (...events: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//made up//EN', ...events, 'END:VCALENDAR'].join('\r\n');
const event = (...lines: string[]) =>
  ['BEGIN:VEVENT', `UID:${lines.join('')}`, 'DTSTAMP:20260101T000000Z', ...lines, 'END:VEVENT'].join('\r\n');
const read = (...events: string[]) => readICalendar(calendar(...events), '2026-01-01');

describe('the days of an iCalendar file', () => {
  it('are those of its events of whole days, the end left out', () => {
    const { days, leftOut } = read(
      event('DTSTART;VALUE=DATE:20261226', 'DTEND;VALUE=DATE:20261228', 'SUMMARY:Two days at the quay'),
      event('DTSTART;VALUE=DATE:20260501', 'SUMMARY:Spring\\, at last'),
      event('DTSTART;VALUE=DATE:20260601', 'DURATION:P3D', 'SUMMARY:Three'),
    );
    expect(days).toEqual([
      { date: '2026-05-01', name: 'Spring, at last' },
      { date: '2026-06-01', name: 'Three' },
      { date: '2026-06-02', name: 'Three' },
      { date: '2026-06-03', name: 'Three' },
      { date: '2026-12-26', name: 'Two days at the quay' },
      { date: '2026-12-27', name: 'Two days at the quay' },
    ]);
    expect(leftOut).toEqual([]);
  });

  it('come again as their rule says, for ten years, without what it leaves out', () => {
    const { days } = read(
      event('DTSTART;VALUE=DATE:20201224', 'RRULE:FREQ=YEARLY', 'EXDATE;VALUE=DATE:20271224', 'SUMMARY:Lantern night'),
    );
    expect(days[0]).toEqual({ date: '2026-12-24', name: 'Lantern night' });
    expect(days.map((d) => d.date)).not.toContain('2027-12-24');
    expect(days).toHaveLength(10);
    expect(days.at(-1)!.date).toBe('2036-12-24');
  });

  it('leave out what is no holiday, and say so', () => {
    const { days, leftOut } = read(
      event('DTSTART:20260501T090000Z', 'SUMMARY:Meeting'),
      event('DTSTART;VALUE=DATE:20260502', 'STATUS:CANCELLED', 'SUMMARY:Regatta'),
      event('DTSTART;VALUE=DATE:20260101', 'DTEND;VALUE=DATE:20270101', 'SUMMARY:The year'),
      event('DTSTART;VALUE=DATE:20150101', 'SUMMARY:Long past'),
    );
    expect(days).toEqual([]);
    expect(leftOut).toEqual([
      '“Meeting” is at a time of day.',
      '“Regatta” was cancelled.',
      '“The year” lasts 365 days.',
    ]);
  });

  it('are none of a text that is no calendar', () => {
    for (const text of ['', 'a,b\n1,2', 'BEGIN:VCARD\r\nEND:VCARD', '{"BEGIN":1}']) {
      expect(() => readICalendar(text, '2026-01-01'), text).toThrow('no iCalendar file');
    }
  });

  it('end by themselves where a rule comes round every second', () => {
    const { days } = read(event('DTSTART;VALUE=DATE:20260101', 'RRULE:FREQ=DAILY', 'SUMMARY:Always'));
    expect(days.length).toBeLessThanOrEqual(4_018);
  });
});
