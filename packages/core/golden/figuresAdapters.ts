import { type Range, toDayNumber } from '../src/calendar/index.ts';
import {
  type Aggregation,
  aggregate,
  type Change,
  type CountedRange,
  changeOf,
  checkFormula,
  coverageOf,
  type DailyHistory,
  type Dataset,
  daysToReach,
  driversOfRatio,
  driversOfSum,
  evaluateFormula,
  excludeDays,
  excludedDaysOf,
  type Filter,
  isKnown,
  type KnownMetrics,
  type MetricUnit,
  type NotAvailable,
  type Part,
  type PlainFilter,
  type Polarity,
  paceOf,
  pairSteps,
  parseFormula,
  perDay,
  projectLevel,
  type RatioPart,
  type Step,
  sharesOf,
  targetOf,
  topOf,
  typical,
  type Value,
} from '../src/figures/index.ts';

interface DatasetIn {
  firstDay: string;
  covered: [string, string][];
  dimensions: string[];
  rows: { day: string; dims: Record<string, string>; m: Record<string, number> }[];
  reported?: { metric: string; from: string; to: string; filter: PlainFilter; value: number }[];
}

function columnsOf(
  rows: DatasetIn['rows'],
  dimensions: readonly string[],
  measures: readonly string[],
): Dataset['columns'] {
  const sorted = [...rows].sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
  return {
    days: Int32Array.from(sorted, (r) => toDayNumber(r.day)),
    dims: Object.fromEntries(
      dimensions.map((d) => {
        const labels = [...new Set(sorted.map((r) => r.dims[d] ?? ''))];
        return [d, { labels, codes: Int32Array.from(sorted, (r) => labels.indexOf(r.dims[d] ?? '')) }];
      }),
    ),
    measures: Object.fromEntries(measures.map((m) => [m, Float64Array.from(sorted, (r) => r.m[m] ?? 0)])),
  };
}

/** Rows that lack a measure altogether are no rows of a metric that reads it: the vectors mix datasets that way. */
function datasetOf(d: DatasetIn, measure: string | null): Dataset {
  const rows = measure === null ? d.rows : d.rows.filter((r) => measure in r.m);
  const measures = [...new Set(d.rows.flatMap((r) => Object.keys(r.m)))];
  const days = d.covered.flatMap(([from, to]) => {
    const start = toDayNumber(from);
    return Array.from({ length: toDayNumber(to) - start + 1 }, (_, i) => start + i);
  });
  return {
    id: 'd',
    name: 'd',
    firstDay: d.firstDay,
    dimensions: d.dimensions,
    measures,
    covered: coverageOf(days),
    columns: columnsOf(rows, d.dimensions, measures),
    reported: (d.reported ?? []).map(({ metric, ...r }) => ({ ...r, measure: metric })),
  };
}

interface Ask {
  dataset: DatasetIn;
  metrics: Record<string, Aggregation>;
  metric: string;
  filter: Filter;
}

type AggregationIn =
  | ({ op: 'value' | 'perDay'; range: Range } & Ask)
  | ({ op: 'typical'; ranges: Range[] } & Ask)
  | { op: 'formula'; formula: string; values: Record<string, number | NotAvailable> }
  | { op: 'save'; key: string; formula: string; metrics: KnownMetrics }
  | { op: 'change'; unit: MetricUnit; polarity: Polarity; current: Value; compared: Value };

const plain = (v: Value): unknown => (isKnown(v) ? { ...v, partial: v.partial ?? false } : v);
const bare = (v: Value): unknown => (isKnown(v) ? { value: v.value } : v);

/** A dataset for a metric, with a column for every measure that any of the metrics reads. */
function datasetFor(of: DatasetIn, aggregation: Aggregation, all: readonly Aggregation[]): Dataset {
  const dataset = datasetOf(of, aggregation.kind === 'level' ? aggregation.measure : null);
  for (const name of all.flatMap((a) => ('measure' in a ? [a.measure] : 'num' in a ? [a.num, a.den] : []))) {
    if (!(name in dataset.columns.measures)) {
      (dataset.columns.measures as Record<string, Float64Array>)[name] = new Float64Array(dataset.columns.days.length);
    }
  }
  return dataset;
}

