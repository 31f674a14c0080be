import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createFormatter, createNumbers, LOCALES, measureName } from './index.ts';

const english = createFormatter('en-GB', 'GBP');
const decimalsOf = (text: string) => /\.(\d+)/.exec(text)?.[1]?.length ?? 0;

describe('a column of figures', () => {
  it('has the same decimals in all of its cells', () => {
    const values = fc.array(fc.double({ min: -90_000, max: 90_000, noNaN: true }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(values, fc.constantFrom('money', 'count', 'decimal', 'percent' as const), (all, unit) => {
        for (const column of [english.column(all, unit as 'money'), english.differences(all, unit as 'money')]) {
          expect(new Set(all.map((v) => decimalsOf(column.say(v)))).size).toBe(1);
        }
      }),
    );
    expect([387.47, 1_043.2].map(english.column([387.47, 1_043.2], 'money').say)).toEqual(['£387', '£1,043']);
    expect([3.5, 87.25].map(english.column([3.5, 87.25], 'money').say)).toEqual(['£3.50', '£87.25']);
  });

  it('of rates is written so finely that not every part of a change reads as nothing', () => {
    const parts = [0.00021, -0.00012, 0];
    expect(parts.map(english.differences(parts, 'percent').say)).toEqual(['+0.02', '\u22120.01', '0.00']);
    expect([0.012, -0.004].map(english.differences([0.012, -0.004], 'percent').say)).toEqual(['+1.2', '\u22120.4']);
    expect([0, 0].map(english.differences([0, 0], 'percent').say)).toEqual(['0.0', '0.0']);
  });

  it('knows what it reads, so that a note can say where parts do not come to their whole', () => {
    const { rounded } = english.differences([0.4, 0.4, 0.4], 'count');
    expect([0.4, 0.4, 0.4].reduce((sum, v) => sum + rounded(v), 0)).not.toBe(rounded(1.2));
  });
});

it('names measures as words', () => {
  expect(['visits', 'engagedSeconds', 'ad_clicks', 'topOfPage'].map(measureName)).toEqual([
    'Visits',
    'Engaged seconds',
    'Ad clicks',
    'Top of page',
  ]);
});

describe('figures of one page', () => {
  it('has one rule of grouping, whatever stands beside a figure', () => {
    for (const { value: locale } of LOCALES) {
      const n = createNumbers(locale, 'EUR');
      const column = n.column([1_234, 123_456], 'count');
      const marks = (text: string) => text.replace(/\d/g, '');
      expect(marks(column.say(1_234)), locale).toBe(marks(column.say(123_456)));
      expect(marks(n.figure(1_234, 'count')), locale).toBe(marks(column.say(1_234)));
    }
  });
});
