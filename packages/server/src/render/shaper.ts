import {
  isOwnFace,
  itemise,
  lendersOf,
  type PageFace,
  type Reading,
  type Ruler,
  type SceneFace,
  type TextRun,
  UNDRAWABLE,
} from '@chronicon/core/page';
import * as hb from 'harfbuzzjs';
import { LRUCache } from 'lru-cache';
import { fontData, noFile, type ReadFile } from './fonts.ts';
import { fromCache } from './fromCache.ts';
import { syllablesOf } from './syllables.ts';

/** One glyph of a shaped run. Advance and offsets in font units. */
export interface Glyph {
  id: number;
  advance: number;
  dx: number;
  dy: number;
  /** The text that this glyph stands for; empty where another glyph of its cluster does. */
  text: string;
}

export interface Shaped {
  glyphs: Glyph[];
  /** Font units. */
  advance: number;
}

/** Shapes and measures text with HarfBuzz. What was shaped once is kept: reports repeat themselves. */
export interface Shaper extends Ruler {
  /** A run of one direction. Glyphs come in the order in which they stand, from left to right. */
  shape(face: SceneFace, text: string, rtl?: boolean): Shaped;
  unitsPerEm(face: SceneFace): number;
  /** A glyph's outline as absolute path data, in font units, upwards from the baseline. */
  outline(face: SceneFace, glyph: number): string;
  /** The file of a face. */
  dataOf(face: SceneFace): Uint8Array;
}

/**
 * Of what was shaped, for each face: past these numbers of glyphs and of texts those go that were used least lately. Lines
 * of a foot are long and no two editions' alike: counted as texts alone they would take ten times as much as labels do.
 */
const KEPT_GLYPHS = 120_000;
const KEPT_TEXTS = 8_000;

const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** What chooses shapes or order, and needs no glyph of its own: joiners, variation selectors, tones of skin. */
const NEEDS_NO_GLYPH = /[\u200c-\u200d]|[\ufe00-\ufe0f]|[\u{1f3fb}-\u{1f3ff}\u{e0020}-\u{e007f}]/u;
/** Drawn the same whatever the language, and by the faces of the page: most of what stands there. */
const PLAIN = /^[\u0020-\u007e\u00a0-\u00ac\u00ae-\u017f\u2010-\u2027\u202f-\u205e\u20ac\u2212]*$/;

/** Faces whose spaces are as wide as spaces are. */
const LETTERS = /^(?!symbols|moreSymbols|maths|emoji)/;

const glyphsIn = ({ glyphs }: Shaped): number => glyphs.length;
const lettersIn = (runs: readonly TextRun[]): number => runs.reduce((sum, { text }) => sum + text.length, 0);

/** Digits as wide as each other, where a face has such: columns of figures stand on them. Those of the house are so anyway. */
const EVEN_DIGITS = [new hb.Feature('tnum', 1)];
const isOfHouse = (face: SceneFace): boolean => !face.includes('-');

/** Faces that people brought, held open at once by one thread. */
const OWN_OPEN = 32;

/** A face that was opened. */
interface Opened {
  font: hb.Font;
  upem: number;
  covers: Set<number>;
}

/**
 * Opens faces when they are first asked for: those that lend characters are large, and most reports need none.
 * @param read the files of faces that people brought
 */
