import { z } from 'zod';
import { stored } from '../store/stored.ts';

/** Rows of one month as columns. Days count from 0, the month's first. */
export interface Chunk {
  days: Int32Array;
  /** Dimension codes by dimension. */
  dims: Record<string, Int32Array>;
  measures: Record<string, Float64Array>;
}

/** Raised when the layout changes; older bodies stay readable by their own version. */
const VERSION = 2;
/** Powers of ten tried for keeping decimals as whole numbers. */
const SCALES = [1, 10, 100, 1_000, 10_000];
const INT_MAX = 2_147_483_647;

/**
 * A column's place and form. Whole numbers lie as distances from the smallest one, in as few bytes as those take:
 * 0 bytes when all are alike. A value is (base + distance) / scale; `bytes` 8 marks plain float64.
 */
type ColumnHead = [name: string, bytes: 0 | 1 | 2 | 4 | 8, base: number, scale: number];

const columnHeads = stored<ColumnHead[]>(
  z.array(
    z.tuple([
      z.string(),
      z.union([z.literal(0), z.literal(1), z.literal(2), z.literal(4), z.literal(8)]),
      z.number(),
      z.number(),
    ]),
  ),
  'a month of figures',
);

type Numbers = Int32Array | Float64Array;

const widthFor = (spread: number): 0 | 1 | 2 | 4 => (spread === 0 ? 0 : spread < 0x100 ? 1 : spread < 0x1_0000 ? 2 : 4);

const DISTANCES = { 1: Uint8Array, 2: Uint16Array, 4: Uint32Array } as const;

function packInts(name: string, values: Int32Array, scale: number): [ColumnHead, Uint8Array] {
  let low = values[0] ?? 0;
  let high = low;
  for (let i = 1; i < values.length; i++) {
    const v = values[i]!;
    if (v < low) low = v;
    else if (v > high) high = v;
  }
  const width = widthFor(high - low);
  const head: ColumnHead = [name, width, low, scale];
  if (width === 0) return [head, new Uint8Array(0)];
  const out = new DISTANCES[width](values.length);
  for (let i = 0; i < values.length; i++) out[i] = values[i]! - low;
  return [head, new Uint8Array(out.buffer)];
}

/** Every value as a whole number of 32 bits over `scale` that gives it back exactly, or null. */
function wholeAt(values: Float64Array, scale: number): Int32Array | null {
  const out = new Int32Array(values.length);
  for (let i = 0; i < values.length; i++) {
    const v = values[i]!;
    const n = Math.round(v * scale);
    if (!(Math.abs(n) <= INT_MAX && n / scale === v) || Object.is(v, -0)) return null;
    out[i] = n;
  }
  return out;
}

function packMeasure(name: string, values: Float64Array): [ColumnHead, Uint8Array] {
  for (const scale of SCALES) {
    const whole = wholeAt(values, scale);
    if (whole) return packInts(name, whole, scale);
  }
  return [[name, 8, 0, 1], new Uint8Array(values.buffer, values.byteOffset, values.byteLength)];
}

/** Equal chunks give equal bytes. Column names must not collide between dimensions and measures. */
export function encodeChunk(chunk: Chunk): Buffer {
  const columns = [
    packInts('day', chunk.days, 1),
    ...Object.entries(chunk.dims).map(([name, codes]) => packInts(`d:${name}`, codes, 1)),
    ...Object.entries(chunk.measures).map(([name, values]) => packMeasure(`m:${name}`, values)),
  ];
  const head = Buffer.from(JSON.stringify(columns.map(([h]) => h)), 'utf8');
  const start = Buffer.alloc(9);
  start.writeUInt8(VERSION, 0);
  start.writeUInt32LE(head.length, 1);
  start.writeUInt32LE(chunk.days.length, 5);
  return Buffer.concat([start, head, ...columns.map(([, body]) => body)]);
}

/** A column's distances, copied out of the body so that they lie where numbers of their width may lie. */
const distancesAt = (body: Buffer, width: 1 | 2 | 4, at: number, rows: number) => {
  const start = body.byteOffset + at;
  return new DISTANCES[width](body.buffer.slice(start, start + rows * width) as ArrayBuffer);
};

function fillColumn(body: Buffer, [, width, base, scale]: ColumnHead, at: number, rows: number, out: Numbers): void {
  if (width === 8) {
    const start = body.byteOffset + at;
    out.set(new Float64Array(body.buffer.slice(start, start + rows * 8) as ArrayBuffer));
    return;
  }
  if (width === 0) {
    out.fill(base / scale);
    return;
  }
  const distances = distancesAt(body, width, at, rows);
  if (scale === 1) for (let i = 0; i < rows; i++) out[i] = base + distances[i]!;
  else for (let i = 0; i < rows; i++) out[i] = (base + distances[i]!) / scale;
}

/**
 * Decodes the columns of `out`, which hold as many rows as the body, or more from `at` on; a column that the chunk
 * lacks (added to the dataset later) reads as zeros. Days are moved by `firstDay`.
 * @returns how many rows the body holds
 * @throws Error for a body of an unknown version
 */
export function decodeInto(body: Buffer, out: Chunk, at = 0, firstDay = 0): number {
  if (body.readUInt8(0) !== VERSION) throw new Error(`unknown chunk version ${body.readUInt8(0)}`);
  const headEnd = 9 + body.readUInt32LE(1);
  const rows = body.readUInt32LE(5);
  let offset = headEnd;
  for (const head of columnHeads(body.toString('utf8', 9, headEnd))) {
    const name = head[0].slice(2);
    const column: Numbers | undefined =
      head[0] === 'day' ? out.days : head[0].startsWith('d:') ? out.dims[name] : out.measures[name];
    if (column) {
      if (head[0] === 'day') head[2] += firstDay;
      fillColumn(body, head, offset, rows, column.subarray(at, at + rows));
    }
    offset += head[1] * rows;
  }
  return rows;
}

/** Decodes the columns asked for, as {@link decodeInto}. */
export function decodeChunk(body: Buffer, dims: readonly string[], measures: readonly string[]): Chunk {
  const rows = body.readUInt32LE(5);
  const out: Chunk = {
    days: new Int32Array(rows),
    dims: Object.fromEntries(dims.map((d) => [d, new Int32Array(rows)])),
    measures: Object.fromEntries(measures.map((m) => [m, new Float64Array(rows)])),
  };
  decodeInto(body, out);
  return out;
}
