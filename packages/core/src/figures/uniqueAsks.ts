import type { Range } from '../calendar/index.ts';
import { type Filter, filterKey } from './columns.ts';
import { type DatasetShape, datasetFor } from './dataset.ts';
import type { Aggregation } from './metric.ts';
import { dimensionsOf, type Knowledge, metricsOf, type Question, rangeKey, rangesOf } from './questions.ts';
import { inputsOf } from './sources.ts';

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
