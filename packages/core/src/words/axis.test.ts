import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { MetricUnit } from '../figures/index.ts';
import { axisOf, createFormatter } from './index.ts';

const english = createFormatter('en-GB', 'GBP');
const labels = (values: number[], unit: MetricUnit) => axisOf(values, unit, 4, english).ticks.map((t) => t.label);

describe('an axis', () => {
  it('takes its decimals from its step', () => {
    expect(labels([0, 0.4], 'money')).toEqual(['£0.0', '£0.1', '£0.2', '£0.3', '£0.4']);
    expect(labels([412], 'money')).toEqual(['£0', '£100', '£200', '£300', '£400', '£500']);
    expect(labels([0.0008], 'percent')).toEqual(['0.00%', '0.02%', '0.04%', '0.06%', '0.08%']);
    expect(labels([0.41], 'percent')).toEqual(['0%', '10%', '20%', '30%', '40%', '50%']);
    expect(labels([0.3], 'decimal')).toEqual(['0.0', '0.1', '0.2', '0.3']);
    expect(labels([1_240_000], 'count')).toEqual(['0', '500,000', '1.0m', '1.5m']);
  });

  it('of things that are counted has no parts of one', () => {
    expect(labels([1], 'count')).toEqual(['0', '1']);
    expect(labels([0.2], 'count')).toEqual(['0', '1']);
    expect(labels([0.4], 'duration')).toEqual(['0:00', '0:01']);
    expect(labels([], 'count')).toEqual(['0', '1']);
  });

  it('has two labels at least, each another one, and holds all values (whatever they are)', () => {
    const unit = fc.constantFrom<MetricUnit>('count', 'money', 'percent', 'duration', 'decimal');
    const value = fc.oneof(
      fc.nat(40).map((n) => n / 1_000),
      fc.nat(5_000),
      fc.nat(2_000_000_000),
      fc.integer({ min: -9_000, max: 0 }),
    );
    fc.assert(
      fc.property(fc.array(value, { maxLength: 8 }), unit, (values, u) => {
        const own = u === 'count' || u === 'duration' ? values.map(Math.round) : values;
        const { domain, ticks } = axisOf(own, u, 4, english);
        expect(ticks.length).toBeGreaterThanOrEqual(2);
        expect(new Set(ticks.map((t) => t.label)).size).toBe(ticks.length);
        for (const v of own) expect(v >= domain[0] && v <= domain[1]).toBe(true);
      }),
      { numRuns: 400 },
    );
  });
});
