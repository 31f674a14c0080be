import { lengthOf, type Range } from '../calendar/index.ts';
import { aggregate, measuresOf, type Typical, typical } from './aggregate.ts';
import type { MetricBook } from './book.ts';
import { STANDARD } from './book.ts';
import { type Breakdown, topOf } from './breakdown.ts';
import { byDay, type DailyValues, dailyFormula } from './byDay.ts';
import { type Filter, filterKey } from './columns.ts';
import { missingDays } from './coverage.ts';
import { type Dataset, type DatasetShape, datasetFor } from './dataset.ts';
import { evaluateFormula } from './formula/evaluate.ts';
import { keysOf, parseFormula } from './formula/parse.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { type Rhythm, rhythmOf } from './rhythm.ts';
import { type Target, targetAdds, targetOf } from './targets.ts';
import { isKnown, type NotAvailable, na, type Value } from './value.ts';
import { type Drivers, driversOf } from './why.ts';

/** What a block, a mail or a screen wants to know. Ranges are settled dates, so a question means one thing for ever. */
export type Question =
  | { op: 'total'; metric: string; range: Range; filter: Filter }
  | { op: 'byDay'; metric: string; range: Range; filter: Filter }
  /** One value for each of several ranges. */
  | { op: 'bySteps'; metric: string; ranges: readonly Range[]; filter: Filter }
  | {
      op: 'top';
      metrics: string[];
      dimension: string;
      n: number;
      range: Range;
      compared: Range | null;
      filter: Filter;
      order?: 'current' | 'change';
    }
  | { op: 'drivers'; metric: string; dimension: string; range: Range; compared: Range; filter: Filter }
  | { op: 'typical'; metric: string; ranges: readonly Range[]; filter: Filter }
  | { op: 'target'; metric: string; range: Range }
  | { op: 'rhythm'; metric: string; range: Range; filter: Filter; weekStart: number };

export type Answer =
  | { op: 'total'; value: Value }
  | { op: 'byDay'; values: DailyValues | NotAvailable }
  | { op: 'bySteps'; values: Value[] }
  | { op: 'top'; breakdown: Breakdown | NotAvailable }
  | { op: 'drivers'; drivers: Drivers | NotAvailable }
  | { op: 'typical'; value: Typical | NotAvailable }
  | { op: 'target'; value: Value }
  | { op: 'rhythm'; rhythm: Rhythm | NotAvailable };

export type Answers = Record<string, Answer>;

/** What questions are asked of, beside the facts: the client's metrics and its targets. */
export interface Knowledge {
  book: MetricBook;
  targets: readonly Target[];
}

const PLAIN: Knowledge = { book: STANDARD, targets: [] };

const rangeKey = (r: Range | null): string => (r ? `${r.from}..${r.to}` : '-');

/** The name under which a question's answer is kept: equal questions share one. */
export function keyOf(q: Question): string {
  switch (q.op) {
    case 'top':
      return `top ${q.metrics.join(',')} by ${q.dimension} ${q.n} ${rangeKey(q.compared)} ${q.order ?? 'current'} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'drivers':
      return `drivers ${q.metric} by ${q.dimension} ${rangeKey(q.compared)} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'bySteps':
    case 'typical':
      return `${q.op} ${q.metric} ${q.ranges.map(rangeKey).join(' ')} ${filterKey(q.filter)}`.trimEnd();
    case 'target':
      return `target ${q.metric} ${rangeKey(q.range)}`;
    case 'rhythm':
      return `rhythm ${q.metric} ${q.weekStart} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    default:
      return `${q.op} ${q.metric} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
  }
}

export const metricsOf = (q: Question): string[] => (q.op === 'top' ? q.metrics : [q.metric]);

