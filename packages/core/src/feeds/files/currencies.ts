import type { Cell } from './cell.ts';

const symbols = new Map<string, Set<string>>();

/** The signs that may stand for a currency: `$` for each kind of dollar, `€`, `kr.`. */
function signsOf(currency: string): Set<string> {
  const known = symbols.get(currency);
  if (known) return known;
  const signs = new Set([currency]);
  // A file may name a currency by its sign alone.
  if (!CODES.has(currency)) return signs;
  for (const currencyDisplay of ['symbol', 'narrowSymbol'] as const) {
    const parts = new Intl.NumberFormat('en', { style: 'currency', currency, currencyDisplay }).formatToParts(1);
    for (const p of parts)
      if (p.type === 'currency') for (const sign of p.value.match(/\p{Sc}/gu) ?? []) signs.add(sign);
  }
  symbols.set(currency, signs);
  return signs;
}

/** Codes of currencies (ISO 4217) as `Intl` knows them. */
const CODES: ReadonlySet<string> = new Set(Intl.supportedValuesOf('currency'));
/** Codes that no other word of a heading is written like: they count in any case, and without brackets. */
const PLAIN_CODES: ReadonlySet<string> = new Set(
  'AED AUD BRL CAD CHF CNY CZK DKK EUR GBP HKD HUF ILS INR JPY KRW MXN NOK NZD PLN RUB SEK SGD UAH USD ZAR'.split(' '),
);
const CURRENCY_HEADING = /currenc|währung|waehrung|devise|moneda|divisa|valuta|walut|валют|מטבע/iu;

/** The currency that text says alone, as a code or a sign; null for anything else. */
function currencyAlone(text: string): string | null {
  const said = text.trim();
  const code = said.toUpperCase();
  if (CODES.has(code) && (said === code || PLAIN_CODES.has(code))) return code;
  return /^[A-Z]{0,3}(\p{Sc})$/u.exec(said)?.[1] ?? null;
}

/** How files may name a currency: its code, and its signs. */
export const signsFor = (currency: string): string[] => [...signsOf(currency)];

/** Whether a code or a sign stands for a currency: `$` for each kind of dollar. */
export const isCurrency = (named: string, currency: string): boolean => signsOf(currency).has(named);

/**
 * The currency that a heading names, as a code or a sign: in brackets, by a sign, or as a word of its own at either end.
 *
 * @example currencyOfHeading('Cost (USD)') // 'USD'
 * @example currencyOfHeading('spend_eur') // 'EUR'
 * @example currencyOfHeading('Top pages') // null
 */
export function currencyOfHeading(name: string): string | null {
  for (const [, inside] of name.matchAll(/[([{]\s*(?:in\s+)?([^)\]}]{1,6})[)\]}]/gi)) {
    const named = currencyAlone(inside!);
    if (named !== null) return named;
  }
  const sign = /\p{Sc}/u.exec(name)?.[0];
  if (sign !== undefined) return sign;
  const words = name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .split(/[^A-Za-z]+/)
    .filter((w) => w !== '');
  if (words.length < 2) return null;
  return [words.at(-1)!, words[0]!].map((w) => w.toUpperCase()).find((w) => PLAIN_CODES.has(w)) ?? null;
}

/** The currencies that a column names, each once, where it holds nothing else; null for any other column. */
export function currenciesOf(name: string, samples: readonly Cell[]): string[] | null {
  const found = samples.map((s) => (typeof s === 'string' ? currencyAlone(s) : null));
  const known = found.filter((c) => c !== null);
  if (known.length === 0 || known.length < samples.length * 0.9) return null;
  if (!CURRENCY_HEADING.test(name) && !known.every((c) => PLAIN_CODES.has(c))) return null;
  return [...new Set(known)];
}

const isDigit = (code: number): boolean => code >= 48 && code <= 57;

/** Digits at both ends: most cells, which name nothing. */
const isBare = (cell: string): boolean => isDigit(cell.charCodeAt(0)) && isDigit(cell.charCodeAt(cell.length - 1));

/** The currency that a cell names by a sign or a code of three letters (ISO 4217), when it is another one; else null. */
export function otherCurrency(cell: Cell, currency: string): string | null {
  if (typeof cell !== 'string' || isBare(cell)) return null;
  const named =
    /\p{Sc}/u.exec(cell)?.[0] ?? /(?:^|[\d\s])([A-Z]{3})\s*$|^\s*([A-Z]{3})[\s\d]/.exec(cell)?.slice(1).find(Boolean);
  return named === undefined || signsOf(currency).has(named) ? null : named;
}
