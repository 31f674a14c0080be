import type { Face } from '../report/index.ts';
import type { Direction } from '../words/index.ts';
import { directionOf } from './direction.ts';
import type { PageFace, SceneFace } from './faces.ts';

/** A stretch of text of one direction that one face can draw. `advance` is in ems. */
export interface TextRun {
  face: SceneFace;
  text: string;
  advance: number;
  /** Read from right to left. */
  rtl?: true;
  /** What no face can draw, where `text` stands in its place. */
  lost?: string;
}

/** How a line of text is read. */
export interface Reading {
  /** Of the line as a whole. */
  direction: Direction;
  /** Of the page (BCP 47): for characters that languages draw each in their own way. */
  language: string;
  /** The face of the house that stands in where the page's own lacks letters. */
  standIn: Face;
}

/** Measures text as it will be drawn. Handed in by the caller, since shaping needs a library and font files. */
export interface Ruler {
  /** The runs of a line in the order in which they stand, from left to right. */
  runs(face: PageFace, text: string, reading: Reading): readonly TextRun[];
  /** The parts of a word between which it may be divided with a hyphen; the word itself where it may not be. */
  syllables(word: string, language: string): readonly string[];
}

/** A ruler for one page: in its language, and its direction where a text has none of its own. */
export interface PageRuler {
  direction: Direction;
  runs(face: Face, text: string, direction?: Direction): readonly TextRun[];
  /** Width of a text in ems. */
  advance(face: Face, text: string): number;
  syllables(word: string): readonly string[];
}

/**
 * A page asks for the same texts over and over while it is set.
 * @param faces what each face that blocks name is drawn with
 */
export function rulerFor(
  ruler: Ruler,
  language: string,
  page: Direction,
  faces: Readonly<Record<Face, PageFace>>,
): PageRuler {
  interface Known {
    runs: readonly TextRun[];
    advance: number;
  }
  const known: Record<Face, Map<string, Known>> = {
    sans: new Map(),
    sansBold: new Map(),
    serif: new Map(),
    serifBold: new Map(),
  };
  const runsOf = (face: Face, text: string, direction: Direction) =>
    ruler.runs(faces[face], text, { direction, language, standIn: face });
  /** A text in the direction that it has of itself. */
  const knownOf = (face: Face, text: string): Known => {
    const found = known[face].get(text);
    if (found) return found;
    const runs = runsOf(face, text, directionOf(text, page));
    const made = { runs, advance: runs.reduce((sum, run) => sum + run.advance, 0) };
    known[face].set(text, made);
    return made;
  };
  return {
    direction: page,
    runs: (face, text, direction) =>
      direction === undefined ? knownOf(face, text).runs : runsOf(face, text, direction),
    advance: (face, text) => knownOf(face, text).advance,
    syllables: (word) => ruler.syllables(word, language),
  };
}

/** Width of a text in points. */
export const widthOf = (ruler: PageRuler, face: Face, size: number, text: string): number =>
  ruler.advance(face, text) * size;
