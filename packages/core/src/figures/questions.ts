import { addDays, type CivilDate, type Range } from '../calendar/index.ts';
import { aggregate, measuresOf } from './aggregate.ts';
import { type Breakdown, topOf } from './breakdown.ts';
import { byDay } from './byDay.ts';
import type { Filter } from './columns.ts';
import { missingDays } from './coverage.ts';
import { type Dataset, type DatasetShape, datasetFor } from './dataset.ts';
import { metricOf } from './library.ts';
import { type NotAvailable, na, type Value } from './value.ts';

/** What a block, a mail or a screen wants to know. Ranges are settled dates, so a question means one thing for ever. */
export type Question =
  | { op: 'total'; metric: string; range: Range; filter: Filter }
  | { op: 'byDay'; metric: string; range: Range; filter: Filter }
  | {
      op: 'top';
      metrics: string[];
      dimension: string;
      n: number;
      range: Range;
      compared: Range | null;
      filter: Filter;
      order?: 'current' | 'change';
    };

export type Answer =
  | { op: 'total'; value: Value }
  | { op: 'byDay'; values: (number | null)[] | NotAvailable }
  | { op: 'top'; breakdown: Breakdown | NotAvailable };

export type Answers = Record<string, Answer>;

const rangeKey = (r: Range | null): string => (r ? `${r.from}..${r.to}` : '-');
const filterKey = (filter: Filter): string => {
  const kept = Object.entries(filter);
  return kept.length === 0 ? '' : JSON.stringify(kept.sort(([a], [b]) => (a < b ? -1 : 1)));
};

/** The name under which a question's answer is kept: equal questions share one. */
export function keyOf(q: Question): string {
  const own =
    q.op === 'top'
      ? `${q.metrics.join(',')} by ${q.dimension} ${q.n} ${rangeKey(q.compared)} ${q.order ?? 'current'}`
      : q.metric;
  return `${q.op} ${own} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
}

const metricsOf = (q: Question): string[] => (q.op === 'top' ? q.metrics : [q.metric]);
const rangesOf = (q: Question): Range[] => (q.op === 'top' && q.compared ? [q.range, q.compared] : [q.range]);
const dimensionsOf = (q: Question): string[] => [...Object.keys(q.filter), ...(q.op === 'top' ? [q.dimension] : [])];
const measuresOfQuestion = (q: Question): string[] => [
  ...new Set(metricsOf(q).flatMap((key) => measuresOf(metricOf(key).aggregation))),
];

/** The dataset that answers a question, or null when none of the client's has its parts. */
export function datasetOf<T extends DatasetShape>(q: Question, datasets: readonly T[]): T | null {
  return datasetFor(datasets, measuresOfQuestion(q), dimensionsOf(q));
}

const readsLevels = (q: Question): boolean => metricsOf(q).some((key) => metricOf(key).aggregation.kind === 'level');
/** A level may be known from up to seven days before the day it is asked for. */
const withDaysBefore = (r: Range): Range => ({ from: addDays(r.from, -8), to: r.to });

/** What has to be read of one dataset for a set of questions. */
export interface Need<T extends DatasetShape = DatasetShape> {
  dataset: T;
  ranges: Range[];
  dimensions: string[];
  measures: string[];
}

/** One need for each dataset that any of the questions reads: each is read once for all of them. */
export function planReads<T extends DatasetShape>(questions: readonly Question[], datasets: readonly T[]): Need<T>[] {
  const needs = new Map<string, Need<T>>();
  const merge = <V>(into: V[], more: readonly V[]) => {
    for (const v of more) if (!into.includes(v)) into.push(v);
  };
  for (const q of questions) {
    const dataset = datasetOf(q, datasets);
    if (!dataset) continue;
    const need = needs.get(dataset.id) ?? { dataset, ranges: [], dimensions: [], measures: [] };
    needs.set(dataset.id, need);
    for (const r of rangesOf(q).map((range) => (readsLevels(q) ? withDaysBefore(range) : range))) {
      if (!need.ranges.some((x) => x.from === r.from && x.to === r.to)) need.ranges.push(r);
    }
    // A level's series is one combination of all dimensions.
    merge(need.dimensions, readsLevels(q) ? dataset.dimensions : dimensionsOf(q));
    merge(need.measures, measuresOfQuestion(q));
  }
  return [...needs.values()];
}

/** Answers one question from the datasets that were read for it. */
export function answer(q: Question, datasets: readonly Dataset[]): Answer {
  const dataset = datasetOf(q, datasets);
  const aggregations = metricsOf(q).map((key) => metricOf(key).aggregation);
  switch (q.op) {
    case 'total':
      return { op: 'total', value: dataset ? aggregate(dataset, aggregations[0]!, q.range, q.filter) : na('no-data') };
    case 'byDay':
      return { op: 'byDay', values: dataset ? byDay(dataset, aggregations[0]!, q.range, q.filter) : na('no-data') };
    case 'top':
      return {
        op: 'top',
        breakdown: dataset ? topOf(dataset, aggregations, q) : na('no-data'),
      };
  }
}

/** All answers by {@link keyOf}. */
export function answerAll(questions: readonly Question[], datasets: readonly Dataset[]): Answers {
  return Object.fromEntries(questions.map((q) => [keyOf(q), answer(q, datasets)]));
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
  datasets: readonly (DatasetShape & { covered: Dataset['covered']; firstDay: CivilDate })[],
): Lack[] {
  const orphans = new Set(questions.filter((q) => datasetOf(q, datasets) === null).flatMap(metricsOf));
  const lacks: Lack[] = orphans.size > 0 ? [{ kind: 'no-dataset', metrics: [...orphans].sort() }] : [];
  for (const { dataset, ranges } of planReads(questions, datasets)) {
    const missing = ranges.flatMap((r) => missingDays(dataset.covered, r, dataset.firstDay));
    if (missing.length > 0) lacks.push({ kind: 'days', dataset: dataset.name, datasetId: dataset.id, missing });
  }
  return lacks;
}
