import type { Face } from '../report/index.ts';
import {
  HOUSE_TYPEFACES,
  type ShippedTypeface,
  TYPEFACES,
  type Typeface,
  type Typefaces,
} from '../report/typefaces.ts';

/** Faces that lend what those of a page lack, in two weights where there are two. */
export type LentFace =
  | 'fallback'
  | 'fallbackBold'
  | 'hebrew'
  | 'hebrewBold'
  | 'arabic'
  | 'arabicBold'
  | 'thai'
  | 'thaiBold'
  | 'japanese'
  | 'japaneseBold'
  | 'chinese'
  | 'chineseBold'
  | 'korean'
  | 'koreanBold'
  | 'symbols'
  | 'symbolsBold'
  | 'moreSymbols'
  | 'maths'
  | 'emoji'
  | 'emojiBold';

type Weight = 400 | 600;
/** One of a family that comes with the product beside the two of the house. */
export type ShippedFace = `${Exclude<ShippedTypeface, 'sourceSans' | 'sourceSerif'>}-${Weight}`;
/** One that somebody brought, by the SHA-256 of its file. */
export type OwnFace = `own-${string}`;
/** A face that a page is written with. */
export type PageFace = Face | ShippedFace | OwnFace;

/** A typeface as the renderer knows it: those of a page, and those that lend missing characters. */
export type SceneFace = PageFace | LentFace;

export const isOwnFace = (face: SceneFace): face is OwnFace => face.startsWith('own-');
/** The file of one that somebody brought. */
export const fileOfFace = (face: OwnFace): string => face.slice('own-'.length);

const HOUSE = { sourceSans: ['sans', 'sansBold'], sourceSerif: ['serif', 'serifBold'] } as const;

/** The usual and the bold face of a typeface. */
function pairOf(typeface: Typeface): readonly [PageFace, PageFace] {
  if (typeof typeface !== 'string') return [`own-${typeface.regular}`, `own-${typeface.bold ?? typeface.regular}`];
  if (typeface === 'sourceSans' || typeface === 'sourceSerif') return HOUSE[typeface];
  return [`${typeface}-400`, `${typeface}-600`];
}

/** With what the four faces that blocks name are drawn by a kit. */
export function facesOf({ text, heads }: Typefaces = HOUSE_TYPEFACES): Record<Face, PageFace> {
  const [sans, sansBold] = pairOf(text);
  const [serif, serifBold] = pairOf(heads);
  return { sans, sansBold, serif, serifBold };
}

/** A family of faces that lends characters: by its name in a style sheet, in a text's usual weight and in bold. */
interface Family {
  family: string;
  faces: readonly [LentFace, LentFace];
}

const family = (name: string, regular: LentFace, bold: LentFace = regular): Family => ({
  family: name,
  faces: [regular, bold],
});

const FAMILIES = {
  other: family('Noto Sans', 'fallback', 'fallbackBold'),
  hebrew: family('Noto Sans Hebrew', 'hebrew', 'hebrewBold'),
  arabic: family('Noto Sans Arabic', 'arabic', 'arabicBold'),
  thai: family('Noto Sans Thai', 'thai', 'thaiBold'),
  japanese: family('Noto Sans JP', 'japanese', 'japaneseBold'),
  chinese: family('Noto Sans SC', 'chinese', 'chineseBold'),
  korean: family('Noto Sans KR', 'korean', 'koreanBold'),
  symbols: family('Noto Sans Symbols', 'symbols', 'symbolsBold'),
  moreSymbols: family('Noto Sans Symbols 2', 'moreSymbols'),
  maths: family('Noto Sans Math', 'maths'),
  emoji: family('Noto Emoji', 'emoji', 'emojiBold'),
} as const;
type Lender = keyof typeof FAMILIES;

