import { describe, expect, it } from 'vitest';
import { createFormatter } from './index.ts';

const plain = (s: string) => s.replace(/[\u00a0\u202f\u2009]/g, ' ');
const english = createFormatter('en-GB', 'GBP');
const german = createFormatter('de-DE', 'EUR');

describe('figures on paper', () => {
  it('follow the language and the kind', () => {
    expect(english.figure(32_418, 'count')).toBe('32,418');
    expect(english.figure(12_345_678, 'count')).toBe('12.3m');
    expect(english.cell(12_345_678, 'count')).toBe('12,345,678');
    expect(english.figure(4.86, 'money')).toBe('£4.86');
    expect(english.figure(48_210.4, 'money')).toBe('£48,210');
    expect(plain(german.figure(0.1237, 'percent'))).toBe('12,4 %');
    expect(english.figure(3_725, 'duration')).toBe('1:02:05');
    expect(english.figure(65, 'duration')).toBe('1:05');
  });

  it('write changes with a sign and a true minus', () => {
    const change = (rel: number) => english.change({ abs: 1, rel, verdict: 'changed' });
    expect(change(0.1237)).toBe('+12.4%');
    expect(change(-0.081)).toBe('\u22128.1%');
    expect(english.change({ abs: -0.002, rel: -0.1, points: -0.2, verdict: 'worse' })).toBe('\u22120.2 pp');
    expect(english.change({ abs: 5, rel: { na: 'zero-denominator' }, new: true, verdict: 'better' })).toBe('new');
    expect(english.change({ abs: { na: 'no-data' }, rel: { na: 'no-data' }, verdict: 'none' })).toBeNull();
    expect(english.change({ abs: 5, rel: 0.5, verdict: 'none' })).toBeNull();
  });

  it('count points as their language does', () => {
    const points = (locale: string, n: number) =>
      plain(createFormatter(locale, 'EUR').change({ abs: n / 100, rel: 0.1, points: n, verdict: 'worse' })!);
    expect([-0.2, 1, 2].map((n) => points('fr-FR', n))).toEqual(['\u22120,2 pt', '+1,0 pt', '+2,0 pts']);
    expect([-0.2, 1, 2].map((n) => points('en-GB', n))).toEqual(['\u22120.2 pp', '+1.0 pp', '+2.0 pp']);
    expect([0.5, 1].map((n) => points('de-DE', n))).toEqual(['+0,5 Pp.', '+1,0 Pp.']);
    expect(points('pl-PL', -0.2)).toBe('\u22120,2 p.p.');
  });

  it('name whole months, quarters and years, and give dates otherwise', () => {
    const range = (from: string, to: string) => plain(english.range({ from, to }));
    expect(range('2026-10-01', '2026-10-31')).toBe('October 2026');
    expect(range('2026-10-01', '2026-12-31')).toBe('Q4 2026');
    expect(range('2026-01-01', '2026-12-31')).toBe('2026');
    expect(range('2026-10-01', '2026-10-15')).toBe('1–15 October 2026');
    expect(plain(german.range({ from: '2026-10-01', to: '2026-10-31' }))).toBe('Oktober 2026');
  });
});
