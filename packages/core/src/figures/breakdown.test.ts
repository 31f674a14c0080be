import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toDayNumber } from '../calendar/index.ts';
import { answer, coverageOf, type Dataset, isKnown, type Value } from './index.ts';

const first = toDayNumber('2026-10-01');
const range = { from: '2026-10-01', to: '2026-10-31' };
const labels = ['A', 'B', 'C', 'D', 'E'];

const dataset = fc
  .array(fc.tuple(fc.nat(30), fc.nat(labels.length - 1), fc.nat(900), fc.nat(60)), { minLength: 5, maxLength: 80 })
  .map((rows): Dataset => {
    const sorted = [...rows].sort((a, b) => a[0] - b[0]);
    return {
      id: 'd',
      name: 'Visits',
      firstDay: '2026-01-01',
      dimensions: ['channel'],
      measures: ['visits', 'orders', 'visitors', 'followers'],
      covered: coverageOf(Array.from({ length: 31 }, (_, i) => first + i)),
      columns: {
        days: Int32Array.from(sorted, ([d]) => first + d),
        dims: { channel: { labels, codes: Int32Array.from(sorted, ([, c]) => c) } },
        measures: {
          visits: Float64Array.from(sorted, ([, , v]) => v),
          orders: Float64Array.from(sorted, ([, , , o]) => o),
          visitors: new Float64Array(sorted.length),
          followers: Float64Array.from(sorted, ([, , v]) => v),
        },
      },
    };
  });

const number = (v: Value): number | null => (isKnown(v) ? v.value : null);

describe('the rest of a table', () => {
  it('stands as soon as rows are left out, whatever stands beside: what cannot be told says why', () => {
    fc.assert(
      fc.property(dataset, fc.integer({ min: 1, max: 6 }), (d, n) => {
        const metrics = ['visits', 'visitors', 'orderRate', 'followers'];
        const found = answer({ op: 'top', metrics, dimension: 'channel', n, range, compared: null, filter: {} }, [d]);
        if (found.op !== 'top' || 'na' in found.breakdown) throw new Error('no breakdown');
        const { rows, other, total } = found.breakdown;
        const seen = new Set(d.columns.dims.channel!.codes).size;
        expect(other !== null).toBe(seen > n);
        if (!other) return;
        // A sum's rest is the total less what is shown; a rate's is made of what is left, never of rates.
        const shown = rows.reduce((sum, r) => sum + number(r.cells[0]!.current)!, 0);
        expect(number(other[0]!.current)).toBeCloseTo(number(total[0]!.current)! - shown, 6);
        expect(other[1]!.current).toEqual({ na: 'not-additive' });
        const visits = number(other[0]!.current)!;
        const rate = number(other[2]!.current);
        if (visits > 0) expect(rate! * visits).toBeCloseTo(Math.round(rate! * visits), 6);
        // A level that was last seen too long ago is not known, and says so.
        const level = other[3]!.current;
        expect(isKnown(level) || level.na === 'no-data').toBe(true);
      }),
    );
  });

  it('is left out of a table of one metric that has none', () => {
    fc.assert(
      fc.property(dataset, (d) => {
        const found = answer(
          { op: 'top', metrics: ['visitors'], dimension: 'channel', n: 1, range, compared: null, filter: {} },
          [d],
        );
        expect(found.op === 'top' && !('na' in found.breakdown) && found.breakdown.other).toBeNull();
      }),
    );
  });
});