function rangesOf(q: Question): readonly Range[] {
  switch (q.op) {
    case 'top':
      return q.compared ? [q.range, q.compared] : [q.range];
    case 'drivers':
      return [q.range, q.compared];
    case 'bySteps':
    case 'typical':
      return q.ranges;
    case 'target':
      return [];
    default:
      return [q.range];
  }
}

function dimensionsOf(q: Question): string[] {
  switch (q.op) {
    case 'top':
    case 'drivers':
      return [...Object.keys(q.filter), q.dimension];
    case 'rhythm':
      return [...Object.keys(q.filter), 'hour'];
    case 'target':
      return [];
    default:
      return Object.keys(q.filter);
  }
}

/** Operations that need rows of one dataset; the others can take each input of a formula from its own. */
const needsOneDataset = (q: Question): boolean => q.op === 'top' || q.op === 'drivers' || q.op === 'rhythm';

const inputsOf = (a: Aggregation): string[] => {
  if (a.kind !== 'derived') return [];
  const parsed = parseFormula(a.formula);
  return parsed.ok ? [...new Set(keysOf(parsed.tree).map((k) => k.key))] : [];
};

/** A dataset with the measures that a metric reads of it. */
interface Source<T> {
  dataset: T;
  measures: string[];
  level: boolean;
  unique: boolean;
}

/** Whether a metric is of a kind, or made from one that is. */
const involves = (kind: Aggregation['kind'], a: Aggregation, metrics: MetricLookup): boolean =>
  a.kind === kind || inputsOf(a).some((key) => involves(kind, metrics(key), metrics));

const sourceOf = <T>(dataset: T, measures: string[], of: readonly Aggregation[], metrics: MetricLookup): Source<T> => ({
  dataset,
  measures,
  level: of.some((a) => involves('level', a, metrics)),
  unique: of.some((a) => involves('unique', a, metrics)),
});

/**
 * Where a metric's figures come from: one dataset that has all its parts, or for a formula one for each input.
 * Null when the client's datasets lack any of them.
 */
function sourcesOf<T extends DatasetShape>(
  a: Aggregation,
  dimensions: readonly string[],
  datasets: readonly T[],
  metrics: MetricLookup,
  oneDataset: boolean,
): Source<T>[] | null {
  const measures = measuresOf(a, metrics);
  const dataset = datasetFor(datasets, measures, dimensions);
  if (dataset) return [sourceOf(dataset, measures, [a], metrics)];
  if (a.kind !== 'derived' || oneDataset) return null;
  const inputs = inputsOf(a).map((key) => sourcesOf(metrics(key), dimensions, datasets, metrics, false));
  return inputs.every((s) => s !== null) ? inputs.flat() : null;
}

/** For a breakdown: the dataset that can answer most of its metrics, the first one always; null when none can. */
function datasetForTop<T extends DatasetShape>(
  q: Extract<Question, { op: 'top' }>,
  datasets: readonly T[],
  metrics: MetricLookup,
): T | null {
  const all = [...new Set(q.metrics.flatMap((key) => measuresOf(metrics(key), metrics)))];
  return (
    datasetFor(datasets, all, dimensionsOf(q)) ??
    datasetFor(datasets, measuresOf(metrics(q.metrics[0]!), metrics), dimensionsOf(q))
  );
}

const holds = (dataset: DatasetShape, a: Aggregation, metrics: MetricLookup): boolean =>
  measuresOf(a, metrics).every((m) => dataset.measures.includes(m));

function sourcesOfQuestion<T extends DatasetShape>(
  q: Question,
  datasets: readonly T[],
  { book }: Knowledge,
): Source<T>[] | null {
  if (q.op === 'target') return [];
  if (q.op === 'top') {
    const dataset = datasetForTop(q, datasets, book.lookup);
    if (!dataset) return null;
    const own = q.metrics.map(book.lookup).filter((a) => holds(dataset, a, book.lookup));
    const measures = [...new Set(own.flatMap((a) => measuresOf(a, book.lookup)))];
    return [sourceOf(dataset, measures, own, book.lookup)];
  }
  return sourcesOf(book.lookup(q.metric), dimensionsOf(q), datasets, book.lookup, needsOneDataset(q));
}