function ofDataset(c: Extract<AggregationIn, Ask>): unknown {
  const aggregation = c.metrics[c.metric]!;
  const dataset = datasetFor(c.dataset, aggregation, Object.values(c.metrics));
  const lookup = (key: string) => c.metrics[key]!;
  if (c.op === 'typical') return typical(dataset, aggregation, c.ranges, c.filter, lookup);
  const value = aggregate(dataset, aggregation, c.range, c.filter, lookup);
  return c.op === 'perDay' ? bare(perDay(value, c.range)) : plain(value);
}

function save(c: Extract<AggregationIn, { op: 'save' }>, expected: unknown): unknown {
  const fault = checkFormula(c.key, c.formula, c.metrics);
  if (!fault) return { ok: true };
  const { error, within } = expected as { error: string[]; within: [number, number] };
  // Any one of the codes, at any place within the bounds: a hit stands for the vector's own words.
  return {
    error: error?.includes(fault.code) ? error : [fault.code],
    within: within && fault.at >= within[0] && fault.at <= within[1] ? within : [fault.at, fault.at],
  };
}

const change = (c: Change): unknown => ({ ...c, new: c.new ?? false });

export function aggregation(c: AggregationIn, expected: unknown): unknown {
  switch (c.op) {
    case 'formula': {
      const parsed = parseFormula(c.formula);
      if (!parsed.ok) return parsed.fault;
      return bare(
        evaluateFormula(parsed.tree, (key) => {
          const v = c.values[key]!;
          return typeof v === 'number' ? { value: v } : v;
        }),
      );
    }
    case 'save':
      return save(c, expected);
    case 'change':
      return change(changeOf(c.current, c.compared, c.unit, c.polarity));
    default:
      return ofDataset(c);
  }
}

type Row = Part | RatioPart;
type BreakdownIn =
  | {
      op: 'top';
      kind: 'sum' | 'ratio' | 'unique';
      n: number;
      order: 'current' | 'change';
      current: Row[];
      compared: Row[] | null;
      total?: { current: number; compared?: number };
    }
  | { op: 'share'; rows: Part[]; limit: number }
  | { op: 'drivers'; kind: 'sum'; current: Part[]; compared: Part[] }
  | { op: 'drivers'; kind: 'ratio'; current: RatioPart[]; compared: RatioPart[] };

const NOW = '2026-01-02';
const BEFORE = '2026-01-01';
const dayRange = (day: string): Range => ({ from: day, to: day });

/** Lists of rows as a dataset of two days. */
function twoDays(c: Extract<BreakdownIn, { op: 'top' }>): Dataset {
  const rowsOf = (rows: Row[], day: string) =>
    rows.map((r) => ({
      day,
      dims: { label: r.label },
      m: 'value' in r ? { value: r.value } : { num: r.num, den: r.den },
    }));
  const reportedOf = (rows: Row[], day: string, total: number | undefined) => [
    ...rows.map((r) => ({ metric: 'value', ...dayRange(day), filter: { label: [r.label] }, value: (r as Part).value })),
    ...(total === undefined ? [] : [{ metric: 'value', ...dayRange(day), filter: {}, value: total }]),
  ];
  const unique = c.kind === 'unique';
  return datasetOf(
    {
      firstDay: BEFORE,
      covered: [[BEFORE, NOW]],
      dimensions: ['label'],
      rows: unique ? [] : [...rowsOf(c.compared ?? [], BEFORE), ...rowsOf(c.current, NOW)],
      reported: unique
        ? [...reportedOf(c.compared ?? [], BEFORE, c.total?.compared), ...reportedOf(c.current, NOW, c.total?.current)]
        : [],
    },
    null,
  );
}

