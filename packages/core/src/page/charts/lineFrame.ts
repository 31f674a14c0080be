import { type ScaleLinear, scaleLinear } from 'd3-scale';
import type { LineChart, Palette, TextStyle } from '../../report/index.ts';
import { axisOf, type Formatter } from '../../words/index.ts';
import { type PageRuler, widthOf } from '../ruler.ts';
import { fitText, wrapText } from '../textFit.ts';

/** Height of the names of the axis. */
export const AXIS = 14;

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

/** A label at the end of a line, over several lines of text where it is long. */
export interface EndLabel {
  style: TextStyle;
  lines: string[];
}

/** A line beside the current one: how it is told from others, and its name. */
export interface OtherLine {
  text: string;
  tone: { stroke: string; dash?: number[] };
  values: readonly (number | null)[];
}

/** What a chart of lines measures before it is drawn. */
export interface LineFrame {
  chart: LineChart;
  palette: Palette;
  format: Formatter;
  small: TextStyle;
  named: TextStyle;
  width(text: string, style: TextStyle): number;
  /** Points, as many as the longest line has. */
  points: number;
  scale: ScaleLinear<number, number>;
  ticks: { value: number; label: string }[];
  axisWidth: number;
  /** Room for labels at the ends of lines. */
  endLabels: number;
  ownEnd: EndLabel;
  otherEnd: EndLabel | null;
  ownName: string;
  others: OtherLine[];
  isBars: boolean;
  pointName(date: string): string;
}

export function lineFrame(chart: LineChart, palette: Palette, format: Formatter, ruler: PageRuler): LineFrame {
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
  const otherEnd = second ? ended(second.label, small) : null;
  const tones = otherTones(palette);
  const otherNames = others.map(
    (o, i): OtherLine => ({
      text: fitText(ruler, o.label, small, endRoom),
      tone: tones[i % tones.length]!,
      values: o.values,
    }),
  );
  const ownName = fitText(ruler, chart.current.label, named, endRoom);
  const endLabels = Math.max(
    ...[ownEnd, otherEnd].flatMap((e) => (e ? e.lines.map((line) => width(line, e.style)) : [])),
    ...otherNames.map((o) => width(o.text, small)),
    others.length > 0 ? width(ownName, named) : 0,
    0,
  );
  const isFew = chart.span === 'day' && chart.points.length < LEAST_DAYS;
  const isBars = isFew || chart.shape === 'columns';
  return {
    chart,
    palette,
    format,
    small,
    named,
    width,
    scale,
    ticks,
    axisWidth,
    endLabels,
    ownEnd,
    otherEnd,
    ownName,
    isBars,
    points: Math.max(chart.points.length, ...series.map((v) => v.length)),
    others: otherNames,
    pointName: chart.span === 'month' ? format.shortMonth : format.shortDate,
  };
}

/** Where the chart stands on its page, and its scales there. */
export interface LinePlace {
  top: number;
  x0: number;
  x1: number;
  y0: number;
  y1: number;
  x(i: number): number;
  y(value: number): number;
  /** Of the value axis: zero, or its lowest value above that. */
  base: number;
}

export function linePlace(
  { chart, axisWidth, endLabels, scale, isBars, points }: LineFrame,
  left: number,
  top: number,
): LinePlace {
  const x0 = left + axisWidth;
  const x1 = left + chart.width - endLabels - 6;
  const y0 = top + 8;
  const y1 = top + chart.height - AXIS;
  const y = scale.copy().range([y1, y0]);
  const x = isBars ? scaleLinear([-0.5, points - 0.5], [x0, x1]) : scaleLinear([0, Math.max(1, points - 1)], [x0, x1]);
  return { top, x0, x1, y0, y1, x, y, base: y(Math.max(0, y.domain()[0]!)) };
}
