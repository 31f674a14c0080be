import { describe, expect, it } from 'vitest';
import { LOCALES, localeNamed } from './index.ts';

describe('a language that somebody names', () => {
  it.each([
    ['German', 'de-DE'],
    ['deutsch', 'de-DE'],
    ['DE', 'de-DE'],
    ['de_AT', 'de-AT'],
    ['Austrian German', 'de-AT'],
    ['français', 'fr-FR'],
    ['Spanish', 'es-ES'],
    ['polski', 'pl-PL'],
    ['русский', 'ru-RU'],
    ['Hebrew', 'he-IL'],
    ['English', 'en-GB'],
    ['American English', 'en-US'],
  ])('is found: %s', (text, locale) => expect(localeNamed(text, 'en-GB')).toBe(locale));

  it('is as it is spoken where the agency is', () => {
    expect(localeNamed('English', 'en-US')).toBe('en-US');
    expect(localeNamed('German', 'de-AT')).toBe('de-AT');
  });

  it('is none of ours, or no language', () => {
    for (const text of ['Klingon', 'Finnish', '', 'e', 'English please'])
      expect(localeNamed(text, 'en-GB'), text).toBeNull();
  });

  it('is each that forms offer, by its code and by its label', () => {
    for (const { value, label } of LOCALES) {
      expect(localeNamed(value, 'en-GB')).toBe(value);
      expect(localeNamed(label, 'en-GB')).toBe(value);
    }
  });
});
