import { describe, expect, it } from 'vitest';
import { lengthOf } from '../calendar/index.ts';
import { FIRST_DATE, LAST_DATE, MOST_DAYS } from './index.ts';

describe('bounds', () => {
  it('let any twenty years through, and dates that a person may mean', () => {
    expect(lengthOf({ from: '2000-01-01', to: '2019-12-31' })).toBeLessThanOrEqual(MOST_DAYS);
    expect(FIRST_DATE < '1999-01-01' && LAST_DATE > '2100-01-01').toBe(true);
  });
});
