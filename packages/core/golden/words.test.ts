import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { wordsGrid } from '../src/words/grid/wordsGrid.ts';
import { LOCALES } from '../src/words/index.ts';

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

describe.each(LOCALES.map((l) => l.value))('sentences in %s', (locale) => {
  const file = readFileSync(new URL(`./words/${locale}.txt`, import.meta.url), 'utf8');
  const lines = wordsGrid(locale);
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

  it('keep abbreviations in capitals', () => {
    for (const text of texts)
      expect(text, text).not.toMatch(/(?:^|[^\p{L}])(?:ctr|roas|cpm|cpc|kpi|sms)(?:[^\p{L}]|$)/u);
  });
});
