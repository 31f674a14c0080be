import { describe, expect, it } from 'vitest';
import { type Drivers, STANDARD } from '../figures/index.ts';
import { createFormatter, LOCALES, type WhyInput, whySentence } from './index.ts';

const plain = (s: string) => s.replace(/[\u00a0\u202f]/g, ' ');
const english = createFormatter('en-GB', 'EUR');
const drivers = (change: number, items: Drivers['items'], kind: Drivers['kind'] = 'sum'): Drivers => ({
  kind,
  current: 0,
  compared: 0,
  change,
  residual: 0,
  items,
});
const revenue = (current: number, compared: number, found: WhyInput['drivers'] = null): WhyInput => ({
  metric: STANDARD.of('revenue'),
  label: 'Revenue',
  current: { value: current },
  compared: { value: compared },
  drivers: found,
});
const rise = revenue(
  76_230,
  67_820,
  drivers(8_410, [
    { label: 'Paid search', by: 5_971 },
    { label: 'Email', by: -1_200 },
    { label: 'Organic search', by: 2_000 },
    { label: 'Direct', by: 900 },
    { label: 'Social', by: 739 },
  ]),
);

describe('why it changed, in a sentence', () => {
  it('tells the change, at most two parts that brought it, and the one that went against it', () => {
    expect(whySentence(rise, english)).toBe(
      'Revenue rose 12.4% (+€8,410); Paid search brought 71% of the rise, Organic search brought 24% of the rise, Email fell by €1,200',
    );
  });

  it('tells a part that brought more than the whole by its amount', () => {
    const found = drivers(-100, [
      { label: 'Email', by: -250 },
      { label: 'Direct', by: 150 },
    ]);
    expect(whySentence(revenue(900, 1_000, found), english)).toBe(
      'Revenue fell 10.0% (−€100.00); Email alone brought −€250.00, Direct rose by €150.00',
    );
  });

  it('names the whole of what moved against it, not one of several', () => {
    const items = [
      { label: 'Paid search', by: 6_295 },
      { label: 'Email', by: -1_200 },
      { label: 'Direct', by: -600 },
      { label: 'Social', by: -495 },
    ];
    expect(whySentence(revenue(14_000, 10_000, drivers(4_000, items)), english)).toBe(
      'Revenue rose 40.0% (+€4,000); Paid search alone brought +€6,295, 3 others fell by €2,295 together',
    );
    const back = items.map((i) => ({ ...i, by: -i.by }));
    expect(whySentence(revenue(10_000, 14_000, drivers(-4_000, back)), english)).toContain(
      '3 others rose by €2,295 together',
    );
    const rates = [
      { label: 'Mobile', by: 0.03, rate: 0.03, mix: 0 },
      { label: 'Tablet', by: -0.006, rate: -0.006, mix: 0 },
      { label: 'Desktop', by: -0.004, rate: -0.004, mix: 0 },
    ];
    const rate = { ...revenue(0.42, 0.4, drivers(0.02, rates, 'ratio')), metric: STANDARD.of('bounceRate') };
    expect(whySentence(rate, english)).toContain('2 others together brought −1.0 points');
  });

  it('names no part that reads as nothing', () => {
    const items = [
      { label: 'Mobile', by: 0.0008, rate: 0.0008, mix: 0 },
      { label: 'Tablet', by: -0.0002, rate: -0.0002, mix: 0 },
    ];
    const rate = { ...revenue(0.4006, 0.4, drivers(0.0006, items, 'ratio')), metric: STANDARD.of('bounceRate') };
    const said = whySentence(rate, english);
    expect(said).toContain('Mobile');
    expect(said).not.toContain('Tablet');
  });

  it('tells rates in points, and which part changed by itself or by its weight', () => {
    const found = drivers(
      0.012,
      [
        { label: 'Mobile', by: 0.01, rate: 0.009, mix: 0.001 },
        { label: 'Tablet', by: 0.002, rate: 0.0005, mix: 0.0015 },
      ],
      'ratio',
    );
    const input: WhyInput = {
      metric: STANDARD.of('bounceRate'),
      label: 'Bounce rate',
      current: { value: 0.412 },
      compared: { value: 0.4 },
      drivers: found,
    };
    expect(whySentence(input, english)).toBe(
      'Bounce rate rose 1.2 points; Mobile by itself brought +1.0 points, the changed weight of Tablet brought +0.2 points',
    );
  });

  it('says no more than the figures: steady, from nothing, to nothing, or not to be compared', () => {
    expect(whySentence(revenue(1_001, 1_000), english)).toBe('Revenue stayed level');
    expect(whySentence(revenue(500, 0), english)).toBe('Revenue began: €500.00, after none before');
    expect(whySentence(revenue(0, 500), english)).toBe('Revenue stopped: none, after €500.00 before');
    expect(whySentence({ ...revenue(1, 1), compared: { na: 'before-start' } }, english)).toBe(
      'Revenue: nothing to compare (not yet measured)',
    );
    expect(whySentence(revenue(2_000, 1_000, { na: 'not-additive' }), english)).toBe('Revenue rose 100.0% (+€1,000)');
  });

  it.each(LOCALES.map((l) => l.value))('is written out in %s', (locale) => {
    const format = createFormatter(locale, 'EUR');
    const said = plain(whySentence(rise, format));
    expect(said).not.toMatch(/[{}]|undefined|NaN/);
    expect(said).toContain('Paid search');
    expect(said).toContain(plain(format.percent(0.124)));
    expect(whySentence(rise, format)).toBe(whySentence(rise, format));
  });
});
