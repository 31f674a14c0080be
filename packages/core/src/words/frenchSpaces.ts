/** The same data with each text changed; what is no text, a function included, stays as it is. */
export function mapTexts<T>(value: T, change: (text: string) => string): T {
  if (typeof value === 'string') return change(value) as T;
  if (Array.isArray(value)) return value.map((v) => mapTexts(v, change)) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, of]) => [key, mapTexts(of, change)])) as T;
}

/**
 * French sets a space before a colon and within quotation marks, and a narrow one before a semicolon, none of which may end a
 * line (Imprimerie nationale). Texts are written with plain spaces, and get these.
 */
export const frenchSpaces = <T>(words: T): T =>
  mapTexts(words, (text) =>
    text
      .replaceAll(' :', '\u00a0:')
      .replaceAll(' ;', '\u202f;')
      .replaceAll('« ', '«\u00a0')
      .replaceAll(' »', '\u00a0»'),
  );
