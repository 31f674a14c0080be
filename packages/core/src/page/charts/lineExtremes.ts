import { fill } from '../../words/index.ts';
import type { LineFrame, LinePlace } from './lineFrame.ts';

/** A labelled point: its text, where the text goes, and the point itself. */
export interface Named {
  text: string;
  left: number;
  w: number;
  baseline: number;
  x: number;
  y: number;
}

/** Fewer points than this are told apart by their names on the axis. */
const LEAST_NAMED = 5;

/** Places of the lowest and the highest of the known values, the first of equal ones; null where none is known. */
export function extremesOf(values: readonly (number | null)[]): { low: number; high: number } | null {
  let found: { low: number; high: number } | null = null;
  values.forEach((v, i) => {
    if (v === null) return;
    if (!found) found = { low: i, high: i };
    else if (v < values[found.low]!) found.low = i;
    else if (v > values[found.high]!) found.high = i;
  });
  return found;
}

/** Highest and lowest point by value and date, where there is room beside each other and within the chart. */
export function placeExtremes(
  { chart, small, width, format, isBars, others, pointName }: LineFrame,
  { top, x0, x1, y1, x, y }: LinePlace,
): Named[] {
  const { values } = chart.current;
  const ends = extremesOf(values);
  if (
    isBars ||
    others.length > 0 ||
    !ends ||
    values[ends.high] === values[ends.low] ||
    chart.points.length < LEAST_NAMED
  )
    return [];
  const placed: Named[] = [];
  const place = (i: number, above: boolean) => {
    const text = fill(format.words.labelled, {
      label: pointName(chart.points[i]!),
      text: format.figure(values[i]!, chart.unit),
    });
    const w = width(text, small);
    const [px, py] = [x(i), y(values[i]!)];
    const left = Math.min(x1 - w, Math.max(x0 + 1, px - w / 2));
    const under = py + 9.5;
    const baseline = above || under > y1 - 2 ? Math.max(top + 5, py - 4.5) : under;
    const isMet = placed.some((p) => left < p.left + p.w && left + w > p.left && Math.abs(baseline - p.baseline) < 8);
    if (!isMet && w + 1 <= x1 - x0) placed.push({ text, left, w, baseline, x: px, y: py });
  };
  place(ends.high, true);
  place(ends.low, false);
  return placed;
}
