import { LOCALES } from './registry.ts';

const languageOf = (locale: string): string => locale.split('-')[0]!.toLowerCase();
const plain = (text: string): string => text.trim().toLowerCase().replaceAll('_', '-');

/** What a language or a locale is called, in English and in itself. */
function namesOf(tag: string): string[] {
  return ['en', languageOf(tag)].flatMap((inWords) => {
    const name = new Intl.DisplayNames([inWords], { type: 'language' }).of(tag);
    return name === undefined ? [] : [plain(name)];
  });
}

/**
 * The locale that somebody means who writes a code or a name, in English or in the language itself; null for none of ours.
 * Of several places of one language, it is the usual one where that speaks it, else the first.
 * @param usual a locale, as the agency's
 *
 * @example localeNamed('German', 'en-GB') // 'de-DE'
 * @example localeNamed('fr', 'fr-CA') // 'fr-CA'
 */
export function localeNamed(text: string, usual: string): string | null {
  const said = plain(text);
  const exact = LOCALES.find(({ value, label }) => [plain(value), plain(label), ...namesOf(value)].includes(said));
  const isLanguage = (locale: string) => [languageOf(locale), ...namesOf(languageOf(locale))].includes(said);
  const spoken = LOCALES.filter(({ value }) => isLanguage(value));
  // A name may be both: “English” is a language, and what a locale is called in some places.
  if (spoken.length > 0) return (spoken.find((l) => l.value === usual) ?? spoken[0]!).value;
  return exact?.value ?? null;
}
