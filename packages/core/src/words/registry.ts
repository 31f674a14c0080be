import { de } from './de.ts';
import { en, englishIn } from './en.ts';
import { es } from './es.ts';
import { fr, frenchIn } from './fr.ts';
import { he } from './he.ts';
import { it } from './it.ts';
import { nl } from './nl.ts';
import { pl } from './pl.ts';
import { ru } from './ru.ts';
import type { Words } from './words.ts';

/** Report languages by primary subtag (RFC 5646 §2.2.1). */
const LANGUAGES: Record<string, Words> = { en, de, fr, es, it, pl, ru, nl, he };

/** What regions say otherwise, by locale. */
const REGIONS = new Map(
  Object.entries({ ...englishIn, ...frenchIn }).map(([locale, own]): [string, Words] => [
    locale.toLowerCase(),
    { ...LANGUAGES[locale.split('-')[0]!]!, ...own },
  ]),
);

/** Locales that a client may be given, as they are offered. */
export const LOCALES: Words['locales'] = Object.values(LANGUAGES).flatMap((words) => words.locales);

/** @throws RangeError for a language that Chronicon does not speak */
export function wordsFor(locale: string): Words {
  const words = REGIONS.get(locale.toLowerCase()) ?? LANGUAGES[locale.split('-')[0]!.toLowerCase()];
  if (!words) throw new RangeError(`no words for ${locale}`);
  return words;
}
