/** Numbers that come and go, kept in order for their median: of at most `room` at once. */
export class SortedWindow {
  private readonly values: Float64Array;
  private n = 0;

  constructor(room: number) {
    this.values = new Float64Array(room);
  }

  get size(): number {
    return this.n;
  }

  /** The place of the first value that is not smaller. */
  private placeOf(value: number): number {
    let [lo, hi] = [0, this.n];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (this.values[mid]! < value) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  }

  /** @throws RangeError when it is full */
  add(value: number): void {
    if (this.n === this.values.length) throw new RangeError('the window is full');
    const at = this.placeOf(value);
    // A loop is faster than a copy of the engine's, of so few.
    for (let i = this.n++; i > at; i--) this.values[i] = this.values[i - 1]!;
    this.values[at] = value;
  }

  /** @param value one that is there */
  remove(value: number): void {
    const at = this.placeOf(value);
    this.n--;
    for (let i = at; i < this.n; i++) this.values[i] = this.values[i + 1]!;
  }

  /** NaN where there are none. */
  median(): number {
    const mid = this.n >> 1;
    if (this.n === 0) return Number.NaN;
    return this.n % 2 === 1 ? this.values[mid]! : (this.values[mid - 1]! + this.values[mid]!) / 2;
  }
}
