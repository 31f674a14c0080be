import { isCurrency } from './currencies.ts';
import type { InspectedColumn } from './inspect.ts';
import type { FileMapping } from './mapping.ts';

/**
 * What would add money of two currencies, by the column at fault; null when nothing would (SEMANTICS §13).
 * @param currency the client's
 * @param isMoney whether a measure is money
 */
export function currencyFault(
  columns: readonly InspectedColumn[],
  mapping: FileMapping,
  currency: string,
  isMoney: (measure: string) => boolean,
): { column: string; message: string } | null {
  const useOf = (name: string) => (Object.hasOwn(mapping.columns, name) ? mapping.columns[name]! : null);
  const holdsMoney = (name: string): boolean => {
    const use = useOf(name);
    return use?.as === 'measure' && isMoney(use.key);
  };
  const rated = new Set((mapping.rates ?? []).map((r) => r.currency));
  const anyMoney = columns.some((c) => holdsMoney(c.name));
  const hasColumn = columns.some((c) => useOf(c.name)?.as === 'currency');
  for (const { name, currency: named, currencies } of columns) {
    const use = useOf(name);
    const converted = use?.as === 'measure' ? use.currency : undefined;
    if (converted !== undefined && !rated.has(converted)) {
      return { column: name, message: `Enter a rate to convert ${converted} to ${currency}.` };
    }
    if (named !== undefined && converted === undefined && holdsMoney(name) && !mapping.ownMoney?.includes(name)) {
      const message = `Its heading or format says ${named}, but the client uses ${currency}. Convert it, skip it, confirm that it is in ${currency}, or import it as a plain number.`;
      return { column: name, message };
    }
    const others = (currencies ?? []).filter((c) => !isCurrency(c, currency));
    if (others.length === 0 || !anyMoney) continue;
    if (useOf(name)?.as !== 'currency' && !hasColumn) {
      return {
        column: name,
        message: `It names ${others.join(', ')}. Use it as the currency column so different currencies aren’t added.`,
      };
    }
    if (useOf(name)?.as === 'currency' && mapping.otherCurrency === undefined) {
      return {
        column: name,
        message: `Choose what to do with rows in ${others.join(', ')}: convert, import into a separate feed, skip, or mark as incomplete.`,
      };
    }
    const without = mapping.otherCurrency === 'converted' ? others.filter((c) => !rated.has(c)) : [];
    if (useOf(name)?.as === 'currency' && without.length > 0) {
      return { column: name, message: `Enter a rate to convert ${without.join(', ')} to ${currency}.` };
    }
  }
  return null;
}
