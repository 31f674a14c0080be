import { describe, expect, it } from 'vitest';
import { checkOwnMetric, FIELDS, formOf, METRICS, metricBook, NO_SETTINGS, type OwnMetric, STANDARD } from './index.ts';

const own = (key: string, formula: string): OwnMetric => ({
  key,
  label: key,
  unit: 'count',
  polarity: 'higher',
  formula,
  definition: '',
});

describe('the library', () => {
  it('has metrics of every field, each with a definition that says more than its name', () => {
    expect(new Set(METRICS.map((m) => m.field)).size).toBe(FIELDS.length - 1);
    expect(new Set(METRICS.map((m) => m.key)).size).toBe(METRICS.length);
    for (const m of METRICS) expect(m.definition.length, m.key).toBeGreaterThan(12);
  });

  it('has no formula that could not be saved', () => {
    for (const m of METRICS) {
      if (m.aggregation.kind !== 'derived') continue;
      expect(checkOwnMetric({ key: m.key, formula: m.aggregation.formula }, STANDARD), m.key).toBeNull();
    }
  });

  it('reads measures of one field under names of their own: feeds of several kinds never mix', () => {
    const fieldsOf = new Map<string, Set<string>>();
    const shared = ['web', 'shop', 'leads'];
    for (const m of METRICS) {
      const form = formOf(m.aggregation, STANDARD.lookup);
      const terms = !form ? [] : form.kind === 'sum' ? [...form.of.keys()] : [...form.num.keys(), ...form.den.keys()];
      const field = shared.includes(m.field) ? 'site' : m.field;
      for (const t of terms) fieldsOf.set(t, (fieldsOf.get(t) ?? new Set()).add(field));
    }
    for (const [term, fields] of fieldsOf) expect([...fields], term).toHaveLength(1);
  });
});

describe('a client’s metrics', () => {
  it('are renamed, judged the other way and made to read another measure, for it alone', () => {
    const book = metricBook({
      changed: { orders: { label: 'Bookings', reads: { orders: 'leads' } }, bounceRate: { polarity: 'neutral' } },
      own: [],
    });
    expect(book.labelOf('orders', { orders: 'Orders' })).toBe('Bookings');
    expect(book.labelOf('visits', { visits: 'Besuche' })).toBe('Besuche');
    expect(book.lookup('orders')).toEqual({ kind: 'sum', measure: 'leads' });
    expect(book.of('bounceRate').polarity).toBe('neutral');
    expect(STANDARD.lookup('orders')).toEqual({ kind: 'sum', measure: 'orders' });
  });

  it('refuses circles through other own metrics, unknown keys and mixed units, at their place', () => {
    const book = metricBook({ ...NO_SETTINGS, own: [own('first', 'second + 1'), own('second', 'visits * 2')] });
    expect(checkOwnMetric({ key: 'second', formula: 'visits + first' }, book)).toMatchObject({ code: 'cycle', at: 9 });
    expect(checkOwnMetric({ key: 'x', formula: 'visits / nothing' }, book)).toMatchObject({
      code: 'unknown-key',
      at: 9,
    });
    expect(checkOwnMetric({ key: 'x', formula: 'revenue + visits' }, book)).toMatchObject({ code: 'mixed-units' });
    expect(checkOwnMetric({ key: 'x', formula: 'revenue / visits' }, book)).toBeNull();
    expect(() => book.of('nothing')).toThrow('unknown metric: nothing');
  });
});
