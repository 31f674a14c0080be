import type { Laid, LineChart, Palette, Pen } from '../../report/index.ts';
import { type Formatter, fill, fullStop } from '../../words/index.ts';
import type { PageRuler } from '../ruler.ts';
import { drawBars } from './lineBars.ts';
import { labelEnds, lastKnown } from './lineEnds.ts';
import { extremesOf, placeExtremes } from './lineExtremes.ts';
import { type LineFrame, type LinePlace, lineFrame, linePlace } from './lineFrame.ts';
import { linePath } from './linePath.ts';

const DOT = 1.8;

/** A dot around a point, as curves that every painter knows. */
function dot(x: number, y: number): string {
  const c = DOT * 0.5523;
  const at = (dx: number, dy: number) => `${x + dx} ${y + dy}`;
  return `M${at(DOT, 0)}C${at(DOT, c)} ${at(c, DOT)} ${at(0, DOT)}C${at(-c, DOT)} ${at(-DOT, c)} ${at(-DOT, 0)}C${at(-DOT, -c)} ${at(-c, -DOT)} ${at(0, -DOT)}C${at(c, -DOT)} ${at(DOT, -c)} ${at(DOT, 0)}Z`;
}

/** Points from one label of the axis to the next, by what a point is of: about weekly, quarterly, yearly. */
const EVERY = {
  day: [1, 2, 7, 14, 28, 56, 91],
  week: [1, 2, 4, 8, 13, 26, 52],
  month: [1, 2, 3, 6, 12, 24, 60, 120],
} as const;

/** Points at which the axis is labelled, never closer than labels of `label` points wide allow. */
function labelled(count: number, every: readonly number[], width: number, label: number): number[] {
  const most = Math.max(1, Math.floor(width / (label + 10)));
  const step = every.find((s) => Math.ceil(count / s) <= most) ?? Math.ceil(count / most);
  return Array.from({ length: Math.ceil(count / step) }, (_, i) => i * step);
}

/** Lines of the value axis with what they stand for, and names of points beneath. */
function drawAxes(pen: Pen, frame: LineFrame, { x0, x1, y1, x, y }: LinePlace): void {
  const { chart, palette, small, width, ticks, isBars, pointName } = frame;
  for (const tick of ticks) {
    pen.line(x0, y(tick.value), x1, y(tick.value), tick.value === 0 ? palette.muted : palette.rule, 0.5);
    pen.text(x0 - 6, y(tick.value) + 2.5, tick.label, small, 'right');
  }
  // One month of days, one year of months: all lengths of names.
  const widestName = Math.max(0, ...chart.points.slice(0, 31).map((d) => width(pointName(d), small)));
  const said = new Set<string>();
  for (const i of labelled(chart.points.length, EVERY[chart.span], x1 - x0, widestName)) {
    const name = pointName(chart.points[i]!);
    // A name that stood there already would say two days are one.
    if (said.has(name)) continue;
    said.add(name);
    pen.text(x(i), y1 + 11, name, small, i === 0 && !isBars ? 'left' : 'center');
  }
}

/** The lines, what is under the current one, and the events. */
function drawLines(pen: Pen, { chart, palette, others }: LineFrame, { x0, x1, y0, y1, x, y, base }: LinePlace): void {
  const current = chart.current.values;
  const end = lastKnown(current);
  const begin = current.findIndex((v) => v !== null);
  if (others.length === 0 && end > begin && current.slice(begin, end).every((v) => v !== null)) {
    const under = linePath(current.slice(begin, end + 1), (i) => x(i + begin), y);
    pen.path(`${under}L${x(end)},${base}L${x(begin)},${base}Z`, {
      fill: palette.main,
      opacity: chart.shape === 'area' ? 0.22 : 0.07,
    });
  }
  if (chart.compared) {
    pen.path(linePath(chart.compared.values, x, y), { stroke: palette.compared, width: 1, dash: [2.5, 2] });
  }
  if (chart.level) pen.line(x0, y(chart.level.value), x1, y(chart.level.value), palette.second, 1, [1, 2]);
  for (const { values, tone } of others)
    pen.path(linePath(values, x, y), { stroke: tone.stroke, width: 1.2, ...(tone.dash && { dash: tone.dash }) });
  pen.path(linePath(current, x, y), { stroke: palette.main, width: 1.6 });
  for (const { from, to } of chart.marks) {
    pen.line(x(from), y0, x(from), y1, palette.muted, 0.4, [1.5, 1.5]);
    if (to > from) pen.rect(x(from), y1 - 1.2, x(to) - x(from), 2.4, palette.second);
    pen.path(`M${x(from)} ${y1 - 3}L${x(from) + 3} ${y1}L${x(from)} ${y1 + 3}L${x(from) - 3} ${y1}Z`, {
      fill: palette.second,
    });
  }
}

/**
 * A chart of days: the current range solid in the brand colour with a quiet area under it, the compared one
 * dashed grey, both labelled at their ends. The value axis starts at zero.
 */
export function layoutLineChart(chart: LineChart, palette: Palette, format: Formatter, ruler: PageRuler): Laid {
  const frame = lineFrame(chart, palette, format, ruler);
  const { small, isBars, pointName } = frame;
  const ends = extremesOf(chart.current.values);
  const dated = (i: number) => `${format.cell(chart.current.values[i]!, chart.unit)} (${pointName(chart.points[i]!)})`;
  const range = ends
    ? fill(format.words.chartText, { title: chart.title, low: dated(ends.low), high: dated(ends.high) })
    : chart.title;
  const alt = [range, ...chart.facts].map(fullStop).join(' ');
  return {
    height: chart.height,
    draw(pen, left, top) {
      const place = linePlace(frame, left, top);
      pen.tagged('Figure', alt, () => {
        drawAxes(pen, frame, place);
        const extremes = placeExtremes(frame, place);
        // Nothing of the grid runs through a name.
        for (const { left, w, baseline } of extremes) pen.rect(left - 1.5, baseline - 6, w + 3, 7.5, '#ffffff');
        if (isBars) {
          drawBars(pen, frame, place);
          labelEnds(pen, frame, place);
          return;
        }
        drawLines(pen, frame, place);
        for (const named of extremes) {
          pen.path(dot(named.x, named.y), { fill: palette.main });
          pen.text(named.left, named.baseline, named.text, { ...small, fill: palette.ink });
        }
        labelEnds(pen, frame, place);
      });
    },
  };
}
