import { scaleLinear } from 'd3-scale';
import { type Laid, type LineChart, type Palette, putLines, type TextStyle } from '../../report/index.ts';
import { axisOf, type Formatter, fill, fullStop } from '../../words/index.ts';
import { type PageRuler, widthOf } from '../ruler.ts';
import { fitText, wrapText } from '../textFit.ts';
import { linePath } from './linePath.ts';

const AXIS = 14;
const LABEL_GAP = 9;

interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** A point that is named: what is said, where it stands, and the point itself. */
interface Named {
  text: string;
  left: number;
  w: number;
  baseline: number;
  x: number;
  y: number;
}

/** Fewer points than this are told apart by their names on the axis. */
const LEAST_NAMED = 5;
const DOT = 1.8;

/** A dot around a point, as curves that every painter knows. */
function dot(x: number, y: number): string {
  const c = DOT * 0.5523;
  const at = (dx: number, dy: number) => `${x + dx} ${y + dy}`;
  return `M${at(DOT, 0)}C${at(DOT, c)} ${at(c, DOT)} ${at(0, DOT)}C${at(-c, DOT)} ${at(-DOT, c)} ${at(-DOT, 0)}C${at(-DOT, -c)} ${at(-c, -DOT)} ${at(0, -DOT)}C${at(c, -DOT)} ${at(DOT, -c)} ${at(DOT, 0)}Z`;
}

/** Places of the lowest and the highest of the known values, the first of equal ones; null where none is known. */
function extremesOf(values: readonly (number | null)[]): { low: number; high: number } | null {
  let found: { low: number; high: number } | null = null;
  values.forEach((v, i) => {
    if (v === null) return;
    if (!found) found = { low: i, high: i };
    else if (v < values[found.low]!) found.low = i;
    else if (v > values[found.high]!) found.high = i;
  });
  return found;
}

const lastKnown = (values: readonly (number | null)[]): number => values.findLastIndex((v) => v !== null);

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

/** How lines beside the current one are told from it and from each other, with and without colours. */
const otherTones = ({ second, ink, compared, muted }: Palette) => [
  { stroke: second, dash: [5, 2] },
  { stroke: ink, dash: [1, 2] },
  { stroke: muted },
  { stroke: compared, dash: [7, 2, 1, 2] },
];

/** Labels at the ends of lines take no more of the chart than this; longer ones stand over several lines. */
const END_SHARE = 0.3;
const LEAST_END = 40;
/** Fewer days than this have no line: each is a bar. */
const LEAST_DAYS = 3;
const BAR_WIDTH = 26;
const LEAST_BAR = 7;

/**
 * A chart of days: the current range solid in the brand colour with a quiet area under it, the compared one
 * dashed grey, both labelled at their ends. The value axis starts at zero.
 */
