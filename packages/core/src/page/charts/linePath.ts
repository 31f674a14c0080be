import { line } from 'd3-shape';

/** A path through the points; a null parts it, and a point alone between gaps becomes a short dash. */
export function linePath(
  values: readonly (number | null)[],
  x: (i: number) => number,
  y: (v: number) => number,
): string {
  const path = line<number | null>()
    .defined((v) => v !== null)
    .x((_, i) => x(i))
    .y((v) => y(v!));
  // To the grid of every scene; the package's types do not know of it.
  (path as unknown as { digits(n: number): void }).digits(2);
  return (path(values as (number | null)[]) ?? '').replace(
    /M([\d.-]+),([\d.-]+)Z/g,
    (_, px: string, py: string) => `M${Number(px) - 0.6},${py}L${Number(px) + 0.6},${py}`,
  );
}
