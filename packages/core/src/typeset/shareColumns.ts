/** What a column of a table wants, in points. */
export interface ColumnWish {
  /** Narrower than this it would be cut. */
  least: number;
  /** Wider than this it gains nothing. */
  natural: number;
}

/**
 * Widths of columns that have `room` points together, gaps not counted: what each needs, and of what it wants beyond
 * that the same share as every other.
 * @returns null where there is not enough for what they need
 */
export function shareColumns(wishes: readonly ColumnWish[], room: number): number[] | null {
  const needed = wishes.reduce((sum, w) => sum + w.least, 0);
  if (needed > room + 1e-9) return null;
  const wanted = wishes.reduce((sum, w) => sum + Math.max(0, w.natural - w.least), 0);
  const share = wanted === 0 ? 0 : Math.min(1, Math.max(0, (room - needed) / wanted));
  return wishes.map((w) => w.least + Math.max(0, w.natural - w.least) * share);
}
