import * as hb from 'harfbuzzjs';
import { assemble } from '../render/trueType.ts';
import { tablesOf, viewOf } from '../workers/typeface/tables.ts';

/** An integer of a DICT or a charstring, in five bytes or fewer (Adobe TN 5176 §4, 5177 §3.2). */
function integer(v: number, inCharstring: boolean): number[] {
  if (v >= -107 && v <= 107) return [v + 139];
  if (v >= 108 && v <= 1131) return [((v - 108) >> 8) + 247, (v - 108) & 0xff];
  if (v >= -1131 && v <= -108) return [((-v - 108) >> 8) + 251, (-v - 108) & 0xff];
  return inCharstring
    ? [28, (v >> 8) & 0xff, v & 0xff]
    : [29, (v >> 24) & 0xff, (v >> 16) & 0xff, (v >> 8) & 0xff, v & 0xff];
}

/** Always five bytes: an offset that is not known yet takes as much room as one that is. */
const offset = (v: number): number[] => [29, (v >> 24) & 0xff, (v >> 16) & 0xff, (v >> 8) & 0xff, v & 0xff];

/** An INDEX (Adobe TN 5176 §5). */
function index(items: readonly (readonly number[])[]): number[] {
  if (items.length === 0) return [0, 0];
  const out = [(items.length >> 8) & 0xff, items.length & 0xff, 4];
  let at = 1;
  const word = (v: number) => out.push((v >>> 24) & 0xff, (v >> 16) & 0xff, (v >> 8) & 0xff, v & 0xff);
  word(at);
  for (const item of items) {
    at += item.length;
    word(at);
  }
  for (const item of items) for (const byte of item) out.push(byte);
  return out;
}

/** An outline as a charstring of moves, lines and cubic curves (Adobe TN 5177). */
function charstring(path: string): number[] {
  const out: number[] = [];
  let [x, y] = [0, 0];
  const put = (operator: number, points: readonly [number, number][]) => {
    for (const [px, py] of points) {
      const [rx, ry] = [Math.round(px), Math.round(py)];
      out.push(...integer(rx - x, true), ...integer(ry - y, true));
      [x, y] = [rx, ry];
    }
    out.push(operator);
  };
  for (const [, command, rest] of path.matchAll(/([MLQCZ])([^MLQCZ]*)/g)) {
    const n = (rest!.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number);
    const [a, b, c, d] = n as [number, number, number, number];
    if (command === 'M') put(21, [[a, b]]);
    if (command === 'L') put(5, [[a, b]]);
    if (command === 'Q') {
      const [sx, sy] = [x, y];
      put(8, [
        [sx + (2 / 3) * (a - sx), sy + (2 / 3) * (b - sy)],
        [c + (2 / 3) * (a - c), d + (2 / 3) * (b - d)],
        [c, d],
      ]);
    }
  }
  out.push(14);
  return out;
}

/** A typeface of quadratic outlines as OpenType with cubic ones: for trying what reads such files. */
export function cubicFont(trueType: Uint8Array): Uint8Array {
  const tables = tablesOf(trueType);
  const font = new hb.Font(new hb.Face(new hb.Blob(trueType)));
  const count = viewOf(tables.get('maxp')!).getUint16(4);
  const names = index([[...'Cubic'].map((c) => c.charCodeAt(0))]);
  const charstrings = index(Array.from({ length: count }, (_, g) => charstring(font.glyphToPath(g))));
  const head = [1, 0, 4, 4];
  const rest = [...index([]), ...index([])];
  // Glyph names by a charset of one range: all in order.
  const charset = [2, 0, 1, ((count - 2) >> 8) & 0xff, (count - 2) & 0xff];
  const topOf = (charsetAt: number, charsAt: number, privateAt: number) => [
    ...offset(charsetAt),
    15,
    ...offset(charsAt),
    17,
    ...integer(0, false),
    ...offset(privateAt),
    18,
  ];
  const start = head.length + names.length + index([topOf(0, 0, 0)]).length + rest.length;
  const charsAt = start + charset.length;
  const top = index([topOf(start, charsAt, charsAt + charstrings.length)]);
  const cff = Uint8Array.from([...head, ...names, ...top, ...rest, ...charset, ...charstrings]);
  const maxp = new Uint8Array(6);
  viewOf(maxp).setUint32(0, 0x0000_5000);
  viewOf(maxp).setUint16(4, count);
  const left = [...tables].filter(([tag]) => !['glyf', 'loca', 'maxp', 'cvt ', 'fpgm', 'prep', 'gasp'].includes(tag));
  const file = assemble([...left.map(([t, b]): [string, Uint8Array] => [t, b.slice()]), ['maxp', maxp], ['CFF ', cff]]);
  file.set(
    [...'OTTO'].map((c) => c.charCodeAt(0)),
    0,
  );
  return file;
}
