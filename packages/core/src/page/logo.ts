import type { Logo } from '../report/index.ts';
import { grid } from './grid.ts';
import { contrast, luminance } from './palette.ts';
import { movePath } from './pathPoints.ts';
import type { Op, ScenePage } from './scene.ts';

/** Relative luminance beyond which a colour is hardly seen on white. */
const PALE = 0.75;

/** True when a logo is too pale to be seen on white paper, and so gets a ground. */
export const isPale = (logo: Logo): boolean =>
  logo.kind === 'image'
    ? logo.pale
    : logo.paths.length > 0 &&
      logo.paths.every((p) => [p.fill, p.stroke].every((c) => c === null || luminance(c) > PALE));

/** Contrast that a drawing needs on its ground (WCAG 2.2 SC 1.4.11). */
const SEEN = 3;

/** True when a logo is a drawing of which nothing is seen on a ground; of a photograph that is not known. */
export const isLostOn = (logo: Logo, ground: string): boolean =>
  logo.kind === 'vector' &&
  logo.paths.length > 0 &&
  logo.paths.every((p) => [p.fill, p.stroke].every((c) => c === null || contrast(c, ground) < SEEN));

/** What stands on a ground of the main colour: the logo that is made for it, or the other; on white where it would be lost. */
export function logoOnDark(
  logo: Logo | null,
  logoDark: Logo | null | undefined,
  ground: string,
): { logo: Logo; onWhite: boolean } | null {
  const shown = logoDark ?? logo;
  if (!shown) return null;
  // Without one of its own, only what is pale all over is known to be seen there.
  return { logo: shown, onWhite: logoDark ? isLostOn(logoDark, ground) : !isPale(shown) };
}

/**
 * Draws a logo with its top left corner at (x, y), as large as fits `maxWidth` by `maxHeight`.
 * @param across width of a sheet that is read from right to left, where the place is mirrored, the logo is not; else null
 * @returns the width it takes
 */
export function drawLogo(
  ops: Op[],
  logo: Logo,
  box: { x: number; y: number; maxWidth: number; maxHeight: number },
  alt: string,
  ground: string,
  across: number | null,
): number {
  const scale = Math.min(box.maxWidth / logo.width, box.maxHeight / logo.height);
  const w = grid(logo.width * scale);
  const h = grid(logo.height * scale);
  const x = across === null ? box.x : grid(across - box.x - w);
  ops.push({ k: 'open', tag: 'Figure', alt });
  if (isPale(logo)) ops.push({ k: 'rect', x: x - 4, y: box.y - 4, w: w + 8, h: h + 8, fill: ground });
  if (logo.kind === 'image') ops.push({ k: 'image', x, y: box.y, w, h, file: logo.file, alt });
  else {
    for (const p of logo.paths) {
      ops.push({
        k: 'path',
        d: movePath(p.d, (px, py) => [grid(px * scale + x), grid(py * scale + box.y)]),
        ...(p.fill && { fill: p.fill }),
        ...(p.stroke && { stroke: p.stroke, width: grid(p.strokeWidth * scale) }),
        ...(p.evenOdd && { evenOdd: true as const }),
      });
    }
  }
  ops.push({ k: 'close' });
  return w;
}

/** Of a logo in a mail, in CSS pixels. */
export const MAIL_LOGO = { width: 220, height: 56 };

/** A drawn logo alone on white, or on its ground, as large as mails show it. */
export function logoPage(logo: Logo, ground: string): ScenePage {
  const around = isPale(logo) ? 4 : 0;
  const scale = Math.min(MAIL_LOGO.width / logo.width, MAIL_LOGO.height / logo.height);
  const width = Math.max(1, Math.ceil(logo.width * scale)) + 2 * around;
  const height = Math.max(1, Math.ceil(logo.height * scale)) + 2 * around;
  const ops: Op[] = [{ k: 'rect', x: 0, y: 0, w: width, h: height, fill: '#ffffff' }];
  const box = { x: around, y: around, maxWidth: MAIL_LOGO.width, maxHeight: MAIL_LOGO.height };
  drawLogo(ops, logo, box, '', ground, null);
  return { title: '', width, height, ops, blocks: [] };
}
