import { type Pen, putLines } from '../../report/index.ts';

import { AXIS, type EndLabel, type LineFrame, type LinePlace } from './lineFrame.ts';

const LABEL_GAP = 9;

/** The place of the last known value; -1 where none is known. */
export const lastKnown = (values: readonly (number | null)[]): number => values.findLastIndex((v) => v !== null);

/** Names of several lines at their ends, in the order in which they end, none over another. */
function labelMany(pen: Pen, { chart, small, named, ownName, others }: LineFrame, { top, x1, y1, y }: LinePlace): void {
  const own = {
    text: ownName,
    style: named,
    values: chart.current.values,
  };
  const all = [own, ...others.map((o) => ({ ...o, style: { ...small, fill: o.tone.stroke } }))]
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
  for (let i = places.length - 1, most = lowest; i >= 0; i--, most -= LABEL_GAP) places[i] = Math.min(places[i]!, most);
  all.forEach((o, i) => {
    pen.text(x1 + 6, places[i]! + 2.5, o.text, o.style);
  });
}

/** Names of the lines at their ends: of one and what it is compared with, or of several. */
export function labelEnds(pen: Pen, frame: LineFrame, place: LinePlace): void {
  const { chart, ownEnd, otherEnd } = frame;
  const { top, x1, y1, y } = place;
  if (frame.others.length > 0) {
    labelMany(pen, frame, place);
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
  const put = ({ lines, style }: EndLabel, middle: number) => {
    const first = middle + 2.5 - ((lines.length - 1) / 2) * LABEL_GAP;
    putLines(pen, lines, (i) => [x1 + 6, first + i * LABEL_GAP], style);
  };
  if (own !== null) put(ownEnd, own);
  if (other !== null && otherEnd) put(otherEnd, other);
}
