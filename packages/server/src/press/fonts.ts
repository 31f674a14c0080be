import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { SceneFace } from '@chronicon/core/page';

const require = createRequire(import.meta.url);

type Weight = '400Regular' | '600SemiBold' | '700Bold';
const file = (pack: string, name: string, weight: Weight) =>
  `@expo-google-fonts/${pack}/${weight}/${name}_${weight}.ttf`;
const noto = (pack: string, name: string) => ({
  regular: file(`noto-sans${pack}`, `NotoSans${name}`, '400Regular'),
  bold: file(`noto-sans${pack}`, `NotoSans${name}`, '600SemiBold'),
});
const LENT = {
  fallback: noto('', ''),
  hebrew: noto('-hebrew', 'Hebrew'),
  arabic: noto('-arabic', 'Arabic'),
  thai: noto('-thai', 'Thai'),
  japanese: noto('-jp', 'JP'),
  chinese: noto('-sc', 'SC'),
  korean: noto('-kr', 'KR'),
  symbols: noto('-symbols', 'Symbols'),
};

/** The files of the press's faces, all under the SIL Open Font License. */
const FILES: Record<SceneFace, string> = {
  sans: file('source-sans-3', 'SourceSans3', '400Regular'),
  sansBold: file('source-sans-3', 'SourceSans3', '600SemiBold'),
  serif: file('source-serif-4', 'SourceSerif4', '400Regular'),
  serifBold: file('source-serif-4', 'SourceSerif4', '600SemiBold'),
  ...(Object.fromEntries(
    Object.entries(LENT).flatMap(([name, { regular, bold }]) => [
      [name, regular],
      [`${name}Bold`, bold],
    ]),
  ) as Record<keyof typeof LENT | `${keyof typeof LENT}Bold`, string>),
  moreSymbols: file('noto-sans-symbols-2', 'NotoSansSymbols2', '400Regular'),
  maths: file('noto-sans-math', 'NotoSansMath', '400Regular'),
  emoji: file('noto-emoji', 'NotoEmoji', '400Regular'),
  emojiBold: file('noto-emoji', 'NotoEmoji', '600SemiBold'),
};

export const FACES = Object.keys(FILES) as SceneFace[];

/** Where a face's TrueType file lies. */
export const fontPath = (face: SceneFace): string => require.resolve(FILES[face]);

/** A copy that may be sliced: a Buffer's slices would share memory. */
export const fontData = (face: SceneFace): Uint8Array => new Uint8Array(readFileSync(fontPath(face)));

const hashes = new Map<SceneFace, string>();
/** SHA-256 of the files of these faces: kept with an edition, so that a redraw can tell whether it would look the same. */
export function fontHashes(faces: Iterable<SceneFace>): Record<string, string> {
  const hash = (face: SceneFace) => {
    const found = hashes.get(face) ?? createHash('sha256').update(fontData(face)).digest('hex');
    hashes.set(face, found);
    return found;
  };
  return Object.fromEntries([...faces].map((f) => [f, hash(f)]));
}