export function createShaper(read: ReadFile = noFile): Shaper {
  const opened = new Map<SceneFace, Opened>();
  const brought = new LRUCache<string, Opened>({ max: OWN_OPEN });
  const shapes = new Map<SceneFace, LRUCache<string, Shaped>>();
  const runs = new Map<string, LRUCache<string, readonly TextRun[]>>();
  const buffer = new hb.Buffer();

  function open(name: SceneFace): Opened {
    const found = opened.get(name) ?? brought.get(name);
    if (found) return found;
    const face = new hb.Face(new hb.Blob(fontData(name, read)));
    const made = { font: new hb.Font(face), upem: face.upem, covers: new Set(face.collectUnicodes()) };
    if (isOwnFace(name)) brought.set(name, made);
    else opened.set(name, made);
    return made;
  }
  function keptFor<K, V extends object>(
    all: Map<K, LRUCache<string, V>>,
    key: K,
    glyphsOf: (value: V) => number,
  ): LRUCache<string, V> {
    const found =
      all.get(key) ??
      new LRUCache<string, V>({
        max: KEPT_TEXTS,
        maxSize: KEPT_GLYPHS,
        sizeCalculation: (value) => Math.max(1, glyphsOf(value)),
      });
    all.set(key, found);
    return found;
  }

  function shape(face: SceneFace, text: string, rtl = false): Shaped {
    return fromCache(keptFor(shapes, face, glyphsIn), rtl ? `\u202e${text}` : text, () => {
      buffer.clearContents();
      buffer.addText(text);
      buffer.guessSegmentProperties();
      buffer.setDirection(rtl ? hb.Direction.RTL : hb.Direction.LTR);
      hb.shape(open(face).font, buffer, isOfHouse(face) ? undefined : EVEN_DIGITS);
      const infos = buffer.getGlyphInfos();
      const positions = buffer.getGlyphPositions();
      const starts = [...new Set(infos.map((i) => i.cluster))].sort((a, b) => a - b);
      const ends = new Map(starts.map((start, i) => [start, starts[i + 1] ?? text.length]));
      // A letter rather than its marks stands for both: what has no width of its own is taken for a gap when copied.
      const speaks = new Map<number, number>();
      infos.forEach(({ cluster }, i) => {
        const before = speaks.get(cluster);
        if (before === undefined || (positions[before]!.xAdvance === 0 && positions[i]!.xAdvance !== 0))
          speaks.set(cluster, i);
      });
      let advance = 0;
      const glyphs = infos.map((info, i): Glyph => {
        const { xAdvance, xOffset, yOffset } = positions[i]!;
        advance += xAdvance;
        const own = speaks.get(info.cluster) === i ? text.slice(info.cluster, ends.get(info.cluster)) : '';
        return { id: info.codepoint, advance: xAdvance, dx: xOffset, dy: yOffset, text: own };
      });
      return { glyphs, advance };
    });
  }

  const covers = (face: SceneFace, grapheme: string): boolean => {
    const { covers: known } = open(face);
    for (const c of grapheme) if (!known.has(c.codePointAt(0)!) && !NEEDS_NO_GLYPH.test(c)) return false;
    return true;
  };

  const run = (face: SceneFace, text: string, rtl: boolean): TextRun => ({
    face,
    text,
    advance: shape(face, text, rtl).advance / open(face).upem,
    ...(rtl && { rtl }),
  });

  /** Parts a stretch of one direction where the face lacks characters, in the order in which it is read. */
  function byFace(face: PageFace, stretch: string, rtl: boolean, { language, standIn }: Reading): TextRun[] {
    const parts: { face: SceneFace; text: string; lost?: string }[] = [];
    for (const { segment } of segmenter.segment(stretch)) {
      const last = parts.at(-1);
      const isPicture = /\ufe0f/.test(segment);
      // White space goes with what it follows: a line of another script is one run.
      const use =
        segment.trim() === '' && last && LETTERS.test(last.face) && covers(last.face, segment)
          ? last.face
          : covers(face, segment) && !isPicture
            ? face
            : covers(standIn, segment) && !isPicture
              ? standIn
              : lendersOf(segment, stretch, language, standIn.endsWith('Bold')).find((f) => covers(f, segment));
      if (use === undefined) parts.push({ face: 'moreSymbols', text: UNDRAWABLE, lost: segment });
      else if (last?.face === use && last.lost === undefined) last.text += segment;
      else parts.push({ face: use, text: segment });
    }
    return parts.map(({ lost, ...p }) => ({ ...run(p.face, p.text, rtl), ...(lost !== undefined && { lost }) }));
  }

  function split(face: PageFace, text: string, reading: Reading): TextRun[] {
    return itemise(text, reading.direction).flatMap((stretch) => {
      if (covers(face, stretch.text)) return [run(face, stretch.text, stretch.rtl)];
      // What a brand's face lacks a letter of is written with that of the house as a whole: no word is in two hands.
      if (covers(reading.standIn, stretch.text)) return [run(reading.standIn, stretch.text, stretch.rtl)];
      const found = byFace(face, stretch.text, stretch.rtl, reading);
      return stretch.rtl ? found.reverse() : found;
    });
  }

  return {
    shape,
    unitsPerEm: (face) => open(face).upem,
    outline: (face, glyph) => open(face).font.glyphToPath(glyph),
    dataOf: (face) => fontData(face, read),
    syllables: syllablesOf,
    runs: (face, text, reading) => {
      const kept = keptFor(runs, face === reading.standIn ? face : `${face} ${reading.standIn}`, lettersIn);
      if (PLAIN.test(text)) return fromCache(kept, text, () => split(face, text, reading));
      const { direction, language } = reading;
      return fromCache(kept, `${direction} ${language} ${text}`, () => split(face, text, reading));
    },
  };
}
