import { describe, expect, it } from 'vitest';
import { DIMENSION_KEYS, STANDARD } from '../figures/index.ts';
import { STARTERS } from '../report/index.ts';
import { createFormatter, fill, LOCALES, type Words, wordsFor } from './index.ts';

const places = (text: string) => [...text.matchAll(/\{(\w+)\}/g)].map((m) => m[1]!).sort();
const english = wordsFor('en');

/** Every text of a language by its path; where it is spoken is no text of it. */
function textsOf({ locales: _, ...words }: Words): Record<string, string> {
  const out: Record<string, string> = {};
  const walk = (value: unknown, path: string) => {
    if (typeof value === 'string') out[path] = value;
    else if (value !== null && typeof value === 'object')
      for (const [k, v] of Object.entries(value)) walk(v, `${path}.${k}`);
  };
  walk(words, '');
  return out;
}

describe.each(LOCALES.map((l) => l.value))('%s', (locale) => {
  const words = wordsFor(locale);

  it('has a word for everything that English has, with the same places for values', () => {
    const own = textsOf(words);
    for (const [path, text] of Object.entries(textsOf(english))) {
      // Not every language divides its words.
      if (path === '.hyphenation') continue;
      expect(own[path]?.trim(), path).toBeTruthy();
      expect(places(own[path]!), path).toEqual(places(text));
    }
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
