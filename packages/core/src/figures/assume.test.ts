import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { answer } from './answer.ts';
import { assume, assumedIn } from './assume.ts';
import { checkOwnMetric, metricBook, NO_SETTINGS, type OwnMetric } from './book.ts';
import { evaluateFormula } from './formula/evaluate.ts';
import { parseFormula } from './formula/parse.ts';

const own = (key: string, formula: string): OwnMetric => ({
  key,
  label: key,
  unit: 'decimal',
  polarity: 'higher',
  formula,
  definition: '',
});
const settings = (formula: string) => ({ ...NO_SETTINGS, own: [own('profit', formula)] });

describe('metrics under assumptions', () => {
  it('are what their formulas come to with the numbers in place, whatever these are', () => {
    const number = fc.integer({ min: -1_000_000_000_000, max: 1_000_000_000_000 }).map((n) => n / 10_000);
    fc.assert(
      fc.property(number, number, (margin, uplift) => {
        const { own: metrics } = assume(settings('margin * (uplift - margin) + -uplift'), { margin, uplift });
        const parsed = parseFormula(metrics[0]!.formula);
        expect(parsed.ok).toBe(true);
        const value = parsed.ok && evaluateFormula(parsed.tree, () => ({ na: 'no-data' }));
        expect(value).toEqual({ value: margin * (uplift - margin) + -uplift || 0 });
      }),
      {
        examples: [
          [0.1, 0.2],
          [-5, 1e15],
          [0, 0],
          [0.000001, 1],
        ],
      },
    );
  });

  it('are unchanged where nothing is assumed, and know what they lack', () => {
    const metrics = settings('revenue * margin');
    expect(assume(metrics, {})).toBe(metrics);
    expect(assumedIn(metrics, metricBook().has)).toEqual(['margin']);
    expect(assumedIn(assume(metrics, { margin: 0.3 }), metricBook().has)).toEqual([]);
    expect(assume(metrics, { margin: 0.3 }).own[0]!.formula).toBe('revenue * 0.3');
  });

  it('have no data where a report does not say what they assume', () => {
    const book = metricBook(settings('revenue * margin'));
    const range = { from: '2026-10-01', to: '2026-10-31' };
    const q = { op: 'total', metric: 'profit', range, filter: {} } as const;
    expect(answer(q, [], { book, targets: [] })).toEqual({ op: 'total', value: { na: 'no-data' } });
  });

  it('may be saved with the keys of assumptions, by their units', () => {
    const book = metricBook();
    const known = [
      { key: 'margin', unit: 'percent' },
      { key: 'budget', unit: 'money' },
    ] as const;
    expect(checkOwnMetric(own('profit', 'revenue * margin'), book)).toMatchObject({ code: 'unknown-key' });
    expect(checkOwnMetric(own('profit', 'revenue * margin'), book, known)).toBeNull();
    expect(checkOwnMetric(own('left', 'budget - adCost'), book, known)).toBeNull();
    expect(checkOwnMetric(own('left', 'budget + visits'), book, known)).toMatchObject({ code: 'mixed-units' });
  });
});
