/**
 * Rows by a key, each group in their order; costs as much as there are rows.
 *
 * @example grouped(['ab', 'ac', 'b'], (s) => s[0]!) // Map { 'a' => ['ab', 'ac'], 'b' => ['b'] }
 */
export function grouped<T, K, V = T>(rows: Iterable<T>, keyOf: (row: T) => K, pick?: (row: T) => V): Map<K, V[]> {
  const found = new Map<K, V[]>();
  for (const row of rows) {
    const key = keyOf(row);
    const value = pick ? pick(row) : (row as unknown as V);
    const group = found.get(key);
    if (group) group.push(value);
    else found.set(key, [value]);
  }
  return found;
}