/** The dataset that answers a question, the first of them for a formula over several; null when there is none. */
export function datasetOf<T extends DatasetShape>(
  q: Question,
  datasets: readonly T[],
  knowledge: Knowledge = PLAIN,
): T | null {
  return sourcesOfQuestion(q, datasets, knowledge)?.[0]?.dataset ?? null;
}

/** What has to be read of one dataset for a set of questions. */
export interface Need<T extends DatasetShape = DatasetShape> {
  dataset: T;
  ranges: Range[];
  dimensions: string[];
  measures: string[];
  /** Numbers that the feed counted itself are wanted too. */
  uniques: boolean;
}

/** One need for each dataset that any of the questions reads: each is read once for all of them. */
export function planReads<T extends DatasetShape>(
  questions: readonly Question[],
  datasets: readonly T[],
  knowledge: Knowledge = PLAIN,
): Need<T>[] {
  const needs = new Map<string, Need<T>>();
  const merge = <V>(into: V[], more: readonly V[]) => {
    for (const v of more) if (!into.includes(v)) into.push(v);
  };
  for (const q of questions) {
    for (const { dataset, measures, level, unique } of sourcesOfQuestion(q, datasets, knowledge) ?? []) {
      const need = needs.get(dataset.id) ?? { dataset, ranges: [], dimensions: [], measures: [], uniques: false };
      needs.set(dataset.id, need);
      need.uniques ||= unique;
      // A level is what was last known of every series that there ever was: one combination of all dimensions.
      for (const r of rangesOf(q).map((range) => (level ? { from: dataset.firstDay, to: range.to } : range))) {
        if (!need.ranges.some((x) => x.from === r.from && x.to === r.to)) need.ranges.push(r);
      }
      merge(need.dimensions, level ? dataset.dimensions : dimensionsOf(q));
      merge(need.measures, measures);
    }
  }
  return [...needs.values()];
}

/** Why no dataset answers: because of the filter or breakdown alone, or because none has the measures. */
function whyNone(q: Question, datasets: readonly DatasetShape[], { book }: Knowledge): NotAvailable {
  const has = metricsOf(q).some((key) => sourcesOf(book.lookup(key), [], datasets, book.lookup, false) !== null);
  return na(has ? 'filtered-out-of-feed' : 'no-data');
}

/** Asks a metric of the dataset that has its parts, or a formula's inputs each of their own. */
function across<T>(
  a: Aggregation,
  filter: Filter,
  datasets: readonly Dataset[],
  metrics: MetricLookup,
  of: { one(dataset: Dataset, a: Aggregation): T; formula(formula: string, inputOf: (key: string) => T): T; none(): T },
): T {
  const dataset = datasetFor(datasets, measuresOf(a, metrics), Object.keys(filter));
  if (dataset) return of.one(dataset, a);
  if (a.kind !== 'derived') return of.none();
  return of.formula(a.formula, (key) => across(metrics(key), filter, datasets, metrics, of));
}

const plainValue = (v: Typical | NotAvailable): Value => ('na' in v ? v : { value: v.value });

function evaluate(formula: string, inputOf: (key: string) => Value): Value {
  const parsed = parseFormula(formula);
  return parsed.ok ? evaluateFormula(parsed.tree, inputOf) : na('no-data');
}

function totalOf(
  metric: string,
  range: Range,
  filter: Filter,
  datasets: readonly Dataset[],
  { book }: Knowledge,
  none: NotAvailable,
): Value {
  return across<Value>(book.lookup(metric), filter, datasets, book.lookup, {
    one: (d, a) => aggregate(d, a, range, filter, book.lookup),
    formula: evaluate,
    none: () => none,
  });
}

