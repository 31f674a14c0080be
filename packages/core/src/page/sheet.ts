import type { Paper } from '../report/index.ts';

/** Of every sheet, on all sides: 15 mm in points. */
export const MARGIN = 42.52;

/** Width and height upright, in points: ISO 216 A4, and 8.5 by 11 inches. */
const SIZES = { a4: [595.28, 841.89], letter: [612, 792] } as const;

/** A sheet as pages are set on it, in points from its top left corner. */
export interface Sheet {
  width: number;
  height: number;
  /** Right end of what is set, and its width. */
  right: number;
  inner: number;
}

export function sheetOf({ size, orientation }: Paper): Sheet {
  const [short, long] = SIZES[size];
  const [width, height] = orientation === 'portrait' ? [short, long] : [long, short];
  return { width, height, right: width - MARGIN, inner: width - 2 * MARGIN };
}
