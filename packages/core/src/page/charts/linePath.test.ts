import { describe, expect, it } from 'vitest';
import { linePath } from './linePath.ts';

const x = (i: number) => i * 10;
const y = (v: number) => 100 - v;

describe('a line through values', () => {
  it('joins what is known, and is parted where nothing is', () => {
    expect(linePath([1, 2, null, 4, 5.126], x, y)).toBe('M0,99L10,98M30,96L40,94.87');
  });

  it('makes a dash of a value alone, at either end too', () => {
    expect(linePath([1, null, 2, null, 3], x, y)).toBe('M-0.6,99L0.6,99M19.4,98L20.6,98M39.4,97L40.6,97');
    expect(linePath([7], x, y)).toBe('M-0.6,93L0.6,93');
  });

  it('is nothing where nothing is known', () => {
    expect(linePath([], x, y)).toBe('');
    expect(linePath([null, null], x, y)).toBe('');
  });
});
