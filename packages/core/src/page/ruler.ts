import type { Face } from '../report/index.ts';
import type { SceneFace } from './scene.ts';

/** A stretch of text that one face can draw. `advance` is in ems. */
export interface Run {
  face: SceneFace;
  text: string;
  advance: number;
}

/** Measures text as it will be drawn. Handed in by the caller, since shaping needs a library and font files. */
export interface Ruler {
  /** The runs of a text: one, or more where the face lacks characters. */
  runs(face: Face, text: string): readonly Run[];
}

/** Width of a text in points. */
export function widthOf(ruler: Ruler, face: Face, size: number, text: string): number {
  let advance = 0;
  for (const run of ruler.runs(face, text)) advance += run.advance;
  return advance * size;
}
