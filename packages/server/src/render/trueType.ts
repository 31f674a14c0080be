/** A TrueType file opened for taking glyphs out of it (OpenType 1.9, `glyf` outlines). */
/** Embedding permissions of OS/2 (OpenType 1.9, fsType): whole or not at all. */
const NO_SUBSETTING = 0x0100;

export interface TrueType {
  data: Uint8Array;
  /** Whether its maker allows that a part of it is embedded. */
  mayBeParted: boolean;
  unitsPerEm: number;
  /** Font units, as the PDF's font descriptor wants them. */
  metrics: {
    ascent: number;
    descent: number;
    capHeight: number;
    bbox: [number, number, number, number];
    italicAngle: number;
  };
  advanceOf(glyph: number): number;
  /** A font file that holds `glyphs` in this order (after .notdef, glyph 0) with the parts that they are made of. */
  subset(glyphs: readonly number[]): Uint8Array;
}

const COPIED = ['cvt ', 'fpgm', 'prep'];

/** Component flags of a composite glyph. */
const WORDS = 0x0001;
const SCALE = 0x0008;
const MORE = 0x0020;
const XY_SCALE = 0x0040;
const TWO_BY_TWO = 0x0080;

/** Byte offsets, within a composite glyph, of the glyph numbers that it is made of. */
export function componentOffsets(glyph: DataView): number[] {
  if (glyph.byteLength === 0 || glyph.getInt16(0) >= 0) return [];
  const offsets: number[] = [];
  let at = 10;
  for (;;) {
    const flags = glyph.getUint16(at);
    offsets.push(at + 2);
    at += 4 + (flags & WORDS ? 4 : 2);
    if (flags & SCALE) at += 2;
    else if (flags & XY_SCALE) at += 4;
    else if (flags & TWO_BY_TWO) at += 8;
    if (!(flags & MORE)) return offsets;
  }
}

function checksum(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let sum = 0;
  const whole = bytes.length & ~3;
  for (let i = 0; i < whole; i += 4) sum = (sum + view.getUint32(i)) >>> 0;
  let tail = 0;
  for (let i = whole; i < bytes.length; i++) tail |= bytes[i]! << (24 - 8 * (i - whole));
  return (sum + tail) >>> 0;
}

/** Tables in order of tag, each on a multiple of four bytes, under a fresh directory. */
/** Puts tables together as a font file (OpenType 1.9, the table directory). */
export function assemble(tables: [string, Uint8Array][]): Uint8Array {
  tables.sort(([a], [b]) => (a < b ? -1 : 1));
  const head = 12 + 16 * tables.length;
  const size = tables.reduce((n, [, t]) => n + ((t.length + 3) & ~3), head);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  const power = 2 ** Math.floor(Math.log2(tables.length));
  view.setUint32(0, 0x00010000);
  view.setUint16(4, tables.length);
  view.setUint16(6, power * 16);
  view.setUint16(8, Math.log2(power));
  view.setUint16(10, (tables.length - power) * 16);
  let at = head;
  tables.forEach(([tag, bytes], i) => {
    const entry = 12 + 16 * i;
    for (let c = 0; c < 4; c++) out[entry + c] = tag.charCodeAt(c);
    view.setUint32(entry + 4, checksum(bytes));
    view.setUint32(entry + 8, at);
    view.setUint32(entry + 12, bytes.length);
    out.set(bytes, at);
    at += (bytes.length + 3) & ~3;
  });
  return out;
}