interface Named {
  family: string;
  weight: number;
  /** Set with digits as wide as each other (OpenType `tnum`); those of the house are so anyway. */
  evenDigits?: true;
}
const own = (name: string, weight: number): Named => ({ family: name, weight });
const ofBrand = (name: string, weight: number): Named => ({ ...own(name, weight), evenDigits: true });

const OF_BRANDS = TYPEFACES.filter((t) => t.key !== 'sourceSans' && t.key !== 'sourceSerif');

/** How a screen names each face that comes with the product: family and weight. */
export const FACE_NAMES = {
  sans: own('Source Sans 3', 400),
  sansBold: own('Source Sans 3', 600),
  serif: own('Source Serif 4', 400),
  serifBold: own('Source Serif 4', 600),
  ...Object.fromEntries(
    Object.values(FAMILIES).flatMap(({ family: name, faces: [regular, bold] }) => [
      [bold, own(name, 600)],
      [regular, own(name, 400)],
    ]),
  ),
  ...Object.fromEntries(
    OF_BRANDS.flatMap(({ key, name }) => [
      [`${key}-400`, ofBrand(name, 400)],
      [`${key}-600`, ofBrand(name, 600)],
    ]),
  ),
} as Record<Exclude<SceneFace, OwnFace>, Named>;

/** How a screen names a face; one that somebody brought is a family of its own. */
export const faceName = (face: SceneFace): Named => (isOwnFace(face) ? ofBrand(face, 400) : FACE_NAMES[face]);

const SCRIPTS: readonly [RegExp, readonly Lender[]][] = [
  [/[\p{Script=Hebrew}\ufb1d-\ufb4f]/u, ['hebrew']],
  [/[\p{Script=Arabic}]/u, ['arabic']],
  [/[\p{Script=Thai}\u0e3f]/u, ['thai']],
  [/[\p{Script=Hiragana}\p{Script=Katakana}\u30fc\u31f0-\u31ff]/u, ['japanese']],
  [/\p{Script=Hangul}/u, ['korean']],
  [/\p{Emoji_Presentation}|\ufe0f|\p{Regional_Indicator}/u, ['emoji', 'moreSymbols', 'symbols']],
];
/** Characters that Chinese, Japanese and Korean share, each drawn in the way of the language. */
const SHARED = /[\p{Script=Han}\u3000-\u303f\u3100-\u33ff\ufe30-\ufe4f\uff00-\uffef]/u;
const EAST: readonly (readonly [string, RegExp, Lender])[] = [
  ['ja', /[\p{Script=Hiragana}\p{Script=Katakana}]/u, 'japanese'],
  ['ko', /\p{Script=Hangul}/u, 'korean'],
];

/**
 * The faces that may lend a grapheme, those first that most likely have it: only these are ever opened for it.
 * @param text the line that it stands in, which tells in whose way shared characters are drawn
 * @param language of the page (BCP 47)
 */
export function lendersOf(grapheme: string, text: string, language: string, bold: boolean): LentFace[] {
  const lenders: Lender[] = [...(SCRIPTS.find(([script]) => script.test(grapheme))?.[1] ?? [])];
  if (lenders.length === 0 && SHARED.test(grapheme)) {
    const east =
      EAST.find(([, script]) => script.test(text)) ?? EAST.find(([code]) => language.toLowerCase().startsWith(code));
    const first = east?.[2] ?? 'chinese';
    lenders.push(first, ...(['chinese', 'japanese', 'korean'] as const).filter((l) => l !== first));
  }
  const all = [...new Set<Lender>(['other', ...lenders, 'symbols', 'moreSymbols', 'maths', 'emoji'])];
  // A picture is drawn as one, even where a face of letters has its character.
  if (lenders[0] === 'emoji') all.sort((a, b) => Number(b === 'emoji') - Number(a === 'emoji'));
  return all.map((l) => FAMILIES[l].faces[bold ? 1 : 0]);
}

/** Stands where no face can draw what was written. */
export const UNDRAWABLE = '\u25a1';
