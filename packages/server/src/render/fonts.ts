import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileOfFace, isOwnFace, type OwnFace, type SceneFace, type ShippedFace } from '@chronicon/core/page';

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

const SHIPPED: Record<ShippedFace extends `${infer K}-${number}` ? K : never, [pack: string, name: string]> = {
  inter: ['inter', 'Inter'],
  plexSans: ['ibm-plex-sans', 'IBMPlexSans'],
  workSans: ['work-sans', 'WorkSans'],
  libreFranklin: ['libre-franklin', 'LibreFranklin'],
  lora: ['lora', 'Lora'],
  robotoSlab: ['roboto-slab', 'RobotoSlab'],
};

/** A face whose file comes with the product. */
export type KnownFace = Exclude<SceneFace, OwnFace>;

/** The files of the renderer's faces, under the SIL Open Font License or the Apache License. */
const FILES: Record<KnownFace, string> = {
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
  ...(Object.fromEntries(
    Object.entries(SHIPPED).flatMap(([key, [pack, name]]) => [
      [`${key}-400`, file(pack, name, '400Regular')],
      [`${key}-600`, file(pack, name, '600SemiBold')],
    ]),
  ) as Record<ShippedFace, string>),
  moreSymbols: file('noto-sans-symbols-2', 'NotoSansSymbols2', '400Regular'),
  maths: file('noto-sans-math', 'NotoSansMath', '400Regular'),
  emoji: file('noto-emoji', 'NotoEmoji', '400Regular'),
  emojiBold: file('noto-emoji', 'NotoEmoji', '600SemiBold'),
};

export const FACES = Object.keys(FILES) as KnownFace[];

/** Where a face's TrueType file lies. */
export const fontPath = (face: KnownFace): string => require.resolve(FILES[face]);

/** Reads a file of the data folder by its SHA-256. */
export type ReadFile = (hash: string) => Uint8Array;

export const noFile: ReadFile = () => {
  throw new Error('no folder of typefaces');
};

/** A copy that may be sliced: a Buffer's slices would share memory. */
export const fontData = (face: SceneFace, read: ReadFile = noFile): Uint8Array =>
  new Uint8Array(isOwnFace(face) ? read(fileOfFace(face)) : readFileSync(fontPath(face)));

const hashes = new Map<KnownFace, string>();
/** SHA-256 of the files of these faces: kept with an edition, so that a redraw can tell whether it would look the same. */
export function fontHashes(faces: Iterable<SceneFace>): Record<string, string> {
  const hash = (face: SceneFace) => {
    if (isOwnFace(face)) return fileOfFace(face);
    const found =
      hashes.get(face) ??
      createHash('sha256')
        .update(readFileSync(fontPath(face)))
        .digest('hex');
    hashes.set(face, found);
    return found;
  };
  return Object.fromEntries([...faces].map((f) => [f, hash(f)]));
}
