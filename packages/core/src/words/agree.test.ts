import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeOf, type MetricUnit } from '../figures/index.ts';
import { agree, createFormatter } from './index.ts';

const formats = [createFormatter('en-GB', 'GBP'), createFormatter('de-DE', 'EUR'), createFormatter('fr-FR', 'JPY')];
const UNITS = ['count', 'money', 'percent', 'duration', 'decimal'] as const satisfies MetricUnit[];

/** What stands on the page: the figure, what it is held against, their change. */
function printed(current: number, compared: number, unit: MetricUnit, format = formats[0]!) {
  const [now, before] = [{ value: current }, { value: compared }];
  const change = changeOf(now, before, unit, 'higher');
  const agreement = agree(now, before, change, unit, format);
  const figure = (v: number) => format.figure(v, unit, agreement.more).replace(/[\u00a0\u202f]/g, ' ');
  return { figures: [figure(current), figure(compared)], change: format.change(change, agreement) };
}

const size: Record<MetricUnit, fc.Arbitrary<number>> = {
  count: fc.integer({ min: 0, max: 40_000_000 }),
  money: fc.double({ min: 0, max: 9_000_000, noNaN: true }),
  percent: fc.double({ min: 0, max: 1, noNaN: true }),
  duration: fc.double({ min: 0, max: 9_000, noNaN: true }),
  decimal: fc.double({ min: 0, max: 900, noNaN: true }),
  position: fc.double({ min: 1, max: 90, noNaN: true }),
};

describe('figures that stand together', () => {
  it.each(UNITS)('agree with their change, whatever they are: %s', (unit) => {
    const near = fc.tuple(size[unit], fc.double({ min: -0.02, max: 0.02, noNaN: true }));
    fc.assert(
      fc.property(near, fc.constantFrom(...formats), ([value, moved], format) => {
        const current = unit === 'count' ? Math.round(value * (1 + moved)) : value * (1 + moved);
        const { figures, change } = printed(current, value, unit, format);
        const isAlike = figures[0] === figures[1];
        const isMoved = change !== null && /[1-9]/.test(change);
        // Alike figures never stand beside a number that is not zero.
        expect(isAlike && isMoved).toBe(false);
        // A change in points is the difference of the rates beside it, as all three read.
        if (unit === 'percent' && isMoved && format === formats[0]) {
          const [now, before, points] = [...figures, change!].map((t) => Number.parseFloat(t.replace('\u2212', '-')));
          expect(now! - before!).toBeCloseTo(points!, 6);
        }
        // Nor do rates that differ stand beside a change of nothing, as long as two further decimals can tell.
        if (unit === 'percent' && Math.abs(current - value) > 0.00001) expect(!isAlike && !isMoved).toBe(false);
      }),
      { numRuns: 400 },
    );
  });

  it.each([
    [0.0301, 0.0304, 'percent', ['3.0%', '3.0%'], '0.0 pp'],
    [0.03049, 0.02951, 'percent', ['3.05%', '2.95%'], '+0.10 pp'],
    [0.0204, 0.0206, 'percent', ['2.04%', '2.06%'], '\u22120.02 pp'],
    // 7.7% from 7.5% is no change of 0.1 points.
    [0.0768, 0.0753, 'percent', ['7.68%', '7.53%'], '+0.15 pp'],
    // Where no further decimal helps, the change is that of the rates as they read.
    [0.02582178, 0.02536608, 'percent', ['2.582%', '2.537%'], '+0.045 pp'],
    // A trace that came from nothing is no news, and new is never a zero.
    [0.0003, 0, 'percent', ['0.0%', '0.0%'], 'unchanged'],
    [0.3, 0, 'count', ['0.3', '0'], 'new'],
    [12_340_000, 12_310_000, 'count', ['12.34m', '12.31m'], '+0.2%'],
    [52.4, 51.9, 'duration', ['0:52.4', '0:51.9'], '+1.0%'],
    [2_004.4, 2_003.6, 'money', ['£2,004', '£2,004'], '0.0%'],
    [4.2, 4.1, 'decimal', ['4.2', '4.1'], '+2.4%'],
    // Beyond two further decimals the word stands.
    [0.0004, 0.000399, 'decimal', ['0.0', '0.0'], '+0.3%'],
  ] as const)('%d from %d (%s)', (current, compared, unit, figures, told) => {
    const found = printed(current, compared, unit);
    expect(found.figures).toEqual(figures);
    expect(found.change).toBe(unit === 'decimal' && current < 0.001 ? 'unchanged' : told);
  });

  it('leaves what is new, or partly known, as it is', () => {
    const format = formats[0]!;
    const zero = { value: 0 };
    expect(agree({ value: 5 }, zero, changeOf({ value: 5 }, zero, 'count', 'higher'), 'count', format)).toEqual({
      more: 0,
      isTold: true,
    });
    const partly = { value: 0.0301, partial: true as const };
    const before = { value: 0.0304 };
    const change = changeOf(partly, before, 'percent', 'higher');
    expect(agree(partly, before, change, 'percent', format).more).toBe(0);
  });
});
