import type { Chunk } from './chunkCodec.ts';

/** Columns for so many rows, to be filled. */
export const emptyChunk = (rows: number, dims: readonly string[], measures: readonly string[]): Chunk => ({
  days: new Int32Array(rows),
  dims: Object.fromEntries(dims.map((d) => [d, new Int32Array(rows)])),
  measures: Object.fromEntries(measures.map((m) => [m, new Float64Array(rows)])),
});

/** Row numbers by day, then by codes: the same rows always give the same bytes. */
export function orderOf(chunk: Chunk, rows: number): Uint32Array {
  const keys = [chunk.days, ...Object.values(chunk.dims)];
  const spans = keys.map((k) => k.reduce((most, v) => Math.max(most, v), 0) + 1);
  const order = new Uint32Array(rows);
  // One number for each row when they all fit: sorting numbers is several times faster than comparing columns.
  if (spans.reduce((n, s) => n * s, rows) < Number.MAX_SAFE_INTEGER) {
    const packed = new Float64Array(rows);
    for (let i = 0; i < rows; i++) {
      let key = 0;
      for (let k = 0; k < keys.length; k++) key = key * spans[k]! + keys[k]![i]!;
      packed[i] = key * rows + i;
    }
    packed.sort();
    for (let i = 0; i < rows; i++) order[i] = packed[i]! % rows;
    return order;
  }
  for (let i = 0; i < rows; i++) order[i] = i;
  return order.sort((a, b) => {
    for (const k of keys) if (k[a] !== k[b]) return k[a]! - k[b]!;
    return a - b;
  });
}

/** The values that `order` names, in its order; a loop, since `from` with a function is several times slower. */
function picked<T extends Int32Array | Float64Array>(column: T, order: Uint32Array, out: T): T {
  for (let i = 0; i < order.length; i++) out[i] = column[order[i]!]!;
  return out;
}

/** A chunk of the rows that `order` names, in its order. */
export function pick(chunk: Chunk, order: Uint32Array): Chunk {
  const n = order.length;
  const map = <T>(columns: Record<string, T>, take: (c: T) => T) =>
    Object.fromEntries(Object.entries(columns).map(([name, c]) => [name, take(c)]));
  return {
    days: picked(chunk.days, order, new Int32Array(n)),
    dims: map(chunk.dims, (c) => picked(c, order, new Int32Array(n))),
    measures: map(chunk.measures, (c) => picked(c, order, new Float64Array(n))),
  };
}

/** Rows of `a`, then those of `b`; both have the same columns. */
export function joined(a: Chunk, b: Chunk): Chunk {
  const ints = (x: Int32Array, y: Int32Array) => {
    const out = new Int32Array(x.length + y.length);
    out.set(x);
    out.set(y, x.length);
    return out;
  };
  return {
    days: ints(a.days, b.days),
    dims: Object.fromEntries(Object.entries(b.dims).map(([d, codes]) => [d, ints(a.dims[d]!, codes)])),
    measures: Object.fromEntries(
      Object.entries(b.measures).map(([m, values]) => {
        const out = new Float64Array(a.days.length + values.length);
        out.set(a.measures[m]!);
        out.set(values, a.days.length);
        return [m, out];
      }),
    ),
  };
}
