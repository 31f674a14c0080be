import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDate, readMonth, writesMonthFirst } from './typedDate.ts';
import { plainDate } from './when.ts';

describe('a date that is typed', () => {
  it.each([
    '20 Nov 2026',
    '20 november 2026',
    'Nov 20, 2026',
    'Fri 20 Nov 2026',
    '2026-11-20',
    '20.11.2026',
    '2026 Nov 20',
    '20th Nov 2026',
  ])('is read however people write it: %s', (text) => expect(readDate(text, false)).toBe('2026-11-20'));

  it('in figures is read in the order of the reader’s region', () => {
    expect(readDate('11/10/2026', true)).toBe('2026-11-10');
    expect(readDate('11/10/2026', false)).toBe('2026-10-11');
    expect([writesMonthFirst('en-US'), writesMonthFirst('en-GB'), writesMonthFirst('ja-JP')]).toEqual([
      true,
      false,
      false,
    ]);
  });

  it.each([
    '',
    '20',
    '20 Nov',
    '20 Nov 26',
    '31 Feb 2026',
    '20 Foo 2026',
    '11/20/2026',
    '2026-13-01',
    '20 Nov 2026 09:00 UTC',
  ])('is none while it is not one: %j', (text) => expect(readDate(text, false)).toBeNull());

  it('is what is shown, for every day', () => {
    const days = fc.date({ min: new Date('1990-01-01'), max: new Date('2099-12-31'), noInvalidDate: true });
    fc.assert(
      fc.property(days, fc.boolean(), (day, monthFirst) => {
        const date = day.toISOString().slice(0, 10);
        expect(readDate(plainDate(date), monthFirst)).toBe(date);
        expect(readDate(date, monthFirst)).toBe(date);
      }),
    );
  });
});

it('a month is read by its name or its number', () => {
  expect(['November 2026', 'nov 2026', '11/2026', '2026-11'].map(readMonth)).toEqual(Array(4).fill('2026-11'));
  expect(['2026', 'Nov', '13/2026', 'Foo 2026', ''].map(readMonth)).toEqual(Array(5).fill(null));
});
