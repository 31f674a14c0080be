import { keyOfName } from './keyOfName.ts';
import type { FileMapping } from './mapping.ts';

/** What of a feed in another currency is called, behind its name. */
export const inCurrency = (name: string, currency: string): string => `${name} (${currency})`;

/**
 * How the rows of one currency are read into a feed of their own: as the others, but each figure is one of its own, for money
 * of two currencies is never added, and one figure never comes out of two places (SEMANTICS §13).
 * @returns also the keys that its figures had, by those that they have now
 */
export function splitMapping(
  mapping: FileMapping,
  currency: string,
): { mapping: FileMapping; was: Map<string, string> } {
  const was = new Map<string, string>();
  const ownKey = (key: string): string => {
    // A sign has no letters: what stands for it is told by its place in the table of characters.
    const behind = /^[A-Za-z]+$/.test(currency)
      ? currency[0]!.toUpperCase() + currency.slice(1).toLowerCase()
      : `U${currency.codePointAt(0)!.toString(16)}`;
    const own = keyOfName(`${key.slice(0, 40 - behind.length)}${behind}`);
    was.set(own, key);
    return own;
  };
  const columns = Object.fromEntries(
    Object.entries(mapping.columns).map(([name, use]) => [
      name,
      use.as === 'measure' ? { ...use, key: ownKey(use.key) } : use,
    ]),
  );
  const { otherCurrency: _, splitInto: __, rates: ___, ...rest } = mapping;
  return { mapping: { ...rest, columns, onlyCurrency: currency }, was };
}
