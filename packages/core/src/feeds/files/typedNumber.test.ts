import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readTyped } from './typedNumber.ts';

describe('a typed number', () => {
  it.each([
    ['31000', 31_000],
    [' 31,000 ', 31_000],
    ['28,000.50', 28_000.5],
    ['1 234 567', 1_234_567],
    ['-3', -3],
    ['−0.5', -0.5],
    ['.5', 0.5],
    ['0', 0],
  ])('%s is one', (text, value) => {
    expect(readTyped(text)).toEqual({ value });
  });

  it.each([
    ['', 'empty'],
    ['  ', 'empty'],
    ['many', 'words'],
    ['€ 500', 'words'],
    ['5%', 'words'],
    ['1e5', 'words'],
    ['Infinity', 'words'],
    ['1.2.3', 'words'],
    ['1 2 3', 'words'],
    ['9'.repeat(400), 'words'],
    ['-', 'words'],
    ['28.000', 'unlike'],
    ['1,5', 'unlike'],
    ['1.234.567', 'unlike'],
    ['1.234,50', 'unlike'],
  ])('%j is not taken for one: %s', (text, fault) => {
    expect(readTyped(text)).toEqual({ fault });
  });

  it('is read back as it is shown', () => {
    const shown = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 2 });
    fc.assert(
      fc.property(fc.integer({ min: -1e11, max: 1e11 }), (hundredths) => {
        const value = hundredths / 100;
        expect(readTyped(shown.format(value))).toEqual({ value: value === 0 ? 0 : value });
      }),
    );
  });
});
