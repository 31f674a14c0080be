import { ownOf } from '../bounds/index.ts';
import type { Words } from './words.ts';

/** Dimensions whose values the trade names alike. */
const TRADE = ['channel', 'device'];

let codes: Map<string, string> | null = null;
/** ISO 3166-1 codes by English name in small letters: feeds bring names as often as codes. */
function regionCodes(): Map<string, string> {
  if (codes) return codes;
  const english = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' });
  const found = new Map<string, string>();
  for (let a = 65; a <= 90; a++) {
    for (let b = 65; b <= 90; b++) {
      const code = String.fromCharCode(a, b);
      const name = english.of(code);
      if (name && !found.has(name.toLowerCase())) found.set(name.toLowerCase(), code);
    }
  }
  codes = found;
  return found;
}

/**
 * Names of the values of dimensions in a report's language: channels and devices as the trade calls them, countries by
 * Unicode's names, whether a feed brings them as names or as codes. Anything else is the client's own, and stays as it is.
 */
export function createValueNames(locale: string, words: Words): (dimension: string, label: string) => string {
  let regions: Intl.DisplayNames | null = null;
  return (dimension, label) => {
    const value = label.trim();
    if (value === '') return words.unnamed;
    const small = value.toLowerCase();
    if (TRADE.includes(dimension)) return ownOf(words.values, small) ?? value;
    if (dimension !== 'country') return value;
    const code = /^[A-Za-z]{2}$/.test(value) ? value.toUpperCase() : regionCodes().get(small);
    if (!code) return value;
    regions ??= new Intl.DisplayNames(locale, { type: 'region', fallback: 'none' });
    return regions.of(code) ?? value;
  };
}
