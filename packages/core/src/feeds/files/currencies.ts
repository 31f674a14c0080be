import type { Cell } from './cell.ts';

const symbols = new Map<string, Set<string>>();

/** The signs that may stand for a currency: `$` for each kind of dollar, `€`, `kr.`. */
function signsOf(currency: string): Set<string> {
  const known = symbols.get(currency);
  if (known) return known;
  const signs = new Set([currency]);
  for (const currencyDisplay of ['symbol', 'narrowSymbol'] as const) {
    const parts = new Intl.NumberFormat('en', { style: 'currency', currency, currencyDisplay }).formatToParts(1);
    for (const p of parts)
      if (p.type === 'currency') for (const sign of p.value.match(/\p{Sc}/gu) ?? []) signs.add(sign);
  }
  symbols.set(currency, signs);
  return signs;
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
