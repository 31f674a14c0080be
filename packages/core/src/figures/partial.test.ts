import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, daysOf, type Range, toDayNumber } from '../calendar/index.ts';
import { createFormatter, whySentence } from '../words/index.ts';
import {
  answer,
  changeOf,
  coverageOf,
  type Dataset,
  isKnown,
  isTold,
  keyOf,
  type Pair,
  type Question,
  STANDARD,
  type Value,
  valueOfAnswer,
} from './index.ts';

const FIRST = '2026-08-01';
const DAYS = 92;
const LABELS = ['Email', 'Paid search', 'Direct', 'Social'];
const day = fc.integer({ min: 0, max: DAYS - 1 });
const range = fc
  .tuple(day, day)
  .map(([a, b]): Range => ({ from: addDays(FIRST, Math.min(a, b)), to: addDays(FIRST, Math.max(a, b)) }));

/** A dataset in which any days may lack. */
const dataset = fc
  .record({
    gone: fc.array(day, { maxLength: 12 }),
    rows: fc.array(fc.tuple(day, fc.nat(LABELS.length - 1), fc.nat(500), fc.nat(40)), {
      minLength: 30,
      maxLength: 200,
    }),
  })
  .map(({ gone, rows }): Dataset => {
    const first = toDayNumber(FIRST);
    const sorted = [...rows].filter(([d]) => !gone.includes(d)).sort((a, b) => a[0] - b[0]);
    return {
      id: 'd',
      name: 'Visits',
      firstDay: FIRST,
      dimensions: ['channel'],
      measures: ['visits', 'orders'],
      covered: coverageOf(
        daysOf({ from: FIRST, to: addDays(FIRST, DAYS - 1) })
          .map((_, i) => first + i)
          .filter((_, i) => !gone.includes(i)),
      ),
      columns: {
        days: Int32Array.from(sorted, ([d]) => first + d),
        dims: { channel: { labels: LABELS, codes: Int32Array.from(sorted, ([, c]) => c) } },
        measures: {
          visits: Float64Array.from(sorted, ([, , v]) => v),
          orders: Float64Array.from(sorted, ([, , , o]) => o),
        },
      },
    };
  });

const isWhole = (d: Dataset, r: Range): boolean =>
  daysOf(r).every((x) => d.covered.some(([a, b]) => a <= toDayNumber(x) && toDayNumber(x) <= b));

const metric = fc.constantFrom('visits', 'orders', 'orderRate');
const ask = (d: Dataset, q: Question) => answer(q, [d]);
const total = (d: Dataset, key: string, r: Range): Value =>
  valueOfAnswer(ask(d, { op: 'total', metric: key, range: r, filter: {} }))!;
const marked = (v: Value | null, whole: boolean) => v === null || !isKnown(v) || (v.partial === true) === !whole;

describe('what is partly known', () => {
  it('is marked wherever it stands: totals, steps, rows, Other and All, on either side', () => {
    fc.assert(
      fc.property(dataset, metric, range, range, (d, key, now, before) => {
        const [wholeNow, wholeBefore] = [isWhole(d, now), isWhole(d, before)];
        expect(marked(total(d, key, now), wholeNow)).toBe(true);
        const steps = ask(d, { op: 'bySteps', metric: key, ranges: [now, before], filter: {} });
        expect(steps.op === 'bySteps' && marked(steps.values[0]!, wholeNow)).toBe(true);
        const top = ask(d, {
          op: 'top',
          metrics: [key, 'visits'],
          dimension: 'channel',
          n: 2,
          range: now,
          compared: before,
          filter: {},
        });
        if (top.op !== 'top' || 'na' in top.breakdown) return;
        const { rows, other, total: all } = top.breakdown;
        const pairs: Pair[] = [...rows.flatMap((r) => r.cells), ...(other ?? []), ...all];
        for (const p of pairs) {
          expect(marked(p.current, wholeNow)).toBe(true);
          expect(marked(p.compared, wholeBefore)).toBe(true);
        }
      }),
    );
  });

  it('has no change: no verdict, no number, no sentence and no drivers', () => {
    const format = createFormatter('en-GB', 'GBP');
    fc.assert(
      fc.property(dataset, metric, range, range, (d, key, now, before) => {
        const whole = isWhole(d, now) && isWhole(d, before);
        const [current, compared] = [total(d, key, now), total(d, key, before)];
        const m = STANDARD.of(key);
        const change = changeOf(current, compared, m.unit, m.polarity);
        if (!whole) {
          expect(isTold(change)).toBe(false);
          expect(format.change(change)).toBeNull();
        }
        const found = ask(d, {
          op: 'drivers',
          metric: key,
          dimension: 'channel',
          range: now,
          compared: before,
          filter: {},
        });
        if (found.op !== 'drivers') return;
        if (!('na' in found.drivers)) expect(whole || !isKnown(current) || !isKnown(compared)).toBe(true);
        const sentence = whySentence(
          { metric: m, label: 'Figures', current, compared, drivers: found.drivers },
          format,
        );
        if (!whole) expect(sentence).not.toMatch(/\d|rose|fell/);
      }),
    );
  });
});

describe('steps against what is usual', () => {
  it('are held against the mean of the comparable steps at their place', () => {
    const first = toDayNumber('2026-07-01');
    const days = Array.from({ length: 123 }, (_, i) => first + i);
    const d: Dataset = {
      id: 'd',
      name: 'Visits',
      firstDay: '2026-07-01',
      dimensions: [],
      measures: ['visits'],
      covered: coverageOf(days),
      columns: { days: Int32Array.from(days), dims: {}, measures: { visits: Float64Array.from(days, (_, i) => i) } },
    };
    const months = (...m: string[]) =>
      m.map((x) => ({ from: `2026-${x}-01`, to: `2026-${x}-${x === '09' ? '30' : '31'}` }));
    const [period, ...ranges] = months('10', '09', '08') as [Range, Range, Range];
    const q: Question = {
      op: 'typicalSteps',
      metric: 'visits',
      period,
      ranges,
      step: 'week',
      weekStart: 1,
      filter: {},
    };
    const found = ask(d, q);
    const sums = (from: string, n: number) =>
      valueOfAnswer(ask(d, { op: 'total', metric: 'visits', range: { from, to: addDays(from, n - 1) }, filter: {} }));
    const value = (v: Value | null) => (v && isKnown(v) ? v.value : Number.NaN);
    expect(found.op === 'typicalSteps' && found.values.map(value)).toEqual([
      (value(sums('2026-09-01', 4)) + value(sums('2026-08-01', 4))) / 2,
      (value(sums('2026-09-05', 7)) + value(sums('2026-08-05', 7))) / 2,
      (value(sums('2026-09-12', 7)) + value(sums('2026-08-12', 7))) / 2,
      (value(sums('2026-09-19', 7)) + value(sums('2026-08-19', 7))) / 2,
      // September has five days there, October six: August alone is comparable.
      value(sums('2026-08-26', 6)),
    ]);
    expect(keyOf(q)).not.toBe(keyOf({ ...q, step: 'day' }));
  });
});
