import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createFormatter, type Forms, fill, LOCALES } from '../src/words/index.ts';
import { goldenWords } from './goldenWords.ts';

/** Words that a language puts before a noun: none of them stands twice in a row. */
const PREPOSITIONS: Record<string, readonly string[]> = {
  en: ['on', 'in', 'of', 'with', 'over', 'from', 'to', 'by'],
  de: ['von', 'vom', 'mit', 'gegenüber', 'im', 'in', 'am', 'durch', 'bis'],
  fr: ['à', 'au', 'du', 'de', 'en', 'par', 'pour'],
  es: ['de', 'del', 'a', 'al', 'en', 'con', 'por'],
  it: ['a', 'al', 'di', 'del', 'da', 'dal', 'in', 'con', 'nel', 'per'],
  nl: ['van', 'met', 'in', 'op', 'door', 'voor'],
  pl: ['z', 'ze', 'w', 'we', 'od', 'do', 'o', 'na'],
  ru: ['с', 'со', 'в', 'во', 'по', 'на', 'за', 'из'],
  he: ['אל', 'של', 'עם', 'לעומת', 'על'],
};

/** Every text of a language that has a form for each plural. */
function formsIn(words: unknown): Forms[] {
  if (words === null || typeof words !== 'object') return [];
  if (typeof (words as Forms).other === 'string' && 'one' in words) return [words as Forms];
  return Object.values(words).flatMap(formsIn);
}

describe.each(LOCALES.map((l) => l.value))('sentences in %s', (locale) => {
  const file = readFileSync(new URL(`./words/${locale}.txt`, import.meta.url), 'utf8');
  const lines = goldenWords(locale);
  const texts = lines.flatMap((l) => (l.includes(' | ') ? l.slice(l.indexOf(' | ') + 3).split(' ¦ ') : []));

  it('match the reviewed file; after a change, run `npm run words` and review the diff', () => {
    expect(file.slice(file.indexOf('\n\n') + 2)).toBe(`${lines.join('\n')}\n`);
    expect(file).toMatch(/^# .+, read on \d{4}-\d\d-\d\d\n/);
  });

  it('have no double space, and none before a mark except where French sets one', () => {
    const french = locale.startsWith('fr');
    for (const text of texts) {
      expect(text).not.toMatch(/ {2}|^ | $/);
      expect(text, text).not.toMatch(french ? / [.,;:!?»)]/ : /[ \u00a0\u202f][.,;:!?)]/);
      if (french) expect(text, text).not.toMatch(/[^\u00a0\d]:(?!\d)(?!\/)/);
    }
  });

  it('never nest brackets, and close those that they open', () => {
    for (const text of texts) {
      let open = 0;
      for (const c of text) {
        if (c === '(') open++;
        if (c === ')') open--;
        expect(open >= 0 && open <= 1, text).toBe(true);
      }
      expect(open, text).toBe(0);
    }
  });

  it('leave no place unfilled', () => {
    for (const text of texts)
      expect(text.replace(/\{\{[^}]*\}\}/g, ''), text).not.toMatch(/[{}]|undefined|NaN|\[object/);
  });

  it('put no two prepositions in a row', () => {
    const words = PREPOSITIONS[locale.slice(0, 2)]!;
    for (const text of texts) {
      const said = text.toLowerCase().split(/[ \u00a0]+/);
      said.forEach((word, i) => {
        if (words.includes(word)) expect(words.includes(said[i + 1] ?? ''), text).toBe(false);
      });
    }
  });

  const format = createFormatter(locale, 'EUR');

  it('have the form of their plural for every count', () => {
    const rules = new Intl.PluralRules(locale);
    const all = formsIn(format.words);
    expect(all.length).toBeGreaterThan(5);
    for (const forms of all)
      for (const n of [0, 1, 2, 3, 5, 21]) {
        const form = forms[rules.select(n)] ?? forms.other;
        expect(typeof form, JSON.stringify(forms)).toBe('string');
        expect(format.count(forms, n)).toBe(fill(form, { count: format.figure(n, 'count') }));
      }
  });

  it('name the unit of every figure, and of every change in points', () => {
    const symbol = new Intl.NumberFormat(locale, { style: 'currency', currency: 'EUR' })
      .formatToParts(1)
      .find((p) => p.type === 'currency')!.value;
    const value = fc.double({ min: -1e9, max: 1e9, noNaN: true });
    fc.assert(
      fc.property(value, (v) => {
        expect(format.figure(v, 'money')).toContain(symbol);
        expect(format.figure(v / 1e7, 'percent')).toContain('%');
        expect(format.figure(Math.abs(v), 'duration')).toMatch(/:|\p{L}/u);
        for (const place of ['cell', 'sentence'] as const) {
          const points = format.points(v / 1e7, format.figure(v / 1e7, 'decimal'), place);
          expect(points).toMatch(/\p{L}|%/u);
        }
      }),
    );
  });

  it('keep abbreviations in capitals', () => {
    for (const text of texts)
      expect(text, text).not.toMatch(/(?:^|[^\p{L}])(?:ctr|roas|cpm|cpc|kpi|sms)(?:[^\p{L}]|$)/u);
  });
});
