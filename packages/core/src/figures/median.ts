/** Sorts the first `n` values in place; there are few. */
function sortFirst(values: Float64Array, n: number): void {
  for (let i = 1; i < n; i++) {
    const v = values[i]!;
    let j = i - 1;
    for (; j >= 0 && values[j]! > v; j--) values[j + 1] = values[j]!;
    values[j + 1] = v;
  }
}

/** The median of the first `n` values (1 at least), which it leaves sorted. */
export function medianOf(values: Float64Array, n: number): number {
  if (n > 40) values.subarray(0, n).sort();
  else sortFirst(values, n);
  const mid = n >> 1;
  return n % 2 === 1 ? values[mid]! : (values[mid - 1]! + values[mid]!) / 2;
}
