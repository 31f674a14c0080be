import { deflateRawSync, inflateRawSync } from 'node:zlib';

/** Rows of one month as columns. Days count from 0, the month's first. */
export interface Chunk {
  days: Int32Array;
  /** Dimension codes by dimension. */
  dims: Record<string, Int32Array>;
  measures: Record<string, Float64Array>;
}

/** Raised when the layout changes; older bodies stay readable by their own version. */
const VERSION = 1;
/** Powers of ten tried for keeping decimals as whole numbers. */
const SCALES = [1, 10, 100, 1_000, 10_000];
const INT_MAX = 2_147_483_647;

interface ColumnHead {
  name: string;
  type: 'i32' | 'f64';
  /** Whole number over scale is the value. */
  scale: number;
  bytes: number;
}

/** Bytes of equal weight beside each other: small numbers leave runs of zeros, which deflate well. */
function toPlanes(bytes: Uint8Array, width: number): Uint8Array {
  const rows = bytes.length / width;
  const out = new Uint8Array(bytes.length);
  for (let b = 0; b < width; b++) for (let i = 0; i < rows; i++) out[b * rows + i] = bytes[i * width + b]!;
  return out;
}

function planesToInt32(planes: Uint8Array): Int32Array {
  const rows = planes.length / 4;
  const out = new Int32Array(rows);
  for (let i = 0; i < rows; i++) {
    out[i] = planes[i]! | (planes[rows + i]! << 8) | (planes[2 * rows + i]! << 16) | (planes[3 * rows + i]! << 24);
  }
  return out;
}

function planesToFloat64(planes: Uint8Array): Float64Array {
  const rows = planes.length / 8;
  const bytes = new Uint8Array(planes.length);
  for (let b = 0; b < 8; b++) for (let i = 0; i < rows; i++) bytes[i * 8 + b] = planes[b * rows + i]!;
  return new Float64Array(bytes.buffer);
}

const pack = (bytes: Uint8Array, width: number) => deflateRawSync(toPlanes(bytes, width), { level: 1 });
const bytesOf = (a: Int32Array | Float64Array) => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);

function packInts(name: string, values: Int32Array): [ColumnHead, Buffer] {
  const body = pack(bytesOf(values), 4);
  return [{ name, type: 'i32', scale: 1, bytes: body.length }, body];
}

/** The smallest scale at which every value is a whole number of 32 bits and comes back exactly, or null. */
function exactScale(values: Float64Array): number | null {
  return (
    SCALES.find((scale) =>
      values.every((v) => {
        const n = Math.round(v * scale);
        return Math.abs(n) <= INT_MAX && n / scale === v && !Object.is(v, -0);
      }),
    ) ?? null
  );
}

function packMeasure(name: string, values: Float64Array): [ColumnHead, Buffer] {
  const scale = exactScale(values);
  if (scale === null) {
    const body = pack(bytesOf(values), 8);
    return [{ name, type: 'f64', scale: 1, bytes: body.length }, body];
  }
  const body = pack(bytesOf(Int32Array.from(values, (v) => Math.round(v * scale))), 4);
  return [{ name, type: 'i32', scale, bytes: body.length }, body];
}

/** Equal chunks give equal bytes. Column names must not collide between dimensions and measures. */
export function encodeChunk(chunk: Chunk): Buffer {
  const columns = [
    packInts('day', chunk.days),
    ...Object.entries(chunk.dims).map(([name, codes]) => packInts(`d:${name}`, codes)),
    ...Object.entries(chunk.measures).map(([name, values]) => packMeasure(`m:${name}`, values)),
  ];
  const head = Buffer.from(JSON.stringify(columns.map(([h]) => h)), 'utf8');
  const start = Buffer.alloc(5);
  start.writeUInt8(VERSION, 0);
  start.writeUInt32LE(head.length, 1);
  return Buffer.concat([start, head, ...columns.map(([, body]) => body)]);
}

/**
 * Decodes the columns asked for; a column that the chunk lacks (added to the dataset later) reads as zeros.
 * @throws Error for a body of an unknown version
 */
export function decodeChunk(body: Buffer, dims: readonly string[], measures: readonly string[]): Chunk {
  if (body.readUInt8(0) !== VERSION) throw new Error(`unknown chunk version ${body.readUInt8(0)}`);
  const headEnd = 5 + body.readUInt32LE(1);
  const heads = JSON.parse(body.toString('utf8', 5, headEnd)) as ColumnHead[];
  const at = new Map<string, [ColumnHead, number]>();
  let offset = headEnd;
  for (const head of heads) {
    at.set(head.name, [head, offset]);
    offset += head.bytes;
  }
  const inflate = (name: string): [ColumnHead, Uint8Array] | null => {
    const found = at.get(name);
    if (!found) return null;
    const [head, start] = found;
    return [head, inflateRawSync(body.subarray(start, start + head.bytes))];
  };
  const days = planesToInt32(inflate('day')![1]);
  const ints = (name: string) => {
    const found = inflate(name);
    return found ? planesToInt32(found[1]) : new Int32Array(days.length);
  };
  const numbers = (name: string) => {
    const found = inflate(name);
    if (!found) return new Float64Array(days.length);
    const [head, planes] = found;
    if (head.type === 'f64') return planesToFloat64(planes);
    const whole = planesToInt32(planes);
    const out = new Float64Array(whole.length);
    for (let i = 0; i < whole.length; i++) out[i] = whole[i]! / head.scale;
    return out;
  };
  return {
    days,
    dims: Object.fromEntries(dims.map((d) => [d, ints(`d:${d}`)])),
    measures: Object.fromEntries(measures.map((m) => [m, numbers(`m:${m}`)])),
  };
}