function typicalAcross(
  q: Extract<Question, { op: 'typical' }>,
  datasets: readonly Dataset[],
  { book }: Knowledge,
  none: NotAvailable,
): Typical | NotAvailable {
  return across<Typical | NotAvailable>(book.lookup(q.metric), q.filter, datasets, book.lookup, {
    one: (d, a) => typical(d, a, q.ranges, q.filter, book.lookup),
    formula(formula, inputOf) {
      const parsed = parseFormula(formula);
      if (!parsed.ok) return none;
      const inputs = new Map(keysOf(parsed.tree).map(({ key }) => [key, inputOf(key)]));
      const value = evaluateFormula(parsed.tree, (key) => plainValue(inputs.get(key)!));
      if (!isKnown(value)) return value;
      const counts = [...inputs.values()].map((t) => ('na' in t ? 0 : t.count));
      return { value: value.value, count: Math.min(q.ranges.length, ...counts), of: q.ranges.length };
    },
    none: () => none,
  });
}

function topAcross(
  q: Extract<Question, { op: 'top' }>,
  datasets: readonly Dataset[],
  { book }: Knowledge,
  none: NotAvailable,
): Breakdown | NotAvailable {
  const dataset = datasetForTop(q, datasets, book.lookup);
  if (!dataset) return none;
  const aggregations = q.metrics.map(book.lookup);
  const answered = aggregations.filter((a) => holds(dataset, a, book.lookup));
  const found = topOf(dataset, answered, q, book.lookup);
  if ('na' in found || answered.length === aggregations.length) return found;
  // Metrics of other datasets are not known by this dimension: they keep their column.
  const lack = { current: na('filtered-out-of-feed'), compared: q.compared ? na('filtered-out-of-feed') : null };
  const widen = <P>(cells: P[]) => {
    const rest = [...cells];
    return aggregations.map((a) => (answered.includes(a) ? rest.shift()! : (lack as P)));
  };
  return {
    ...found,
    rows: found.rows.map((r) => ({ ...r, cells: widen(r.cells) })),
    other: found.other && widen(found.other),
    total: widen(found.total),
  };
}

/** Answers one question from the datasets that were read for it. */
export function answer(q: Question, datasets: readonly Dataset[], knowledge: Knowledge = PLAIN): Answer {
  const { book, targets } = knowledge;
  const none = whyNone(q, datasets, knowledge);
  switch (q.op) {
    case 'total':
      return { op: 'total', value: totalOf(q.metric, q.range, q.filter, datasets, knowledge, none) };
    case 'bySteps':
      return {
        op: 'bySteps',
        values: q.ranges.map((range) => totalOf(q.metric, range, q.filter, datasets, knowledge, none)),
      };
    case 'byDay': {
      const days = lengthOf(q.range);
      const values = across<DailyValues | null>(book.lookup(q.metric), q.filter, datasets, book.lookup, {
        one: (d, a) => byDay(d, a, q.range, q.filter, book.lookup),
        formula: (formula, inputOf) => dailyFormula(formula, (key) => inputOf(key) ?? [], days),
        none: () => null,
      });
      return { op: 'byDay', values: values ?? none };
    }
    case 'top':
      return { op: 'top', breakdown: topAcross(q, datasets, knowledge, none) };
    case 'drivers': {
      const dataset = datasetOf(q, datasets, knowledge);
      const drivers = dataset ? driversOf(dataset, book.lookup(q.metric), q, book.lookup) : none;
      return { op: 'drivers', drivers };
    }
    case 'typical':
      return { op: 'typical', value: typicalAcross(q, datasets, knowledge, none) };
    case 'target': {
      const own = targets.filter((t) => t.metric === q.metric);
      return { op: 'target', value: targetOf(targetAdds(book.lookup(q.metric), book.lookup), own, q.range) };
    }
    case 'rhythm': {
      const dataset = datasetOf(q, datasets, knowledge);
      const rhythm = dataset && rhythmOf(dataset, book.lookup(q.metric), q.range, q.filter, q.weekStart);
      return { op: 'rhythm', rhythm: rhythm ?? (dataset ? na('not-additive') : none) };
    }
  }
}

