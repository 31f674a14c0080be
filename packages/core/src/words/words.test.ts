import { describe, expect, it } from 'vitest';
import { DIMENSION_KEYS, STANDARD } from '../figures/index.ts';
import { STARTERS } from '../report/index.ts';
import { createFormatter, type Forms, fill, LOCALES, type Said, type Words, wordsFor } from './index.ts';

/** Names of a text's places; of a function those that it reads. */
function placesIn(text: Said): string[] {
  if (typeof text === 'string') return [...text.matchAll(/\{(\w+)\}/g)].map((m) => m[1]!);
  const read: string[] = [];
  fill(
    text,
    new Proxy(
      {},
      {
        get(_, name) {
          read.push(String(name));
          return '1';
        },
      },
    ),
  );
  return [...new Set(read)];
}
const english = wordsFor('en');

/** Forms by count, which need not be the same in any two languages. */
const isForms = (value: object): value is Forms =>
  'other' in value && Object.keys(value).every((k) => ['zero', 'one', 'two', 'few', 'many', 'other'].includes(k));

/** What is no text, and what a language has for itself. */
const OWN = ['locales', 'dates', 'period', 'by', 'dimensionsBy', 'hyphenation', 'direction', 'smallNouns'];

/** Every text of a language by its path. */
function textsOf(words: Words): Record<string, Said[]> {
  const out: Record<string, Said[]> = {};
  const walk = (value: unknown, path: string) => {
    if (typeof value === 'string' || typeof value === 'function') out[path] = [value as Said];
    else if (value !== null && typeof value === 'object') {
      if (isForms(value)) out[path] = Object.values(value) as Said[];
      else for (const [k, v] of Object.entries(value)) walk(v, `${path}.${k}`);
    }
  };
  for (const [key, value] of Object.entries(words)) if (!OWN.includes(key)) walk(value, key);
  return out;
}

/** What a text may say of the period that it compares with, in whichever form the language wants. */
const EITHER = new Set(['title', 'against', 'during', 'metric', 'within', 'zero', 'value', 'count', 'before']);

describe.each(LOCALES.map((l) => l.value))('%s', (locale) => {
  const words = wordsFor(locale);

  it('has a word for everything that English has, with the same places for values', () => {
    const own = textsOf(words);
    const must = (texts: Said[]) => [...new Set(texts.flatMap(placesIn))].filter((p) => !EITHER.has(p)).sort();
    for (const [path, texts] of Object.entries(textsOf(english))) {
      expect(own[path], path).toBeTruthy();
      for (const text of own[path]!) expect(typeof text === 'function' || text.trim() !== '', path).toBe(true);
      expect(
        must(own[path]!).filter((p) => p !== 'dimension'),
        path,
      ).toEqual(must(texts).filter((p) => p !== 'dimension'));
    }
  });

  it('has a form for every count that its language tells apart', () => {
    const rules = new Intl.PluralRules(locale);
    const told = new Set([0, 1, 2, 3, 5, 11, 21, 22, 25, 100].map((n) => rules.select(n)));
    const number = createFormatter(locale, 'EUR');
    for (const form of told) expect(words.days[form] ?? words.days.other, form).toBeTruthy();
    const days = [1, 2, 5, 21, 22].map((n) => number.count(words.days, n));
    expect(new Set(days).size).toBe(days.length);
    if (told.has('few')) expect(words.days.few).toBeTruthy();
  });

  it('is one of the places where its language is spoken', () => {
    expect(words.locales.map((l) => l.value)).toContain(locale);
    expect(Intl.getCanonicalLocales(locale)).toEqual([locale]);
  });

  it('names every metric, dimension and starter', () => {
    for (const key of STANDARD.keys) expect(words.metrics[key], key).toBeTruthy();
    for (const key of DIMENSION_KEYS) expect(words.dimensions[key], key).toBeTruthy();
    for (const page of STARTERS.flatMap((s) => s.pages)) expect(words.starters[page.title], page.title).toBeTruthy();
  });

  it('writes figures and dates without a trace of another language', () => {
    const format = createFormatter(locale, 'EUR');
    const texts = [
      format.figure(12_345.6, 'money'),
      format.range({ from: '2026-10-01', to: '2026-10-31' }),
      fill(words.page, { n: 1, of: 2 }),
    ];
    for (const text of texts) expect(text).not.toMatch(/[{}]|undefined|NaN/);
    expect(format.change({ abs: -1, rel: -0.081, verdict: 'worse' })).toContain('\u2212');
  });
});

it('does not pretend to speak a language that it does not', () => {
  expect(() => wordsFor('tlh')).toThrow('no words for tlh');
});
