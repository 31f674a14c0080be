import { createFormatter, type Formatter } from './formatter.ts';

const formatters = new Map<string, Formatter>();

/** Formatters are slow to build and hold no state: one for each language and currency. */
export function formatterOf(language: string, currency: string): Formatter {
  const key = `${language} ${currency}`;
  const found = formatters.get(key) ?? createFormatter(language, currency);
  formatters.set(key, found);
  return found;
}
