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
      'Revenue rose 12.4% (+€8,410); mainly Paid search (71% of the rise) and Organic search (24%), partly offset by Email (−€1,200)',
    );
  });

  it('tells a part that brought more than the whole by its amount', () => {
    const found = drivers(-100, [
      { label: 'Email', by: -250 },
      { label: 'Direct', by: 150 },
    ]);
    expect(whySentence(revenue(900, 1_000, found), english)).toBe(
      'Revenue fell 10.0% (−€100.00); mainly Email (−€250.00), partly offset by Direct (+€150.00)',
    );
  });

  it('tells all parts by their amounts where one brought more than the whole: amounts and shares are never mixed', () => {
    const found = drivers(400, [
      { label: 'Email', by: 600 },
      { label: 'Direct', by: 300 },
      { label: 'Social', by: -500 },
    ]);
    expect(whySentence(revenue(1_400, 1_000, found), english)).toBe(
      'Revenue rose 40.0% (+€400.00); mainly Email (+€600.00) and Direct (+€300.00), partly offset by Social (−€500.00)',
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
      'Revenue rose 40.0% (+€4,000); mainly Paid search (+€6,295), partly offset by 3 others (−€2,295)',
    );
    const back = items.map((i) => ({ ...i, by: -i.by }));
    expect(whySentence(revenue(10_000, 14_000, drivers(-4_000, back)), english)).toContain(
      'partly offset by 3 others (+€2,295)',
    );
    const rates = [
      { label: 'Mobile', by: 0.03, rate: 0.03, mix: 0 },
      { label: 'Tablet', by: -0.006, rate: -0.006, mix: 0 },
      { label: 'Desktop', by: -0.004, rate: -0.004, mix: 0 },
    ];
    const rate = { ...revenue(0.42, 0.4, drivers(0.02, rates, 'ratio')), metric: STANDARD.of('bounceRate') };
    expect(whySentence(rate, english)).toContain('partly offset by 2 others (−1.0 pp)');
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
      'Bounce rate rose 1.2 percentage points; mainly Mobile (own rate: +1.0 pp) and Tablet (change in mix: +0.2 pp)',
    );
  });

  it('says no more than the figures: steady, from nothing, to nothing, or not to be compared', () => {
    expect(whySentence(revenue(1_001, 1_000), english)).toBe('Revenue stayed level');
    expect(whySentence(revenue(500, 0), english)).toBe('Revenue: €500.00, none before');
    expect(whySentence(revenue(0, 500), english)).toBe('Revenue: none, down from €500.00');
    expect(whySentence({ ...revenue(1, 1), compared: { na: 'before-start' } }, english)).toBe(
      'Revenue: no comparison (not yet measured)',
    );
    expect(whySentence(revenue(2_000, 1_000, { na: 'not-additive' }), english)).toBe('Revenue rose 100.0% (+€1,000)');
  });

  it('says that all came from one part, and tells positions in places', () => {
    const found = drivers(4_000, [
      { label: 'Paid search', by: 3_999 },
      { label: 'Direct', by: 1 },
    ]);
    expect(whySentence(revenue(14_000, 10_000, found), english)).toContain('; all of it from Paid search');
    const position = (current: number, compared: number): WhyInput => ({
      ...revenue(current, compared),
      metric: STANDARD.of('position'),
      label: 'Average search position',
    });
    expect(whySentence(position(8.4, 6.1), english)).toBe(
      'Average search position slipped by 2.3 places (from 6.1 to 8.4)',
    );
    expect(whySentence(position(6.1, 8.4), english)).toBe(
      'Average search position improved by 2.3 places (from 8.4 to 6.1)',
    );
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
