import { describe, expect, it } from 'vitest';
import { ordinal, ruleWords } from './ruleWords.ts';

describe('a rule in words', () => {
  it('reads as part of a sentence', () => {
    expect(ruleWords({ freq: 'weekly', every: 1, weekdays: [4, 1] })).toBe('every Monday and Thursday');
    expect(ruleWords({ freq: 'weekly', every: 2, weekdays: [5] })).toBe('Friday of every 2nd week');
    expect(ruleWords({ freq: 'weekly', every: 1, weekdays: [] })).toBe('no weekday yet');
    expect(ruleWords({ freq: 'monthly', every: 1, on: { day: 31 } })).toBe('the 31st of each month');
    expect(ruleWords({ freq: 'monthly', every: 1, on: { last: true } })).toBe('the last day of each month');
    expect(ruleWords({ freq: 'monthly', every: 3, on: { nth: 'last', weekday: 5 } })).toBe(
      'the last Friday of every 3rd month',
    );
    expect(ruleWords({ freq: 'monthly', every: 1, on: { workday: -2 } })).toBe(
      'the 2nd last working day of each month',
    );
    expect(ruleWords({ freq: 'yearly', month: 12, on: { workday: -1 } })).toBe('the last working day of December');
  });

  it('counts as English does', () => {
    expect([1, 2, 3, 4, 11, 12, 13, 21, 22, 23, 31].map(ordinal)).toEqual([
      '1st',
      '2nd',
      '3rd',
      '4th',
      '11th',
      '12th',
      '13th',
      '21st',
      '22nd',
      '23rd',
      '31st',
    ]);
  });
});
