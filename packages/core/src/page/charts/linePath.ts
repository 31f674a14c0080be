import { grid } from '../grid.ts';

/** Half of the dash that stands for a point alone between gaps, in points. */
const HALF = 0.6;

/** A path through the points, on the grid of every scene; a null parts it, and a point alone becomes a short dash. */
export function linePath(
  values: readonly (number | null)[],
  x: (i: number) => number,
  y: (v: number) => number,
): string {
  let path = '';
  const isKnown = (i: number) => i >= 0 && i < values.length && values[i] !== null;
  values.forEach((value, i) => {
    if (value === null) return;
    const [px, py] = [grid(x(i)), grid(y(value))];
    if (isKnown(i - 1)) path += `L${px},${py}`;
    else if (isKnown(i + 1)) path += `M${px},${py}`;
    else path += `M${grid(px - HALF)},${py}L${grid(px + HALF)},${py}`;
  });
  return path;
}