/** The one value of an answer that has one: of a total, a usual level or a target. */
export function valueOfAnswer(found: Answer | undefined | null): Value | null {
  if (found?.op === 'total' || found?.op === 'target') return found.value;
  return found?.op === 'typical' ? plainValue(found.value) : null;
}

/** All answers by {@link keyOf}. */
export function answerAll(
  questions: readonly Question[],
  datasets: readonly Dataset[],
  knowledge: Knowledge = PLAIN,
): Answers {
  return Object.fromEntries(questions.map((q) => [keyOf(q), answer(q, datasets, knowledge)]));
}

/** What keeps an edition from being drawn. */
export type Lack =
  | { kind: 'no-dataset'; metrics: string[] }
  | { kind: 'days'; dataset: string; datasetId: string; missing: Range[] };

/**
 * The freshness gate: every day that the questions read, from each dataset's first day on, has to have been
 * delivered. Days before the first day are no lack: their figures are `before-start`, and nothing is compared.
 */
export function lacksOf(
  questions: readonly Question[],
  datasets: readonly (DatasetShape & { covered: Dataset['covered'] })[],
  knowledge: Knowledge = PLAIN,
): Lack[] {
  const orphans = new Set(
    questions.filter((q) => sourcesOfQuestion(q, datasets, knowledge) === null).flatMap(metricsOf),
  );
  const lacks: Lack[] = orphans.size > 0 ? [{ kind: 'no-dataset', metrics: [...orphans].sort() }] : [];
  // A usual level states itself how many ranges it is made from: their days are not waited for.
  const asked = questions.filter((q) => q.op !== 'typical');
  for (const { dataset, ranges } of planReads(asked, datasets, knowledge)) {
    const missing = ranges.flatMap((r) => missingDays(dataset.covered, r, dataset.firstDay));
    if (missing.length > 0) lacks.push({ kind: 'days', dataset: dataset.name, datasetId: dataset.id, missing });
  }
  return lacks;
}

/** A number that only the feed can count: a unique over exactly this range and filter. */
export interface UniqueAsk<T extends DatasetShape = DatasetShape> {
  dataset: T;
  measure: string;
  range: Range;
  filter: Filter;
}

/** Every unique that the questions need, once; those of a breakdown for each of the labels given for it. */
export function uniquesOf<T extends DatasetShape>(
  questions: readonly Question[],
  datasets: readonly T[],
  knowledge: Knowledge,
  labelsOf: (dataset: T, dimension: string) => readonly string[],
): UniqueAsk<T>[] {
  const asks = new Map<string, UniqueAsk<T>>();
  const { lookup } = knowledge.book;
  const visit = (a: Aggregation, q: Question): void => {
    if (a.kind === 'derived') for (const key of inputsOf(a)) visit(lookup(key), q);
    if (a.kind !== 'unique') return;
    const dataset = datasetFor(datasets, [a.measure], dimensionsOf(q));
    if (!dataset || q.op === 'target' || q.op === 'byDay' || q.op === 'drivers' || q.op === 'rhythm') return;
    const filters: Filter[] = [q.filter];
    if (q.op === 'top') {
      for (const label of labelsOf(dataset, q.dimension)) filters.push({ ...q.filter, [q.dimension]: [label] });
    }
    for (const range of rangesOf(q)) {
      for (const filter of filters) {
        const key = `${dataset.id} ${a.measure} ${rangeKey(range)} ${filterKey(filter)}`;
        asks.set(key, { dataset, measure: a.measure, range, filter });
      }
    }
  };
  for (const q of questions) for (const key of metricsOf(q)) visit(lookup(key), q);
  return [...asks.values()];
}
