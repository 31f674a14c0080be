import type { Ruler, Run, SceneFace } from '@chronicon/core/page';
import type { Face } from '@chronicon/core/report';
import * as hb from 'harfbuzzjs';
import { LRUCache } from 'lru-cache';
import { FACES, fontData } from './fonts.ts';
import { remember } from './remember.ts';

/** One glyph of a shaped run. Advance and offsets in font units. */
export interface Glyph {
  id: number;
  advance: number;
  dx: number;
  dy: number;
  /** The text that this glyph stands for; empty when an earlier glyph of its cluster stands for it. */
  text: string;
}

export interface Shaped {
  glyphs: Glyph[];
  /** Font units. */
  advance: number;
}

/** Shapes and measures text with HarfBuzz. What was shaped once is kept: reports repeat themselves. */
export interface Shaper extends Ruler {
  shape(face: SceneFace, text: string): Shaped;
  unitsPerEm(face: SceneFace): number;
}

/** Shaped texts kept for each face; past this many those go that were used least lately. */
const KEPT = 20_000;

const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** Loads all faces; a process needs one shaper. */
export function createShaper(): Shaper {
  const faces = new Map(
    FACES.map((name) => {
      const face = new hb.Face(new hb.Blob(fontData(name)));
      const font = new hb.Font(face);
      return [name, { font, upem: face.upem, covers: new Set(face.collectUnicodes()) }] as const;
    }),
  );
  const shapes = new Map(FACES.map((f) => [f, new LRUCache<string, Shaped>({ max: KEPT })]));
  const runs = new Map(FACES.map((f) => [f, new LRUCache<string, readonly Run[]>({ max: KEPT })]));
  const buffer = new hb.Buffer();

  function shape(face: SceneFace, text: string): Shaped {
    return remember(shapes.get(face)!, text, () => {
      buffer.clearContents();
      buffer.addText(text);
      buffer.guessSegmentProperties();
      hb.shape(faces.get(face)!.font, buffer);
      const infos = buffer.getGlyphInfos();
      const positions = buffer.getGlyphPositions();
      const starts = [...new Set(infos.map((i) => i.cluster))].sort((a, b) => a - b);
      const seen = new Set<number>();
      let advance = 0;
      const glyphs = infos.map((info, i): Glyph => {
        const { xAdvance, xOffset, yOffset } = positions[i]!;
        advance += xAdvance;
        const end = starts[starts.indexOf(info.cluster) + 1] ?? text.length;
        const own = seen.has(info.cluster) ? '' : text.slice(info.cluster, end);
        seen.add(info.cluster);
        return { id: info.codepoint, advance: xAdvance, dx: xOffset, dy: yOffset, text: own };
      });
      return { glyphs, advance };
    });
  }

  const lacks = (face: SceneFace, grapheme: string): boolean => {
    const { covers } = faces.get(face)!;
    for (const c of grapheme) if (!covers.has(c.codePointAt(0)!)) return true;
    return false;
  };

  /** Parts a text where the face lacks a character that the fallback has. */
  function split(face: Face, text: string): readonly Run[] {
    const parts: { face: SceneFace; text: string }[] = [];
    for (const { segment } of segmenter.segment(text)) {
      const use: SceneFace = lacks(face, segment) && !lacks('fallback', segment) ? 'fallback' : face;
      const last = parts.at(-1);
      if (last?.face === use) last.text += segment;
      else parts.push({ face: use, text: segment });
    }
    return parts.map((p) => ({ ...p, advance: shape(p.face, p.text).advance / faces.get(p.face)!.upem }));
  }

  return {
    shape,
    unitsPerEm: (face) => faces.get(face)!.upem,
    runs: (face, text) =>
      remember(runs.get(face)!, text, () =>
        lacks(face, text)
          ? split(face, text)
          : [{ face, text, advance: shape(face, text).advance / faces.get(face)!.upem }],
      ),
  };
}
