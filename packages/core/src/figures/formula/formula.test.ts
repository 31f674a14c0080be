import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkFormula, evaluateFormula, isKnown, measuresOf, metricBook, parseFormula, type Value } from '../index.ts';

const KEYS = ['a', 'b', 'c'] as const;

/** A formula as text, and what it comes to by plain arithmetic: null where a division by zero is on the way. */
interface Sample {
  text: string;
  run(values: Record<string, number>): number | null;
}

const both = (l: Sample, r: Sample, text: string, run: (x: number, y: number) => number | null): Sample => ({
  text,
  run(values) {
    const [x, y] = [l.run(values), r.run(values)];
    return x === null || y === null ? null : run(x, y);
  },
});

const { formula } = fc.letrec<{ formula: Sample }>((tie) => ({
  formula: fc.oneof(
    { maxDepth: 5 },
    fc.constantFrom(...KEYS).map((k): Sample => ({ text: k, run: (v) => v[k]! })),
    fc.integer({ min: 0, max: 999 }).map((n): Sample => ({ text: `${n / 4}`, run: () => n / 4 })),
    tie('formula').map((f): Sample => ({ text: `-(${f.text})`, run: (v) => (f.run(v) === null ? null : -f.run(v)!) })),
    fc.tuple(tie('formula'), tie('formula')).map(([l, r]) => both(l, r, `(${l.text} + ${r.text})`, (x, y) => x + y)),
    fc.tuple(tie('formula'), tie('formula')).map(([l, r]) => both(l, r, `(${l.text})*(${r.text})`, (x, y) => x * y)),
    fc
      .tuple(tie('formula'), tie('formula'))
      .map(([l, r]) => both(l, r, `(${l.text}) / (${r.text})`, (x, y) => (y === 0 ? null : x / y))),
    fc.tuple(tie('formula'), tie('formula')).map(([l, r]) => both(l, r, `max(${l.text}, ${r.text})`, Math.max)),
  ),
}));

function evaluate(text: string, values: Record<string, number>): Value {
  const parsed = parseFormula(text);
  if (!parsed.ok) throw new Error(parsed.fault.message);
  return evaluateFormula(parsed.tree, (key) => ({ value: values[key]! }));
}

describe('formulas', () => {
  it('match plain arithmetic, whatever is written', () => {
    fc.assert(
      fc.property(
        formula,
        fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 3, maxLength: 3 }),
        (f, [a, b, c]) => {
          const values = { a: a!, b: b!, c: c! };
          const expected = f.run(values);
          const found = evaluate(f.text, values);
          if (expected === null) expect(found).toEqual({ na: 'zero-denominator' });
          else if (Number.isFinite(expected)) expect(isKnown(found) && found.value).toBe(expected);
        },
      ),
    );
  });

  it('never let NaN or Infinity out', () => {
    fc.assert(
      fc.property(formula, fc.double(), fc.double(), fc.double(), (f, a, b, c) => {
        const found = evaluate(f.text, { a, b, c });
        if (isKnown(found) && [a, b, c].every(Number.isFinite)) expect(Number.isFinite(found.value)).toBe(true);
      }),
    );
    expect(evaluate('a * a', { a: 1e308 })).toEqual({ na: 'no-data' });
  });

  it('answer a hostile one with a fault, at once', () => {
    const faultOf = (text: string) => checkFormula('x', text, { a: { unit: 'count' } });
    expect(faultOf('('.repeat(10_000))).toMatchObject({ code: 'syntax' });
    expect(faultOf(`${'('.repeat(900)}a${')'.repeat(900)}`)).toMatchObject({
      code: 'syntax',
      message: 'The formula is nested too deeply.',
    });
    expect(faultOf('-'.repeat(1_900))).toMatchObject({ code: 'syntax' });
    expect(faultOf('9'.repeat(400))).toMatchObject({ code: 'syntax', message: 'This number is too large.' });
    expect(faultOf('a + constructor')).toMatchObject({ code: 'unknown-key', at: 4 });
    expect(faultOf('__proto__ / a')).toMatchObject({ code: 'unknown-key', at: 0 });
    expect(faultOf('process.exit()')).toMatchObject({ code: 'syntax', at: 7 });
    expect(faultOf(`a${' + a'.repeat(400)}`)).toBeNull();
  });

  it('are refused when they read too much, however little they say', () => {
    const known: Record<string, { unit: 'count'; formula?: string }> = { a: { unit: 'count' } };
    known.m0 = { unit: 'count', formula: 'a + a' };
    for (let i = 1; i < 60; i++) known[`m${i}`] = { unit: 'count', formula: `m${i - 1} + m${i - 1}` };
    expect(checkFormula('x', 'm59', known)).toMatchObject({ code: 'too-large' });
    expect(checkFormula('x', 'm3 + m4', known)).toBeNull();
    // The last straw may be laid at the bottom: others are made from what is changed.
    const tower = {
      a: known.a!,
      b: { unit: 'count' as const, formula: 'a' },
      c: { unit: 'count' as const, formula: `b${' + b'.repeat(200)}` },
    };
    expect(checkFormula('b', 'a + a + a', tower)).toMatchObject({ code: 'too-large' });
    expect(checkFormula('b', 'a', tower)).toBeNull();
  });

  it('that were stored too heavy, or in a circle, have no data and hold nothing up', () => {
    const metric = (key: string, text: string) => ({
      key,
      label: key,
      unit: 'count' as const,
      polarity: 'neutral' as const,
      formula: text,
      definition: '',
    });
    const tower = Array.from({ length: 80 }, (_, i) => metric(`m${i}`, i === 0 ? 'visits' : `m${i - 1} + m${i - 1}`));
    const book = metricBook({ changed: {}, own: [...tower, metric('p', 'q'), metric('q', 'p')] });
    for (const key of ['m79', 'p']) expect(measuresOf(book.lookup(key), book.lookup)).toEqual([]);
    expect(measuresOf(book.lookup('m3'), book.lookup)).toEqual(['visits']);
  });

  it('pass on how partial their inputs were', () => {
    const parsed = parseFormula('a / b');
    if (!parsed.ok) throw new Error('unreadable');
    const values: Record<string, Value> = {
      a: { value: 6, partial: true, share: 0.5 },
      b: { value: 2, partial: true, share: 0.25 },
    };
    expect(evaluateFormula(parsed.tree, (k) => values[k]!)).toEqual({ value: 3, partial: true, share: 0.25 });
  });
});
