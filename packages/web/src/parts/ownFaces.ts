import { fileOfFace, isOwnFace } from '@chronicon/core/contract/sceneFaces';
import type { ScenePage } from '@chronicon/core/page';

/** The name of a face that somebody brought: `own-` and the SHA-256 of its file. */
export type OwnFace = `own-${string}`;

/** Faces that this window has asked for. */
const asked = new Set<string>();

/** Fetches typefaces that somebody brought; those of the product are in the style sheet. */
export function fetchFaces(faces: Iterable<OwnFace>): void {
  for (const face of faces) {
    if (asked.has(face)) continue;
    asked.add(face);
    const font = new FontFace(face, `url("/api/typefaces/${fileOfFace(face)}")`, { display: 'swap' });
    document.fonts.add(font);
    // What did not come is asked for again with the next sheet; until then the browser's own stands there.
    font.load().catch(() => {
      document.fonts.delete(font);
      asked.delete(face);
    });
  }
}

/** Those that a sheet is written with. */
export function fetchOwnFaces(page: ScenePage): void {
  fetchFaces(page.ops.flatMap((op) => (op.k === 'text' && isOwnFace(op.face) ? [op.face] : [])));
}