function top(c: Extract<BreakdownIn, { op: 'top' }>): unknown {
  const dataset = twoDays(c);
  for (const m of ['value', 'num', 'den']) {
    (dataset.columns.measures as Record<string, Float64Array>)[m] ??= new Float64Array(dataset.columns.days.length);
  }
  const metric: Aggregation =
    c.kind === 'ratio' ? { kind: 'ratio', num: 'num', den: 'den' } : { kind: c.kind, measure: 'value' };
  const found = topOf(dataset, [metric], {
    dimension: 'label',
    n: c.n,
    range: dayRange(NOW),
    compared: c.compared && dayRange(BEFORE),
    filter: {},
    order: c.order,
  });
  if ('na' in found) return found;
  const cell = (v: Value | null) => (v === null ? undefined : isKnown(v) ? v.value : v);
  const pair = (cells: { current: Value; compared: Value | null }[]) => ({
    current: cell(cells[0]!.current),
    compared: cell(cells[0]!.compared),
  });
  return {
    rows: found.rows.map((r) => ({
      label: r.label,
      ...(r.status !== 'gone' && { current: cell(r.cells[0]!.current) }),
      ...(r.status !== 'new' && { compared: cell(r.cells[0]!.compared) }),
      ...(c.compared && { status: r.status }),
    })),
    other: found.other && pair(found.other),
    total: pair(found.total),
    new: found.fresh,
    gone: found.gone,
  };
}

export function breakdown(c: BreakdownIn): unknown {
  switch (c.op) {
    case 'top':
      return top(c);
    case 'share':
      return sharesOf(c.rows, c.limit);
    case 'drivers':
      return c.kind === 'sum' ? driversOfSum(c.current, c.compared) : driversOfRatio(c.current, c.compared);
  }
}

interface ExcludedIn {
  dataset: DatasetIn;
  metric: Aggregation;
  period: Range;
  compared: Range | null;
  excluded: string[];
}

export function excluded(c: ExcludedIn): unknown {
  const dataset = datasetFor(c.dataset, c.metric, [c.metric]);
  const { period, compared } = excludeDays(
    c.period,
    c.compared,
    c.excluded.map((day) => ({ from: day, to: day })),
  );
  const valueOver = (range: CountedRange) => plain(aggregate(dataset, c.metric, range, {}));
  return {
    current: valueOver(period),
    compared: compared && valueOver(compared),
    leftOut: { period: excludedDaysOf(period), compared: compared ? excludedDaysOf(compared) : [] },
  };
}

type PaceIn =
  | {
      op: 'pace';
      asOf: string;
      weekStart: number;
      fiscalStart: number;
      unit: 'week' | 'month' | 'quarter' | 'year';
      fiscal?: true;
      history: DailyHistory;
    }
  | { op: 'target'; kind: 'sum' | 'ratio' | 'level'; targets: { month: string; value: number }[]; range: Range }
  | { op: 'project'; k: 7 | 28; levels: { values: number[] }; daysAhead: number }
  | { op: 'reach'; k: 7 | 28; levels: { values: number[] }; target: number };

export function pace(c: PaceIn): unknown {
  switch (c.op) {
    case 'pace':
      return bare(paceOf(c.history, c.asOf, c, c));
    case 'target':
      return bare(
        targetOf(
          c.kind === 'sum',
          c.targets.map(({ month, value }) => ({ metric: 'm', value, span: 'month', from: month, repeats: false })),
          c.range,
        ),
      );
    case 'project':
      return { value: projectLevel(c.levels.values, c.k, c.daysAhead) };
    case 'reach': {
      const days = daysToReach(c.levels.values, c.k, c.target);
      return days === null ? { never: true } : { days };
    }
  }
}

export const steps = (c: { period: Range; compared: Range; step: Step; weekStart: number }): unknown =>
  pairSteps(c.period, c.compared, c.step, c.weekStart);
