import cubic2quad from 'cubic2quad';
import type * as hb from 'harfbuzzjs';

/** A point of a contour, in font units; `on` the curve or steering it. */
interface Point {
  x: number;
  y: number;
  on: boolean;
}

/** How far a curve may be off, as a part of the em: a hundredth of a point at 30 pt. */
const OFF = 1 / 3_000;

const FLAG = { on: 0x01, xShort: 0x02, yShort: 0x04, xSame: 0x10, ySame: 0x20 };

/** The contours of a path of M, L, Q, C and Z, curves as quadratic ones. */
function contoursOf(path: string, precision: number): Point[][] {
  const contours: Point[][] = [];
  let [x, y] = [0, 0];
  for (const [, command, rest] of path.matchAll(/([MLQCZ])([^MLQCZ]*)/g)) {
    const n = (rest!.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number);
    const contour = contours.at(-1);
    if (command === 'M') contours.push([{ x: n[0]!, y: n[1]!, on: true }]);
    if (command === 'L') contour!.push({ x: n[0]!, y: n[1]!, on: true });
    if (command === 'Q') contour!.push({ x: n[0]!, y: n[1]!, on: false }, { x: n[2]!, y: n[3]!, on: true });
    if (command === 'C') {
      const quads = cubic2quad(x, y, n[0]!, n[1]!, n[2]!, n[3]!, n[4]!, n[5]!, precision);
      for (let i = 2; i + 3 < quads.length; i += 4)
        contour!.push({ x: quads[i]!, y: quads[i + 1]!, on: false }, { x: quads[i + 2]!, y: quads[i + 3]!, on: true });
    }
    if (n.length >= 2) [x, y] = n.slice(-2) as [number, number];
  }
  return contours
    .map((points) => {
      const whole = points.map((p) => ({ ...p, x: Math.round(p.x), y: Math.round(p.y) }));
      // A contour is closed of itself.
      const [first, last] = [whole[0]!, whole.at(-1)!];
      return whole.length > 1 && last.on && first.x === last.x && first.y === last.y ? whole.slice(0, -1) : whole;
    })
    .filter((points) => points.length > 2);
}

interface Written {
  bytes: Uint8Array;
  xMin: number;
  points: number;
  contours: number;
}

/** A glyph of the glyf table (OpenType 1.9): without hints, its contours one after the other. */
function writeGlyph(contours: readonly Point[][]): Written {
  const all = contours.flat();
  if (all.length === 0) return { bytes: new Uint8Array(0), xMin: 0, points: 0, contours: 0 };
  const [xs, ys] = [all.map((p) => p.x), all.map((p) => p.y)];
  const box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  const out: number[] = [];
  const word = (v: number) => out.push((v >> 8) & 0xff, v & 0xff);
  word(contours.length);
  box.forEach(word);
  let end = -1;
  for (const c of contours) {
    end += c.length;
    word(end);
  }
  word(0);
  const steps = all.map((p, i) => ({ dx: p.x - (all[i - 1]?.x ?? 0), dy: p.y - (all[i - 1]?.y ?? 0), on: p.on }));
  const flagOf = (d: number, short: number, same: number) =>
    d === 0 ? same : Math.abs(d) < 256 ? short | (d > 0 ? same : 0) : 0;
  for (const { dx, dy, on } of steps)
    out.push((on ? FLAG.on : 0) | flagOf(dx, FLAG.xShort, FLAG.xSame) | flagOf(dy, FLAG.yShort, FLAG.ySame));
  const put = (d: number) => {
    if (d === 0) return;
    if (Math.abs(d) < 256) out.push(Math.abs(d));
    else word(d);
  };
  for (const { dx } of steps) put(dx);
  for (const { dy } of steps) put(dy);
  return { bytes: Uint8Array.from(out), xMin: box[0]!, points: all.length, contours: contours.length };
}

/** The tables that draw, from a font whose outlines are of another kind. */
export interface Outlines {
  glyf: Uint8Array;
  loca: Uint8Array;
  maxp: Uint8Array;
  /** Where each glyph begins, left of or beside its origin. */
  bearings: number[];
}

/** Outlines of cubic curves (CFF) as the quadratic ones that a page is drawn with. */
export function quadraticOutlines(font: hb.Font, count: number, unitsPerEm: number): Outlines {
  const glyphs = Array.from({ length: count }, (_, g) => writeGlyph(contoursOf(font.glyphToPath(g), unitsPerEm * OFF)));
  const padded = glyphs.map((g) => (g.bytes.length + 3) & ~3);
  const glyf = new Uint8Array(padded.reduce((a, b) => a + b, 0));
  const loca = new DataView(new ArrayBuffer((count + 1) * 4));
  let at = 0;
  glyphs.forEach((g, i) => {
    loca.setUint32(i * 4, at);
    glyf.set(g.bytes, at);
    at += padded[i]!;
  });
  loca.setUint32(count * 4, at);
  const maxp = new DataView(new ArrayBuffer(32));
  const most = (of: (g: Written) => number) => glyphs.reduce((n, g) => Math.max(n, of(g)), 0);
  maxp.setUint32(0, 0x0001_0000);
  maxp.setUint16(4, count);
  maxp.setUint16(
    6,
    most((g) => g.points),
  );
  maxp.setUint16(
    8,
    most((g) => g.contours),
  );
  maxp.setUint16(14, 2);
  return {
    glyf,
    loca: new Uint8Array(loca.buffer),
    maxp: new Uint8Array(maxp.buffer),
    bearings: glyphs.map((g) => g.xMin),
  };
}
