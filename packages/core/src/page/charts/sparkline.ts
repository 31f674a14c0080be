import { scaleLinear } from 'd3-scale';
import type { Laid, Palette } from '../../report/index.ts';
import { linePath } from './linePath.ts';

/** A line without axes: the shape of a figure's days. */
export function layoutSparkline(
  values: readonly (number | null)[],
  width: number,
  height: number,
  palette: Palette,
): Laid {
  const known = values.filter((v): v is number => v !== null);
  const low = Math.min(...known);
  const high = Math.max(...known);
  return {
    height,
    draw(pen, left, top) {
      if (known.length === 0) return;
      const x = scaleLinear([0, Math.max(1, values.length - 1)], [left, left + width]);
      const y = scaleLinear([low, high > low ? high : low + 1], [top + height - 1, top + 1]);
      pen.path(linePath(values, x, y), { stroke: palette.main, width: 1 });
    },
  };
}
