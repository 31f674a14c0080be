import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { quantityText, typedText, typedValue, type Unit } from './quantity.ts';

const units: Unit[] = ['count', 'money', 'percent', 'duration', 'decimal'];

describe('a number that somebody types', () => {
  it('comes back as it was written, in every unit', () => {
    const hundredths = fc.integer({ min: -1_000_000_000, max: 1_000_000_000 }).map((n) => n / 100);
    fc.assert(
      fc.property(hundredths, fc.constantFrom(...units), (value, unit) => {
        expect(typedValue(typedText(value, unit), unit)).toBeCloseTo(value, 8);
      }),
    );
  });

  it.each(units)('comes back where it is tiny or huge, as %s', (unit) => {
    for (const value of [0, 1e-9, -1e-9, 0.000_001, 1e12, -1e12, 0.1 + 0.2]) {
      const again = typedValue(typedText(value, unit), unit);
      expect(again, String(value)).not.toBeNull();
      expect(Math.abs(again! - value)).toBeLessThanOrEqual(Math.abs(value) * 1e-9);
    }
  });

  it('is a percentage where it is a fraction', () => {
    expect(typedText(0.2, 'percent')).toBe('20');
    expect(typedValue('12.5', 'percent')).toBe(0.125);
    expect(typedText(0.07, 'percent')).toBe('7');
    expect(quantityText(0.125, 'percent', 'GBP')).toBe('12.5%');
  });

  it('is none where it is none', () => {
    for (const text of ['', ' ', 'many', '1 2 3 x', '--1', '1e', '%'])
      expect(typedValue(text, 'count'), text).toBeNull();
  });
});
