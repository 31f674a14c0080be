/** By Unicode code points, not by UTF-16 units: the order of labels that tie (SEMANTICS §7). */
export function byCodePoint(a: string, b: string): number {
  const [x, y] = [[...a], [...b]];
  for (let i = 0; i < Math.min(x.length, y.length); i++) {
    const d = x[i]!.codePointAt(0)! - y[i]!.codePointAt(0)!;
    if (d !== 0) return d;
  }
  return x.length - y.length;
}

/** Order of two numbers that counts as equal what differs by rounding alone. */
export function compareClosely(a: number, b: number): number {
  return Math.abs(a - b) <= 1e-12 * Math.max(Math.abs(a), Math.abs(b)) ? 0 : a - b;
}
