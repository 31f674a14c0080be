import type { Words } from './words.ts';

/**
 * A name as it stands within a sentence or a title: its first letter small where the language writes nouns small, unless the
 * name begins with an abbreviation.
 * @example inText('Ad spend', words, 'en-GB') // 'ad spend'; 'CTR in search' and 'iOS' stay
 */
export function inText(name: string, { smallNouns }: Pick<Words, 'smallNouns'>, locale: string): string {
  const [first = '', second = ''] = [...name];
  const isWord = first !== first.toLocaleLowerCase(locale) && second !== second.toLocaleUpperCase(locale);
  // A single letter is a word too: “E-mail”.
  const isLetterAlone = /^\p{Lu}-\p{Ll}/u.test(name);
  return smallNouns && (isWord || isLetterAlone) ? first.toLocaleLowerCase(locale) + name.slice(first.length) : name;
}

/** A text with its first letter large, as it begins a line. */
export const atHead = (text: string, locale: string): string => {
  const [first = ''] = [...text];
  return first.toLocaleUpperCase(locale) + text.slice(first.length);
};

/** A metric's name in both of its forms, for texts that take `{metric}` at their head or `{within}`. */
export const nameForms = (label: string, { words, locale }: { words: Pick<Words, 'smallNouns'>; locale: string }) => ({
  metric: label,
  within: inText(label, words, locale),
});