/** @throws Error when the file has no `glyf` outlines */
export function openTrueType(data: Uint8Array): TrueType {
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const tables = new Map<string, Uint8Array>();
  for (let i = 0; i < view.getUint16(4); i++) {
    const at = 12 + 16 * i;
    const tag = String.fromCharCode(...data.subarray(at, at + 4));
    const start = view.getUint32(at + 8);
    tables.set(tag, data.subarray(start, start + view.getUint32(at + 12)));
  }
  const table = (tag: string): DataView => {
    const bytes = tables.get(tag);
    if (!bytes) throw new Error(`the font has no ${tag} table`);
    return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  };
  const [head, hhea, hmtx, loca] = ['head', 'hhea', 'hmtx', 'loca'].map(table) as [
    DataView,
    DataView,
    DataView,
    DataView,
  ];
  const glyf = tables.get('glyf');
  if (!glyf) throw new Error('the font has no glyf table');
  const longLoca = head.getInt16(50) === 1;
  const longMetrics = hhea.getUint16(34);
  const offsetOf = (g: number) => (longLoca ? loca.getUint32(g * 4) : loca.getUint16(g * 2) * 2);
  const outline = (g: number) => glyf.subarray(offsetOf(g), offsetOf(g + 1));
  const advanceOf = (g: number) => hmtx.getUint16(Math.min(g, longMetrics - 1) * 4);
  const bearingOf = (g: number) =>
    g < longMetrics ? hmtx.getInt16(g * 4 + 2) : hmtx.getInt16(longMetrics * 4 + (g - longMetrics) * 2);
  // A subset has no use for glyph names, and so no such table.
  const italicAngle = tables.has('post') ? table('post').getInt32(4) / 65536 : 0;

  // Since version 2 of the table; a face of before, or of a script without capitals, has letters as high as usual.
  const os2 = tables.has('OS/2') ? table('OS/2') : null;
  const capHeight = os2 && os2.getUint16(0) >= 2 ? os2.getInt16(88) : 0;

  function subset(glyphs: readonly number[]): Uint8Array {
    const order = [0, ...glyphs];
    const placeOf = new Map<number, number>();
    order.forEach((g, i) => {
      if (!placeOf.has(g)) placeOf.set(g, i);
    });
    const outlines: Uint8Array[] = [];
    for (let i = 0; i < order.length; i++) {
      const bytes = outline(order[i]!).slice();
      const glyph = new DataView(bytes.buffer);
      for (const at of componentOffsets(glyph)) {
        const part = glyph.getUint16(at);
        if (!placeOf.has(part)) {
          placeOf.set(part, order.length);
          order.push(part);
        }
        glyph.setUint16(at, placeOf.get(part)!);
      }
      outlines.push(bytes);
    }
    const n = order.length;
    const padded = outlines.map((o) => (o.length + 3) & ~3);
    const newGlyf = new Uint8Array(padded.reduce((a, b) => a + b, 0));
    const newLoca = new DataView(new ArrayBuffer((n + 1) * 4));
    const newHmtx = new DataView(new ArrayBuffer(n * 4));
    let at = 0;
    order.forEach((g, i) => {
      newGlyf.set(outlines[i]!, at);
      newLoca.setUint32(i * 4, at);
      newHmtx.setUint16(i * 4, advanceOf(g));
      newHmtx.setInt16(i * 4 + 2, bearingOf(g));
      at += padded[i]!;
    });
    newLoca.setUint32(n * 4, at);
    const copy = (tag: string) => tables.get(tag)!.slice();
    const newHead = copy('head');
    new DataView(newHead.buffer).setUint32(8, 0);
    new DataView(newHead.buffer).setInt16(50, 1);
    const newHhea = copy('hhea');
    new DataView(newHhea.buffer).setUint16(34, n);
    const newMaxp = copy('maxp');
    new DataView(newMaxp.buffer).setUint16(4, n);
    const bytesOf = (v: DataView) => new Uint8Array(v.buffer);
    return assemble([
      ['head', newHead],
      ['hhea', newHhea],
      ['maxp', newMaxp],
      ['loca', bytesOf(newLoca)],
      ['hmtx', bytesOf(newHmtx)],
      ['glyf', newGlyf],
      ...COPIED.filter((t) => tables.has(t)).map((t): [string, Uint8Array] => [t, tables.get(t)!]),
    ]);
  }

  return {
    data,
    mayBeParted: ((os2?.getUint16(8) ?? 0) & NO_SUBSETTING) === 0,
    unitsPerEm: head.getUint16(18),
    metrics: {
      ascent: hhea.getInt16(4),
      descent: hhea.getInt16(6),
      capHeight: capHeight > 0 ? capHeight : Math.round(hhea.getInt16(4) * 0.7),
      bbox: [36, 38, 40, 42].map((o) => head.getInt16(o)) as [number, number, number, number],
      italicAngle,
    },
    advanceOf,
    subset,
  };
}
