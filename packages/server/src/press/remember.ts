/** What `make` gave for a key before, or gives now. Past `limit` entries the oldest go. */
export function remember<V>(cache: Map<string, V>, key: string, limit: number, make: () => V): V {
  const found = cache.get(key);
  if (found !== undefined) return found;
  const made = make();
  if (cache.size >= limit) cache.delete(cache.keys().next().value as string);
  cache.set(key, made);
  return made;
}
