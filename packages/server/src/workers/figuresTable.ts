import type { CivilDate, Range } from '@chronicon/core/calendar';
import type { Figures } from '@chronicon/core/contract';
import { changeOf, isKnown, type MetricUnit, type Pair, type Reason, type Value } from '@chronicon/core/figures';
import { englishFor } from '../figures/english.ts';
import { AGAINST_TARGET, type FiguresView } from '../figures/reply.ts';
import { harmless } from '../platform/harmless.ts';
import { type Cell, type Table, textCell } from '../render/tables/table.ts';

/** @param none what stands where nothing is known of it, in place of the reason */
const valueCell = (value: Value | null, unit: MetricUnit, reasons: Record<Reason, string>, none?: string): Cell => {
  if (value === null) return { kind: 'empty' };
  return 'na' in value ? textCell(none ?? reasons[value.na]) : { kind: 'number', value: value.value, unit };
};

const NOTHING: Cell = { kind: 'empty' };

/** A change as a fraction of the compared value; of rates also the difference, in points. */
function changeCells(held: Held, { unit, polarity }: Figures['metrics'][number]): Cell[] {
  const { current, compared, isTold } = held;
  const change = isTold && current && compared ? changeOf(current, compared, unit, polarity) : null;
  const rel: Cell = typeof change?.rel === 'number' ? { kind: 'number', value: change.rel, unit: 'percent' } : NOTHING;
  if (unit !== 'percent') return [rel];
  const points = change?.points;
  return [rel, points === undefined ? NOTHING : { kind: 'number', value: points, unit: 'decimal' }];
}

const sharePart = (label: string, value: Value | null): string[] =>
  value && isKnown(value) && value.partial
    ? [
        value.share === undefined ? label : `${label} ${Math.floor(value.share * 1000) / 10}% of days`,
        ...(value.feeds ?? []).map((f) =>
          f.since ? `${f.feed} only since ${f.since}` : `${f.feed} only until ${f.until}`,
        ),
      ]
    : [];

/** A view of Figures, to be had as a table. */
export interface TableOrder {
  view: FiguresView;
  names: TableNames;
  /** One of the formats by its name. */
  as: string;
  created: string;
}

interface TableNames {
  agency: string;
  client: string;
  /** What the view is narrowed to, in words. */
  filter: string[];
}

/** What stands in the last columns of rows with figures that are not made from all of their days, or from odd ones. */
const PARTLY = 'Partly known';
const ODD = 'Unusual days';
const EXCLUDED = 'Excluded days';

const textOrNothing = (parts: readonly string[]): Cell =>
  parts.length > 0 ? textCell(parts.join('; ')) : { kind: 'empty' };

/** The odd days within a row's dates and within those it is held against. */
const oddIn = ({ suspects }: Figures, current: Range | null, compared: Range | null): string[] => {
  const isIn = (day: CivilDate, range: Range | null) => range !== null && range.from <= day && day <= range.to;
  const own = suspects.filter((s) => s.kind !== 'missing' && isIn(s.day, s.side === 'current' ? current : compared));
  return [...new Set(own.map((s) => s.words))];
};

/** What stands at the end of a row beside its figures. */
interface Marks {
  odd: string[];
  /** By metric; empty for none. */
  without: readonly string[];
}

type CellsOf = (pairs: readonly Held[], marks: Marks) => Cell[];