export function layoutLineChart(chart: LineChart, palette: Palette, format: Formatter, ruler: PageRuler): Laid {
  const small: TextStyle = { face: 'sans', size: 7.5, fill: palette.muted };
  const named: TextStyle = { face: 'sansBold', size: 7.5, fill: palette.main };
  const width = (s: string, style: TextStyle) => widthOf(ruler, style.face, style.size, s);
  const others = chart.others ?? [];
  const series = [chart.current.values, chart.compared?.values ?? [], ...others.map((o) => o.values)];
  const known = series.flat().filter((v): v is number => v !== null);
  const reach = chart.level ? [...known, chart.level.value] : known;
  const { domain, ticks } = axisOf(reach, chart.unit, 4, format);
  const scale = scaleLinear(domain, [0, 1]);
  const axisWidth = Math.max(...ticks.map((t) => width(t.label, small))) + 6;
  const endRoom = Math.max(LEAST_END, chart.width * END_SHARE);
  const ended = (label: string, style: TextStyle) => ({ style, lines: wrapText(ruler, label, style, endRoom) });
  const ownEnd = ended(chart.current.label, named);
  const second = chart.compared ?? chart.level;
  const otherEnd = second && ended(second.label, small);
  const tones = otherTones(palette);
  const otherNames = others.map((o, i) => ({
    text: fitText(ruler, o.label, small, endRoom),
    tone: tones[i % tones.length]!,
    values: o.values,
  }));
  const ownName = fitText(ruler, chart.current.label, named, endRoom);
  const endLabels = Math.max(
    ...[ownEnd, otherEnd].flatMap((e) => (e ? e.lines.map((line) => width(line, e.style)) : [])),
    ...otherNames.map((o) => width(o.text, small)),
    others.length > 0 ? width(ownName, named) : 0,
    0,
  );
  const isFew = chart.span === 'day' && chart.points.length < LEAST_DAYS;
  const isBars = isFew || chart.shape === 'columns';
  const ends = extremesOf(chart.current.values);
  const pointName = chart.span === 'month' ? format.shortMonth : format.shortDate;
  const dated = (i: number) => `${format.cell(chart.current.values[i]!, chart.unit)} (${pointName(chart.points[i]!)})`;
  const range = ends
    ? fill(format.words.chartText, { title: chart.title, low: dated(ends.low), high: dated(ends.high) })
    : chart.title;
  const alt = [range, ...chart.facts].map(fullStop).join(' ');
  return {
    height: chart.height,
    draw(pen, left, top) {
      const x0 = left + axisWidth;
      const x1 = left + chart.width - endLabels - 6;
      const y0 = top + 8;
      const y1 = top + chart.height - AXIS;
      const y = scale.copy().range([y1, y0]);
      const points = Math.max(chart.points.length, ...series.map((s) => s.length));
      const x = isBars
        ? scaleLinear([-0.5, points - 0.5], [x0, x1])
        : scaleLinear([0, Math.max(1, points - 1)], [x0, x1]);
      const base = y(Math.max(0, y.domain()[0]!));
      pen.tagged('Figure', alt, () => {
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
        const extremes = placeExtremes();
        // Nothing of the grid runs through a name.
        for (const { left, w, baseline } of extremes) pen.rect(left - 1.5, baseline - 6, w + 3, 7.5, '#ffffff');
        if (isBars) {
          drawBars();
          labelEnds();
          return;
        }
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
        for (const { values, tone } of otherNames)
          pen.path(linePath(values, x, y), { stroke: tone.stroke, width: 1.2, ...(tone.dash && { dash: tone.dash }) });
        pen.path(linePath(current, x, y), { stroke: palette.main, width: 1.6 });
        for (const { from, to } of chart.marks) {
          pen.line(x(from), y0, x(from), y1, palette.muted, 0.4, [1.5, 1.5]);
          if (to > from) pen.rect(x(from), y1 - 1.2, x(to) - x(from), 2.4, palette.second);
          pen.path(`M${x(from)} ${y1 - 3}L${x(from) + 3} ${y1}L${x(from)} ${y1 + 3}L${x(from) - 3} ${y1}Z`, {
            fill: palette.second,
          });
        }
        for (const named of extremes) {
          pen.path(dot(named.x, named.y), { fill: palette.main });
          pen.text(named.left, named.baseline, named.text, { ...small, fill: palette.ink });
        }
        labelEnds();
      });

      /** Highest and lowest point by value and date, where there is room beside each other and within the chart. */
      function placeExtremes(): Named[] {
        const { values } = chart.current;
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
          const text = `${pointName(chart.points[i]!)}: ${format.figure(values[i]!, chart.unit)}`;
          const w = width(text, small);
          const [px, py] = [x(i), y(values[i]!)];
          const left = Math.min(x1 - w, Math.max(x0 + 1, px - w / 2));
          const under = py + 9.5;
          const baseline = above || under > y1 - 2 ? Math.max(top + 5, py - 4.5) : under;
          const isMet = placed.some(
            (p) => left < p.left + p.w && left + w > p.left && Math.abs(baseline - p.baseline) < 8,
          );
          if (!isMet && w + 1 <= x1 - x0) placed.push({ text, left, w, baseline, x: px, y: py });
        };
        place(ends.high, true);
        place(ends.low, false);
        return placed;
      }

      /** One day or two, or what is to be columns: what was beside what is. */
      function drawBars(): void {
        const each = (x1 - x0) / points;
        // Many columns leave no room for others beside them: what was is a line across each.
        const isMany = each * 0.4 < LEAST_BAR;
        const bar = Math.min(BAR_WIDTH, each * (chart.compared && !isMany ? 0.4 : 0.7));
        const put = (values: readonly (number | null)[], left: number, draw: (at: Box) => void) =>
          values.forEach((value, i) => {
            if (value === null) return;
            draw({ x: x(i) + left, y: Math.min(base, y(value)), w: bar, h: Math.abs(y(value) - base) });
          });
        // Hollow, and so told apart where there are no colours.
        const hollow = (b: Box) => {
          const [l, t, r, u] = [b.x + 0.5, b.y + 0.5, b.x + b.w - 0.5, b.y + b.h];
          pen.path(`M${l} ${u}L${l} ${t}L${r} ${t}L${r} ${u}`, { stroke: palette.compared, width: 1 });
        };
        if (chart.compared && !isMany) put(chart.compared.values, -bar - 1, hollow);
        put(chart.current.values, chart.compared && !isMany ? 1 : -bar / 2, (b) =>
          pen.rect(b.x, b.y, b.w, b.h, palette.main),
        );
        if (chart.compared && isMany)
          chart.compared.values.forEach((value, i) => {
            if (!value || i >= points) return;
            pen.line(x(i) - bar / 2 - 1, y(value), x(i) + bar / 2 + 1, y(value), palette.ink, 1);
          });
        if (chart.level) pen.line(x0, y(chart.level.value), x1, y(chart.level.value), palette.second, 1, [1, 2]);
      }

      /** Names of several lines at their ends, in the order in which they end, none over another. */
      function labelMany(): void {
        const own = {
          text: ownName,
          style: named,
          values: chart.current.values,
        };
        const all = [own, ...otherNames.map((o) => ({ ...o, style: { ...small, fill: o.tone.stroke } }))]
          .flatMap((o) => {
            const end = lastKnown(o.values);
            return end < 0 ? [] : [{ ...o, at: y(o.values[end]!) }];
          })
          .sort((a, b) => a.at - b.at);
        // Above the names of the axis.
        const lowest = y1 + 2;
        let at = top + 4;
        const places = all.map((o) => {
          at = Math.max(at + LABEL_GAP, o.at);
          return at;
        });
        // What leaves the chart beneath pushes the others up.
        for (let i = places.length - 1, most = lowest; i >= 0; i--, most -= LABEL_GAP)
          places[i] = Math.min(places[i]!, most);
        all.forEach((o, i) => {
          pen.text(x1 + 6, places[i]! + 2.5, o.text, o.style);
        });
      }

      function labelEnds(): void {
        if (others.length > 0) {
          labelMany();
          return;
        }
        const end = lastKnown(chart.current.values);
        const before = chart.compared ? lastKnown(chart.compared.values) : -1;
        let own = end >= 0 ? y(chart.current.values[end]!) : null;
        const level = chart.level ? y(chart.level.value) : null;
        let other = chart.compared && before >= 0 ? y(chart.compared.values[before]!) : level;
        // Labels of several lines are apart by half of both.
        const apart = ((ownEnd.lines.length + (otherEnd?.lines.length ?? 0)) / 2) * LABEL_GAP;
        if (own !== null && other !== null && Math.abs(own - other) < apart) {
          const middle = (own + other) / 2;
          const up = own <= other ? 1 : -1;
          own = middle - (up * apart) / 2;
          other = middle + (up * apart) / 2;
        }
        // Within the chart: what leaves it at one end pushes the other along.
        const within = (middle: number, lines: number, above: number, beneath: number) =>
          Math.max(
            top + 4 + (lines / 2) * LABEL_GAP + above,
            Math.min(y1 + AXIS - (lines / 2) * LABEL_GAP - beneath, middle),
          );
        const isUpper = own !== null && other !== null && own <= other;
        const [ownHigh, otherHigh] = [own, other].map((at, i) =>
          at === null ? 0 : ([ownEnd, otherEnd][i]?.lines.length ?? 0) * LABEL_GAP,
        ) as [number, number];
        if (own !== null) own = within(own, ownEnd.lines.length, isUpper ? 0 : otherHigh, isUpper ? otherHigh : 0);
        if (other !== null && otherEnd)
          other = within(other, otherEnd.lines.length, isUpper ? ownHigh : 0, isUpper ? 0 : ownHigh);
        const put = ({ lines, style }: typeof ownEnd, middle: number) => {
          const first = middle + 2.5 - ((lines.length - 1) / 2) * LABEL_GAP;
          putLines(pen, lines, (i) => [x1 + 6, first + i * LABEL_GAP], style);
        };
        if (own !== null) put(ownEnd, own);
        if (other !== null && otherEnd) put(otherEnd, other);
      }
    },
  };
}
