import { type CivilDate, fromDayNumber, type Range } from '@chronicon/core/calendar';
import {
  type Aggregation,
  type Answers,
  aggregate,
  answerAll,
  type CountedRange,
  countedDays,
  countedFor,
  coveredDays,
  type Exclusion,
  type Filter,
  type Knowledge,
  keptRows,
  keysOf,
  type MetricSettings,
  measuresOf,
  metricBook,
  missingDays,
  parseFormula,
  planReads,
  type Question,
  rowsOf,
  type Target,
  type Value,
} from '@chronicon/core/figures';
import type { Kysely } from 'kysely';
import type { ColumnCache } from '../facts/columnCache.ts';
import { type Fetch, fetchesOf } from '../facts/coverage.ts';
import type { CoveredShape } from '../facts/coveredShape.ts';
import { datasetsOf, inSnapshot, readNeeds } from '../facts/factReader.ts';
import type { FactTables } from '../facts/schema.ts';

type Facts = Kysely<FactTables>;

/** What a client's figures are asked of: plain data, so that it can be handed to a worker. */
export interface Basis {
  clientId: string;
  metrics: MetricSettings;
  /** The same under the usual assumptions, where others are made. */
  usual?: MetricSettings | undefined;
  targets: Target[];
  /** Left out by what was kept before they were read. */
  holidays?: CivilDate[];
  /** Days that are left out of the client's figures; left out for none. */
  excluded?: readonly Exclusion[] | undefined;
}

/** What questions are asked of, beside the facts. */
export const knowledgeOf = (
  basis: Pick<Basis, 'metrics' | 'usual' | 'targets' | 'holidays' | 'excluded'>,
): Knowledge => ({
  book: metricBook(basis.metrics),
  usual: basis.usual && metricBook(basis.usual),
  targets: basis.targets,
  holidays: basis.holidays,
  excluded: basis.excluded,
});

export interface Asked {
  answers: Answers;
  shapes: CoveredShape[];
}

/** Who answers questions on a client's figures: elsewhere, so that adding up keeps nobody waiting. */
export interface Asks {
  workers: { ask(basis: Basis, questions: Question[]): Promise<Asked> };
}

/** Answers questions in one read transaction: each dataset is read once. */
export async function askAll(
  facts: Facts,
  basis: Basis,
  questions: readonly Question[],
  cache?: ColumnCache,
): Promise<Asked> {
  const knowledge = knowledgeOf(basis);
  return inSnapshot(facts, async (tx) => {
    const shapes = await datasetsOf(tx, basis.clientId);
    const datasets = await readNeeds(tx, planReads(questions, shapes, knowledge), cache);
    return { answers: answerAll(questions, datasets, knowledge), shapes };
  });
}

/** One figure: a metric over settled dates and a filter. */
export interface OneFigure {
  metric: string;
  range: CountedRange;
  filter: Filter;
}

/** What a figure is made from: a metric of the client's, or a bare measure added up. */
export interface FigureInput {
  metric: string | null;
  measure: string;
  value: Value;
}

export interface FigureSource {
  datasetId: string;
  feedId: string;
  name: string;
  firstDay: CivilDate;
  days: number;
  delivered: number;
  missing: Range[];
  fetches: Fetch[];
  rows: number;
}

export interface Explained {
  value: Value;
  inputs: FigureInput[];
  sources: FigureSource[];
}

/** The measures or metrics that an aggregation names, as aggregations of their own. */
function partsOf(a: Aggregation, knowledge: Knowledge): { metric: string | null; measure: string; of: Aggregation }[] {
  const { book } = knowledge;
  const summed = (measure: string) => {
    const of: Aggregation = { kind: 'sum', measure };
    const named = book.metrics.find((m) => m.aggregation.kind === 'sum' && m.aggregation.measure === measure);
    return { metric: named?.key ?? null, measure, of };
  };
  switch (a.kind) {
    case 'ratio':
      return [summed(a.num), summed(a.den)];
    case 'weighted':
      return [summed(a.weight)];
    case 'derived': {
      const parsed = parseFormula(a.formula);
      const keys = parsed.ok ? [...new Set(keysOf(parsed.tree).map((k) => k.key))] : [];
      return keys.map((key) => ({ metric: key, measure: key, of: book.lookup(key) }));
    }
    default:
      return [];
  }
}