/** The figures of one view as a table, every figure unrounded; what is partly known is named at the end of its row. */
export function tableOf(figures: Figures, names: TableNames & { currency: string }): Table {
  const { words } = englishFor(names);
  const { reasons } = words;
  const { metrics, series, breakdown } = figures;
  const isHeld = series ? series.lines.some((l) => l.compared !== null) : figures.against !== null;
  const noTarget = figures.against === AGAINST_TARGET ? words.noTarget : undefined;
  const against = figures.compared?.dates ?? figures.against ?? '';
  const metricCells = (pairs: readonly Held[], { odd, without }: Marks): Cell[] => {
    const figuresOf = pairs.flatMap((held, i) => {
      const m = metrics[i]!;
      const own = valueCell(held.current, m.unit, reasons);
      if (!isHeld) return [own];
      return [own, valueCell(held.compared, m.unit, reasons, noTarget), ...changeCells(held, m)];
    });
    const parts = pairs.flatMap(({ current, compared }, i) => [
      ...sharePart(metrics[i]!.label, current),
      ...sharePart(`${metrics[i]!.label}, ${against}`, compared),
    ]);
    return [...figuresOf, textOrNothing(parts), textOrNothing(odd), textOrNothing(leftOut(without))];
  };
  /** Said once where it is the same of all metrics. */
  const leftOut = (without: readonly string[]): string[] => {
    if (new Set(without).size === 1) return [...new Set(without)].filter((t) => t !== '');
    return without.flatMap((words, i) => (words === '' ? [] : [`${metrics[i]!.label} ${words}`]));
  };
  const named = (period: string) =>
    metrics.flatMap((m) => {
      const own = `${m.label}${period}`;
      if (!isHeld) return [own];
      const changes = [`${m.label}, change`, ...(m.unit === 'percent' ? [`${m.label}, change in points`] : [])];
      return [own, `${m.label}, ${against}`, ...changes];
    });
  const rows = series ? timeRows(figures, series, metricCells) : partRows(figures, metricCells);
  const first = series
    ? [
        series.step === 'day' ? 'Day' : 'First day',
        ...(series.step === 'day' ? [] : ['Last day']),
        ...(series.comparedTimes ? (series.step === 'day' ? ['Compared day'] : ['Compared from', 'Compared to']) : []),
        ...named(''),
      ]
    : [breakdown?.dimension.label ?? '', ...named(`, ${figures.period.dates}`)];
  return {
    author: names.agency,
    title: `${names.client}: ${metrics.map((m) => m.label).join(', ')}`,
    about: [
      figures.period.dates,
      ...(figures.compared ? [`compared with ${figures.compared.dates}`] : []),
      ...names.filter,
    ].map(harmless),
    head: [...first, PARTLY, ODD, EXCLUDED].map(harmless),
    rows,
    currency: names.currency,
  };
}

/** A figure beside what it is held against, and whether a change may be told. */
interface Held {
  current: Value | null;
  compared: Value | null;
  isTold: boolean;
}

const dateCell = (date: CivilDate | undefined): Cell => (date ? { kind: 'date', date } : { kind: 'empty' });

function timeRows(figures: Figures, series: NonNullable<Figures['series']>, cells: CellsOf): Cell[][] {
  const datesOf = (time: Range | null) =>
    series.step === 'day' ? [dateCell(time?.from)] : [dateCell(time?.from), dateCell(time?.to)];
  const comparedDates = (time: Range | null | undefined) => (series.comparedTimes ? datesOf(time ?? null) : []);
  const own = series.times.map((time, i) => [
    ...datesOf(time),
    ...comparedDates(series.comparedTimes?.[i]),
    ...cells(
      series.lines.map((l) => ({
        current: l.current[i] ?? null,
        compared: l.compared?.[i] ?? null,
        isTold: series.comparable[i]!,
      })),
      {
        odd: oddIn(figures, time, series.comparedTimes?.[i] ?? null),
        without: series.lines.map((l) => l.without[i]!),
      },
    ),
  ]);
  const beyond = series.beyond.map((time, i) => [
    ...datesOf(null),
    ...comparedDates(time),
    ...cells(
      series.lines.map((l) => ({ current: null, compared: l.beyond[i] ?? null, isTold: false })),
      { odd: oddIn(figures, null, time), without: [] },
    ),
  ]);
  return [...own, ...beyond];
}

function partRows(figures: Figures, cells: CellsOf): Cell[][] {
  const { breakdown, totals, period, compared } = figures;
  if (!breakdown) return [];
  const row = (label: string, pairs: readonly Pair[], odd: string[] = []) => [
    textCell(label),
    ...cells(
      pairs.map((p) => ({ ...p, isTold: true })),
      { odd, without: figures.excluded.map((e) => e?.words ?? '') },
    ),
  ];
  return [
    ...breakdown.rows.map((r) => row(r.name ?? r.label, r.cells)),
    ...(breakdown.other ? [row('Other', breakdown.other)] : []),
    row('All', totals, oddIn(figures, period, compared)),
  ];
}
