import type { Figures } from '@chronicon/core/contract';
import { type Axis, axisOf, type Numbers } from '@chronicon/core/contract/display';
import { memo, useMemo } from 'react';
import {
  Area,
  Bar,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceArea,
  ReferenceDot,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { dayWithYear, shortDay } from '../../parts/when.ts';
import { cutAt } from './cutSteps.ts';
import { type MetricHead, numberOf, valueText } from './figureText.ts';

interface Props {
  figures: Figures;
  metric: MetricHead;
  numbers: Numbers;
  shape: 'line' | 'bars';
  /** Questions the figure of one point. */
  onPick: (from: string, to: string) => void;
  onPickLabel: (label: string) => void;
}

const HEIGHT = 268;
const INK = 'var(--c-muted)';
const MAIN = 'var(--c-accent)';
const AIM = 'var(--c-attention)';
const tick = { fill: INK, fontSize: 12 };

interface Point {
  at: string;
  from: string;
  to: string;
  current: number | null;
  compared: number | null;
  comparedTo: { from: string; to: string } | null;
  comparable: boolean;
  target: number | null;
}

const datesOf = ({ from, to }: { from: string; to: string }): string =>
  from === to ? dayWithYear(from) : `${shortDay(from)} – ${dayWithYear(to)}`;

/** What stands beside the pointer: both figures with their dates. */
function Tip({ point, metric, numbers }: { point: Point | undefined; metric: MetricHead; numbers: Numbers }) {
  if (!point) return null;
  const say = (v: number | null) => (v === null ? 'no figure' : numbers.cell(v, metric.unit));
  return (
    <div className="card tip small">
      <b>{datesOf(point)}</b>
      <div>
        {metric.label}: <b>{say(point.current)}</b>
      </div>
      {point.comparedTo && (
        <div className="muted">
          {datesOf(point.comparedTo)}: {say(point.compared)}
          {!point.comparable && <div>different number of days, so no change shown</div>}
        </div>
      )}
      {point.target !== null && <div className="tone-attention">target {say(point.target)}</div>}
    </div>
  );
}

function pointsOf(figures: Figures, index: number): Point[] {
  const { series } = figures;
  if (!series) return [];
  const line = series.lines[index]!;
  return series.times.map((t, i) => ({
    at: t.from,
    from: t.from,
    to: t.to,
    current: cutAt(series, i) ? null : numberOf(line.current[i] ?? null),
    compared: line.compared && !cutAt(series, i) ? numberOf(line.compared[i] ?? null) : null,
    comparedTo: series.comparedTimes?.[i] ?? null,
    comparable: series.comparable[i]!,
    target: cutAt(series, i) ? null : (line.target?.[i] ?? null),
  }));
}

/** A tick's label, as the axis says it. */
const labelOn =
  (axis: Axis) =>
  (value: number): string =>
    axis.ticks.find((t) => t.value === value)?.label ?? '';

/** At most eight labels, evenly apart: left to itself the axis would measure every one of a thousand. */
function ticksOf(points: readonly Point[]): string[] {
  const every = Math.max(1, Math.ceil(points.length / 8));
  return points.filter((_, i) => i % every === 0).map((p) => p.at);
}

/** One metric in time: the present solid, the compared dashed behind it, gaps as gaps, notes and odd days marked. */
function TimeChart({ figures, metric, numbers, shape, onPick }: Props) {
  const index = figures.metrics.findIndex((m) => m.key === metric.key);
  const points = useMemo(() => pointsOf(figures, index), [figures, index]);
  const byDate = new Map(points.map((p) => [p.at, p]));
  const suspects = figures.suspects.filter((s) => s.metric === metric.key && s.side === 'current');
  const hold = (day: string) => points.find((p) => p.from <= day && day <= p.to);
  const most = Math.max(0, ...points.flatMap((p) => [p.current ?? 0, p.compared ?? 0, p.target ?? 0]));
  const axis = axisOf(
    points.flatMap((p) => [p.current, p.compared, p.target].filter((v) => v !== null)),
    metric.unit,
    4,
    numbers,
  );
  const isLevel = points.length === 1;
  // A line of nothing still costs as much to lay out as one of something.
  const held = points.some((p) => p.compared !== null);
  const aimed = points.some((p) => p.target !== null);
  return (
    <ResponsiveContainer width="100%" height={HEIGHT}>
      <ComposedChart
        data={points}
        margin={{ top: 12, right: 30, bottom: 0, left: 4 }}
        onClick={(state) => {
          const point = byDate.get(String(state.activeLabel ?? ''));
          if (point) onPick(point.from, point.to);
        }}
        accessibilityLayer
      >
        <CartesianGrid vertical={false} stroke="var(--c-rule)" />
        <XAxis
          dataKey="at"
          tick={tick}
          tickLine={false}
          axisLine={{ stroke: INK }}
          tickFormatter={shortDay}
          ticks={ticksOf(points)}
          interval={0}
        />
        <YAxis
          tick={tick}
          tickLine={false}
          axisLine={false}
          width={64}
          domain={axis.domain}
          ticks={axis.ticks.map((t) => t.value)}
          interval={0}
          tickFormatter={labelOn(axis)}
        />
        <Tooltip
          isAnimationActive={false}
          content={({ label }) => <Tip point={byDate.get(String(label ?? ''))} metric={metric} numbers={numbers} />}
        />
        {figures.notes.map((n) => {
          const first = hold(n.from < figures.period.from ? figures.period.from : n.from);
          const last = hold(n.to > figures.period.to ? figures.period.to : n.to) ?? points.at(-1);
          if (!first || !last) return null;
          const label = { value: '◆', position: 'insideTop' as const, fill: AIM, fontSize: 12 };
          return first === last ? (
            <ReferenceLine key={n.id} x={first.at} stroke={AIM} strokeDasharray="2 3" label={label} />
          ) : (
            <ReferenceArea key={n.id} x1={first.at} x2={last.at} fill={AIM} fillOpacity={0.1} label={label} />
          );
        })}
        {shape === 'bars' || isLevel ? (
          <>
            <Bar dataKey="compared" fill="var(--c-rule)" isAnimationActive={false} maxBarSize={26} />
            <Bar dataKey="current" fill={MAIN} isAnimationActive={false} maxBarSize={26} />
          </>
        ) : (
          <>
            {held && (
              <Line
                dataKey="compared"
                stroke={INK}
                strokeWidth={1.3}
                strokeDasharray="4 3"
                dot={false}
                activeDot={false}
                isAnimationActive={false}
              />
            )}
            <Area
              dataKey="current"
              stroke={MAIN}
              strokeWidth={2}
              fill={MAIN}
              fillOpacity={0.07}
              dot={points.length < 3}
              isAnimationActive={false}
            />
          </>
        )}
        {aimed && (
          <Line
            dataKey="target"
            stroke={AIM}
            strokeWidth={2}
            strokeDasharray="2 4"
            type="stepAfter"
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
        )}
        {suspects.map((s) => {
          const point = hold(s.day);
          return (
            point && (
              <ReferenceDot
                key={`${s.metric} ${s.day}`}
                x={point.at}
                y={point.current ?? most * 0.02}
                r={6}
                fill="none"
                stroke="var(--c-wrong)"
                strokeWidth={2}
              />
            )
          );
        })}
      </ComposedChart>
    </ResponsiveContainer>
  );
}

/** One metric by label: a bar for now, a thinner one behind it for what it is compared with. */
function LabelChart({ figures, metric, numbers, onPickLabel }: Props) {
  const index = figures.metrics.findIndex((m) => m.key === metric.key);
  const rows = (figures.breakdown?.rows ?? []).slice(0, 12).map((r) => ({
    label: (r.name ?? r.label) || '(unnamed)',
    current: numberOf(r.cells[index]!.current),
    compared: numberOf(r.cells[index]!.compared),
  }));
  const axis = axisOf(
    rows.flatMap((r) => [r.current, r.compared].filter((v) => v !== null)),
    metric.unit,
    4,
    numbers,
  );
  return (
    <ResponsiveContainer width="100%" height={Math.max(120, rows.length * 30 + 34)}>
      <ComposedChart
        layout="vertical"
        data={rows}
        margin={{ top: 4, right: 16, bottom: 0, left: 4 }}
        barGap={1}
        onClick={(state) => {
          const found = figures.breakdown?.rows[Number(state.activeTooltipIndex)];
          if (found) onPickLabel(found.label);
        }}
      >
        <CartesianGrid horizontal={false} stroke="var(--c-rule)" />
        <XAxis
          type="number"
          tick={tick}
          tickLine={false}
          axisLine={false}
          domain={axis.domain}
          ticks={axis.ticks.map((t) => t.value)}
          interval={0}
          tickFormatter={labelOn(axis)}
        />
        <YAxis type="category" dataKey="label" tick={tick} tickLine={false} axisLine={{ stroke: INK }} width={128} />
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: 'var(--c-accent-soft)' }}
          formatter={(v) => numbers.cell(Number(v), metric.unit)}
        />
        <Bar dataKey="current" name={metric.label} fill={MAIN} isAnimationActive={false} barSize={11} />
        {figures.compared && (
          <Bar
            dataKey="compared"
            name={figures.compared.label}
            fill="none"
            stroke={INK}
            strokeDasharray="3 2"
            isAnimationActive={false}
            barSize={7}
          />
        )}
      </ComposedChart>
    </ResponsiveContainer>
  );
}

/** The chart of one metric; drawn anew only when what it shows changes. */
export const FiguresChart = memo(function FiguresChart(props: Props) {
  const { figures, metric, numbers } = props;
  const index = figures.metrics.findIndex((m) => m.key === metric.key);
  const total = figures.totals[index]!;
  const about = `${metric.label}, ${figures.period.dates}: ${valueText(total.current, metric.unit, numbers)}`;
  const empty = figures.series
    ? figures.series.lines[index]!.current.every((v) => 'na' in v)
    : (figures.breakdown?.rows.length ?? 0) === 0;
  if (empty) {
    const why = figures.breakdown?.lack ?? valueText(total.current, metric.unit, numbers);
    return (
      <p className="muted chart-empty">
        {'na' in total.current || figures.breakdown?.lack
          ? `No chart: ${why}.`
          : `${metric.label} is only available for the whole period.`}
      </p>
    );
  }
  return (
    <figure className="chart" aria-label={about}>
      {figures.series ? <TimeChart {...props} /> : <LabelChart {...props} />}
    </figure>
  );
});
