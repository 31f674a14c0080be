import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ComparisonSpec, PeriodSpec } from '../calendar/index.ts';
import { figuresQuery } from './figures.ts';
import { comparisonText, filterText, parseComparison, parseFilter, parsePeriod, periodText } from './figuresText.ts';

const unit = fc.constantFrom('day', 'week', 'month', 'quarter', 'year' as const);
const dates = fc.constantFrom({ from: '2026-02-01', to: '2026-02-28' }, { from: '2024-02-29', to: '2024-02-29' });
const period = fc.oneof(
  fc
    .tuple(unit, fc.integer({ min: -120, max: -1 }))
    .map(([u, offset]): PeriodSpec => ({ kind: 'unit', unit: u, offset })),
  unit.map((u): PeriodSpec => ({ kind: 'unit', unit: u, toDate: true, fiscal: true })),
  fc.integer({ min: 1, max: 1_100 }).map((days): PeriodSpec => ({ kind: 'rolling', days })),
  dates.map((d): PeriodSpec => ({ kind: 'fixed', ...d })),
);
const comparison = fc.oneof(
  fc.constantFrom<ComparisonSpec>(
    { kind: 'none' },
    { kind: 'previous' },
    { kind: 'lastYear' },
    { kind: 'lastYear', align: 'date' },
    { kind: 'first' },
    { kind: 'target' },
  ),
  fc.integer({ min: 2, max: 24 }).map((k): ComparisonSpec => ({ kind: 'typical', k })),
  dates.map((d): ComparisonSpec => ({ kind: 'fixed', ...d })),
);
const part = fc.record({
  dimension: fc.constantFrom('channel', 'device', 'landingPage'),
  values: fc.array(fc.string({ unit: 'grapheme', maxLength: 12 }), { minLength: 1, maxLength: 4 }),
  how: fc.constantFrom('only', 'except', 'contains', 'lacks'),
});

describe('views as text', () => {
  it('come back as they were, whatever a label holds', () => {
    fc.assert(fc.property(period, (p) => void expect(parsePeriod(periodText(p))).toEqual(p)));
    fc.assert(fc.property(comparison, (c) => void expect(parseComparison(comparisonText(c))).toEqual(c)));
    const parts = fc.uniqueArray(part, { selector: (p) => p.dimension, maxLength: 3 });
    fc.assert(fc.property(parts, (p) => void expect(parseFilter(filterText(p))).toEqual(p)));
  });

  it('give null for what cannot be read', () => {
    for (const text of ['', 'month', 'month.1', 'month.-121', 'century.-1', 'rolling.0', '2026-02-02..2026-02-01']) {
      expect(parsePeriod(text), text).toBeNull();
    }
    for (const text of ['', 'before', 'typical.1', 'typical.99']) expect(parseComparison(text), text).toBeNull();
    for (const text of ['channel', '=x', 'a=1;a=2', 'a b=1']) expect(parseFilter(text), text).toBeNull();
  });

  it('are told at the field of the query that is wrong', () => {
    const faultOf = (q: Record<string, string>) => figuresQuery.safeParse(q).error?.issues[0];
    const good = { metrics: 'visits', period: 'month.-1' };
    expect(faultOf(good)).toBeUndefined();
    expect(faultOf({ ...good, period: 'soon' })).toMatchObject({
      path: ['period'],
      message: 'Invalid period.',
    });
    expect(faultOf({ ...good, metrics: '' })?.path).toEqual(['metrics']);
    expect(faultOf({ ...good, metrics: 'a,b,c,d,e,f,g' })?.message).toBe('Choose at most six metrics.');
    expect(faultOf({ ...good, filter: 'channel' })?.path).toEqual(['filter']);
  });
});
