import type { Op, ScenePage } from '@chronicon/core/page';
import { LRUCache } from 'lru-cache';
import sharp from 'sharp';
import { remember } from './remember.ts';
import type { Shaper } from './shaper.ts';

/**
 * Points of the picture for each of the page: charts are shown half as large again as they are drawn, on screens with up to
 * two points for each of theirs. More of them cost time and bytes, and are hardly seen.
 */
const SCALE = 2.4;
/** Outlines of letters that are kept. */
const KEPT = 4_000;
const outlines = new LRUCache<string, { d: string }>({ max: KEPT });

const round = (n: number): number => Math.round(n * 1000) / 1000;

const attributes = (of: Record<string, string | number | undefined>): string =>
  Object.entries(of)
    .flatMap(([key, value]) => (value === undefined ? [] : [` ${key}="${value}"`]))
    .join('');

/** A run of text as the outlines of its glyphs: what draws the picture needs no typeface, and has no other one. */
function textOf(op: Extract<Op, { k: 'text' }>, shaper: Shaper): string {
  const { glyphs } = shaper.shape(op.face, op.text, op.rtl);
  const scale = op.size / shaper.unitsPerEm(op.face);
  let x = 0;
  const drawn = glyphs.map(({ id, advance, dx, dy }) => {
    const { d } = remember(outlines, `${op.face} ${id}`, () => ({ d: shaper.outline(op.face, id) }));
    const at = x + dx;
    x += advance;
    return d === '' ? '' : `<path transform="translate(${at} ${dy})" d="${d}"/>`;
  });
  return `<g fill="${op.fill}" transform="translate(${op.x} ${op.y}) scale(${round(scale)} ${round(-scale)})">${drawn.join('')}</g>`;
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
  // librsvg draws 72 points to the inch at this density.
  const { data, info } = await sharp(Buffer.from(svgOf(page, shaper)), { density: 72 * SCALE })
    .flatten({ background: '#ffffff' })
    .png({ compressionLevel: 6 })
    .toBuffer({ resolveWithObject: true });
  return { data, width: Math.round(info.width / SCALE), height: Math.round(info.height / SCALE) };
}
