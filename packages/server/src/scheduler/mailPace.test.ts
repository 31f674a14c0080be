import { describe, expect, it } from 'vitest';
import { isWithin } from './mailPace.ts';

describe('quiet hours', () => {
  it.each([
    ['21:00', '06:00', '21:00', true],
    ['21:00', '06:00', '23:59', true],
    ['21:00', '06:00', '00:00', true],
    ['21:00', '06:00', '05:59', true],
    ['21:00', '06:00', '06:00', false],
    ['21:00', '06:00', '12:00', false],
    ['12:00', '13:00', '12:30', true],
    ['12:00', '13:00', '13:00', false],
    ['12:00', '12:00', '12:00', false],
  ])('from %s until %s: %s is within, %s', (from, until, time, is) => {
    expect(isWithin(time, { from, until })).toBe(is);
  });
});
