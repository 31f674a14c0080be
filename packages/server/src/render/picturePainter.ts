import type { Op, ScenePage } from '@chronicon/core/page';
import { Resvg } from '@resvg/resvg-js';
import { LRUCache } from 'lru-cache';
import sharp from 'sharp';
import { fromCache } from './fromCache.ts';
import type { Shaper } from './shaper.ts';

// Pictures are small, and each worker thread paints its own: threads of a picture's own cost more than they save.
sharp.concurrency(1);

/**
 * Points of the picture for each of the page: charts are shown half as large again as they are drawn, on screens with up to
 * two points for each of theirs. More of them cost time and bytes, and are hardly seen.
 */
const SCALE = 2.4;
/** Outlines of letters that are kept. */
const KEPT = 4_000;
/** Commands of an outline, each with its points. */
type Outline = readonly { command: string; points: readonly number[] }[];
const outlines = new LRUCache<string, Outline>({ max: KEPT });

/** Absolute path data of points alone (M, L, Q, C, Z), as the shaping engine writes it. */
const outlineOf = (d: string): Outline =>
  [...d.matchAll(/([MLQCZ])([^MLQCZ]*)/g)].map(([, command, rest]) => ({
    command: command!,
    points: rest === '' ? [] : rest!.split(/[ ,]/).map(Number),
  }));

const attributes = (of: Record<string, string | number | undefined>): string =>
  Object.entries(of)
    .flatMap(([key, value]) => (value === undefined ? [] : [` ${key}="${value}"`]))
    .join('');

/**
 * A run of text as one outline of all its glyphs, in units of its typeface: what draws the picture needs no typeface, and has no
 * other one; and each part of a drawing costs it more than what is in it.
 */
function textOf(op: Extract<Op, { k: 'text' }>, shaper: Shaper): string {
  const { glyphs } = shaper.shape(op.face, op.text, op.rtl);
  const scale = op.size / shaper.unitsPerEm(op.face);
  let at = 0;
  let drawn = '';
  for (const { id, advance, dx, dy } of glyphs) {
    const outline = fromCache(outlines, `${op.face} ${id}`, () => outlineOf(shaper.outline(op.face, id)));
    for (const { command, points } of outline) {
      drawn += command;
      for (let i = 0; i < points.length; i += 2) drawn += `${at + dx + points[i]!} ${dy + points[i + 1]!} `;
    }
    at += advance;
  }
  if (drawn === '') return '';
  // Units of a typeface are whole numbers, and upwards.
  return `<path fill="${op.fill}" transform="matrix(${scale} 0 0 ${-scale} ${op.x} ${op.y})" d="${drawn.trimEnd()}"/>`;
}

function opOf(op: Op, shaper: Shaper): string {
  switch (op.k) {
    case 'text':
      return textOf(op, shaper);
    case 'rect':
      return `<rect${attributes({ x: op.x, y: op.y, width: op.w, height: op.h, fill: op.fill })}/>`;
    case 'path':
      return `<path${attributes({
        d: op.d,
        fill: op.fill ?? 'none',
        stroke: op.stroke,
        'stroke-width': op.width,
        'stroke-dasharray': op.dash?.join(' '),
        'stroke-linejoin': op.stroke && 'round',
        'fill-opacity': op.fill && op.opacity,
        'stroke-opacity': op.stroke && op.opacity,
        'fill-rule': op.evenOdd && 'evenodd',
      })}/>`;
    default:
      return '';
  }
}

/** A page of primitives as an SVG that holds no text, and leads nowhere. */
export function svgOf({ width, height, ops }: ScenePage, shaper: Shaper): string {
  const drawn = ops.map((op) => opOf(op, shaper)).join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${drawn}</svg>`;
}

/**
 * The page as a PNG for a mail, of so many points for each of its own; the same page gives the same bytes. Pictures of the
 * data folder are not drawn: charts have none.
 */
export async function paintPicture(
  page: ScenePage,
  shaper: Shaper,
): Promise<{ data: Buffer; width: number; height: number }> {
  const painter = new Resvg(svgOf(page, shaper), {
    fitTo: { mode: 'zoom', value: SCALE },
    background: '#ffffff',
    font: { loadSystemFonts: false },
  });
  const { pixels, width, height } = painter.render();
  // Its own way to a PNG takes longer than drawing, for a larger file.
  const data = await sharp(pixels, { raw: { width, height, channels: 4 } })
    .png({ compressionLevel: 3 })
    .toBuffer();
  return { data, width: Math.round(width / SCALE), height: Math.round(height / SCALE) };
}
