import type { LRUCache } from 'lru-cache';

/** What `make` gave for a key before, or gives now. */
export function fromCache<V extends object | string>(cache: LRUCache<string, V>, key: string, make: () => V): V {
  const found = cache.get(key);
  if (found !== undefined) return found;
  const made = make();
  cache.set(key, made);
  return made;
}
