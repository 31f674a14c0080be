import { de } from './de.ts';
import { en } from './en.ts';
import { fr } from './fr.ts';
import type { Words } from './words.ts';

/** Report languages by primary subtag (RFC 5646 §2.2.1). */
const LANGUAGES: Record<string, Words> = { en, de, fr };

/** Locales that a client may be given, as offered. */
export const LOCALES: readonly { tag: string; label: string }[] = [
  { tag: 'en-GB', label: 'English (United Kingdom)' },
  { tag: 'en-IE', label: 'English (Ireland)' },
  { tag: 'en-CA', label: 'English (Canada)' },
  { tag: 'en-US', label: 'English (United States)' },
  { tag: 'de-DE', label: 'Deutsch (Deutschland)' },
  { tag: 'de-AT', label: 'Deutsch (Österreich)' },
  { tag: 'fr-FR', label: 'Français (France)' },
  { tag: 'fr-CA', label: 'Français (Canada)' },
];

/** @throws RangeError for a language that Chronicon does not speak */
export function wordsFor(locale: string): Words {
  const words = LANGUAGES[locale.split('-')[0]!.toLowerCase()];
  if (!words) throw new RangeError(`no words for ${locale}`);
  return words;
}

/** Puts values into a text's `{name}` places. */
export const fill = (text: string, values: Record<string, string | number>): string =>
  text.replace(/\{(\w+)\}/g, (_, name: string) => String(values[name] ?? ''));