/** How many rows of the range pass the filter, and those row numbers themselves. */
function rowsBehindIn(dataset: Parameters<typeof aggregate>[0], range: CountedRange, filter: Filter): number[] {
  const { start, end } = rowsOf(dataset.columns, range);
  const keep = keptRows(dataset.columns, filter, range.without);
  const rows: number[] = [];
  for (let i = start; i < end; i++) if (keep === null || keep[i] === 1) rows.push(i);
  return rows;
}

/** The question of one figure; a level is read from its range's last days on, so its rows are those of the range. */
const questionOf = ({ metric, range, filter }: OneFigure): Question => ({ op: 'total', metric, range, filter });

/** How one figure came about: its inputs, its datasets with their coverage, and how many rows stand behind it. */
export async function explain(facts: Facts, basis: Basis, figure: OneFigure): Promise<Explained> {
  const knowledge = knowledgeOf(basis);
  const { filter } = figure;
  const range = countedFor(figure.range, [figure.metric], knowledge.book);
  const aggregation = knowledge.book.lookup(figure.metric);
  const parts = partsOf(aggregation, knowledge);
  return inSnapshot(facts, async (tx) => {
    const shapes = await datasetsOf(tx, basis.clientId);
    const needs = planReads([questionOf(figure)], shapes, knowledge);
    const datasets = await readNeeds(tx, needs);
    const value = Object.values(answerAll([questionOf(figure)], datasets, knowledge))[0]!;
    const inputs = parts.map(({ metric, measure, of }): FigureInput => {
      const own = measuresOf(of, knowledge.book.lookup);
      const dataset = datasets.find((d) => own.every((m) => m in d.columns.measures));
      return {
        metric,
        measure,
        value: dataset ? aggregate(dataset, of, range, filter, knowledge.book.lookup) : { na: 'no-data' },
      };
    });
    const sources: FigureSource[] = [];
    for (const dataset of datasets) {
      sources.push({
        datasetId: dataset.id,
        feedId: shapes.find((s) => s.id === dataset.id)!.feedId,
        name: dataset.name,
        firstDay: dataset.firstDay,
        days: countedDays(range),
        delivered: coveredDays(dataset.covered, range),
        missing: missingDays(dataset.covered, range, dataset.firstDay),
        fetches: await fetchesOf(tx, dataset.id, range),
        rows: rowsBehindIn(dataset, range, filter).length,
      });
    }
    return { value: value.op === 'total' ? value.value : { na: 'no-data' }, inputs, sources };
  });
}

export interface RowsPage {
  columns: string[];
  rows: (string | number)[][];
  total: number;
}

export const ROWS_A_PAGE = 100;

/** A page, from 1, of the rows of one of a figure's datasets: day, dimensions, the measures that it reads. */
export async function rowsBehind(
  facts: Facts,
  basis: Basis,
  figure: OneFigure,
  source: number,
  page: number,
): Promise<RowsPage> {
  const knowledge = knowledgeOf(basis);
  return inSnapshot(facts, async (tx) => {
    const needs = planReads([questionOf(figure)], await datasetsOf(tx, basis.clientId), knowledge);
    const need = needs[source];
    if (!need) return { columns: [], rows: [], total: 0 };
    const { dimensions } = need.dataset;
    const [dataset] = await readNeeds(tx, [{ ...need, dimensions: [...dimensions] }]);
    const { columns } = dataset!;
    const range = countedFor(figure.range, [figure.metric], knowledge.book);
    const all = rowsBehindIn(dataset!, range, figure.filter);
    const from = (page - 1) * ROWS_A_PAGE;
    return {
      columns: ['day', ...dimensions, ...need.measures],
      total: all.length,
      rows: all
        .slice(from, from + ROWS_A_PAGE)
        .map((i) => [
          fromDayNumber(columns.days[i]!),
          ...dimensions.map((d) => columns.dims[d]!.labels[columns.dims[d]!.codes[i]!]!),
          ...need.measures.map((m) => columns.measures[m]![i]!),
        ]),
    };
  });
}
