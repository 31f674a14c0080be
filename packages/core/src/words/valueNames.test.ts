import { describe, expect, it } from 'vitest';
import { formatterOf, LOCALES, wordsFor } from './index.ts';

describe('names of values', () => {
  const german = formatterOf('de-DE', 'EUR');

  it('are those of the language for channels and devices, however they are written', () => {
    expect(german.valueName('channel', 'Organic search')).toBe('Organische Suche');
    expect(german.valueName('channel', 'PAID SEARCH ')).toBe('Bezahlte Suche');
    expect(german.valueName('device', 'mobile')).toBe('Mobil');
  });

  it('are those of the language for countries, by name or by code', () => {
    expect(german.valueName('country', 'Germany')).toBe('Deutschland');
    expect(german.valueName('country', 'gb')).toBe('Vereinigtes Königreich');
    expect(formatterOf('he-IL', 'ILS').valueName('country', 'France')).toBe('צרפת');
    expect(german.valueName('country', 'Atlantis')).toBe('Atlantis');
  });

  it('stay as they are where they are the client’s own, and have a word where they are none', () => {
    expect(german.valueName('campaign', 'Direct')).toBe('Direct');
    expect(german.valueName('landingPage', '/mobile')).toBe('/mobile');
    expect(german.valueName('campaign', '  ')).toBe('Ohne Angabe');
  });

  it('are told apart in every language', () => {
    for (const { value } of LOCALES) {
      const names = Object.values(wordsFor(value).values);
      expect(new Set(names).size, value).toBe(names.length);
    }
  });
});
