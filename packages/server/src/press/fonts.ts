import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { SceneFace } from '@chronicon/core/page';

const require = createRequire(import.meta.url);

/** The files of the press's faces, all under the SIL Open Font License. */
const FILES: Record<SceneFace, string> = {
  sans: '@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf',
  sansBold: '@expo-google-fonts/source-sans-3/600SemiBold/SourceSans3_600SemiBold.ttf',
  serif: '@expo-google-fonts/source-serif-4/400Regular/SourceSerif4_400Regular.ttf',
  serifBold: '@expo-google-fonts/source-serif-4/600SemiBold/SourceSerif4_600SemiBold.ttf',
  fallback: '@expo-google-fonts/noto-sans/400Regular/NotoSans_400Regular.ttf',
};

export const FACES = Object.keys(FILES) as SceneFace[];

/** Where a face's TrueType file lies. */
export const fontPath = (face: SceneFace): string => require.resolve(FILES[face]);

/** A copy that may be sliced: a Buffer's slices would share memory. */
export const fontData = (face: SceneFace): Uint8Array => new Uint8Array(readFileSync(fontPath(face)));

/** SHA-256 of each face's file: kept with an edition, so that a redraw can tell whether it would look the same. */
export function fontHashes(): Record<SceneFace, string> {
  const hash = (face: SceneFace) => createHash('sha256').update(fontData(face)).digest('hex');
  return Object.fromEntries(FACES.map((f) => [f, hash(f)])) as Record<SceneFace, string>;
}
