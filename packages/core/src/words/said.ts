/** Values that a text takes, by the names of its places. */
export type Given = Readonly<Record<string, string | number>>;

/**
 * A text in one language: a template with `{name}` for each value, or a function where a word changes with a value
 * (an article, an ending).
 */
export type Said = string | ((given: Given) => string);

/**
 * A text in the forms that its language has for a number (Intl.PluralRules: English `one` and `other`, Polish `one`, `few`,
 * `many`, `other`). `{count}` is the number.
 */
export type Forms = Partial<Record<Intl.LDMLPluralRule, Said>> & { readonly other: Said };

/**
 * Puts values into a text.
 * @example fill('{metric} by {dimension}', { metric: 'Visits', dimension: 'channel' }) // 'Visits by channel'
 */
export const fill = (text: Said, given: Given): string =>
  typeof text === 'function'
    ? text(given)
    : text.replace(/\{(\w+)\}/g, (_, name: string) => (Object.hasOwn(given, name) ? String(given[name]) : ''));
