import { LRUCache } from 'lru-cache';

/** Nobody changes what others read, too. */
export function frozen<T>(value: T): T {
  if (value !== null && typeof value === 'object' && !Object.isFrozen(value)) {
    Object.freeze(value);
    for (const inner of Object.values(value)) frozen(inner);
  }
  return value;
}

/**
 * Reads stored texts, each of them once: a run reads the same report and the same client many times on its way.
 * @param characters that are kept at most, of the texts read last
 * @param read throws for what it cannot read, which is not kept
 */
export function readOnce<T extends object>(
  characters: number,
  read: (text: string, what: string) => T,
): (text: string, what: string) => T {
  const kept = new LRUCache<string, T>({ maxSize: characters, sizeCalculation: (_, text) => text.length });
  return (text, what) => {
    const known = kept.get(text);
    if (known) return known;
    const value = frozen(read(text, what));
    kept.set(text, value);
    return value;
  };
}
