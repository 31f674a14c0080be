import { MOST_ABREAST } from '@chronicon/core/bounds';
import { blockIn } from '@chronicon/core/contract/edits';
import type { Document, Target } from './documentEdits.ts';

/** Where something would be dropped, and the line that shows it, in points of the window. */
export interface Drop {
  target: Target;
  mark: { left: number; top: number; width: number; height: number };
}

type Box = Pick<DOMRect, 'left' | 'top' | 'right' | 'bottom' | 'width' | 'height'>;

/** How far a line reaches to either side of what it stands between. */
const LINE = 3;
/** The part of a block’s width at either end where something comes to stand beside it. */
const BESIDE = 0.22;

const across = (box: Box, top: number) => ({ left: box.left, top: top - LINE / 2, width: box.width, height: LINE });
const down = (box: Box, left: number) => ({ left: left - LINE / 2, top: box.top, width: LINE, height: box.height });

/** Where something that is held at (x, y) comes to stand by a block: beside it at its ends, else in a row above or below. */
export function dropAtBlock(document: Document, id: string, box: Box, x: number, y: number): Drop | null {
  const found = blockIn(document, id);
  if (!found) return null;
  const { page, row } = found;
  const at = row.blocks.findIndex((b) => b.id === id);
  const part = (x - box.left) / Math.max(1, box.width);
  if (row.blocks.length < MOST_ABREAST && (part < BESIDE || part > 1 - BESIDE)) {
    const left = part < BESIDE;
    const after = left ? (row.blocks[at - 1]?.id ?? null) : id;
    return { target: { kind: 'beside', row: row.id, after }, mark: down(box, left ? box.left : box.right) };
  }
  const above = y < box.top + box.height / 2;
  const rowAt = page.rows.indexOf(row);
  const after = above ? (page.rows[rowAt - 1]?.id ?? null) : row.id;
  return { target: { kind: 'row', page: page.id, after }, mark: across(box, above ? box.top : box.bottom) };
}

/** At the beginning of a page, whose title the box is. */
export const dropAtPage = (page: string, box: Box): Drop => ({
  target: { kind: 'row', page, after: null },
  mark: across(box, box.bottom),
});

/** The drop under a place of the window, by what lies there; null for nowhere. */
export function dropUnder(document: Document, x: number, y: number): Drop | null {
  const under = window.document.elementsFromPoint(x, y).find((e) => e.closest('[data-drop]'));
  const place = under?.closest<HTMLElement>('[data-drop]');
  const [kind, id = ''] = (place?.dataset.drop ?? '').split(' ');
  if (!place) return null;
  if (kind === 'block') return dropAtBlock(document, id, place.getBoundingClientRect(), x, y);
  if (kind === 'page') return dropAtPage(id, place.getBoundingClientRect());
  // Between the blocks of a sheet: by the nearest one.
  let nearest: { id: string; box: DOMRect; far: number } | null = null;
  for (const e of place.querySelectorAll<HTMLElement>('[data-drop^="block "]')) {
    const box = e.getBoundingClientRect();
    const far = Math.max(box.top - y, y - box.bottom, 0) + Math.max(box.left - x, x - box.right, 0);
    if (!nearest || far < nearest.far) nearest = { id: e.dataset.drop!.split(' ')[1]!, box, far };
  }
  return nearest && dropAtBlock(document, nearest.id, nearest.box, (nearest.box.left + nearest.box.right) / 2, y);
}
