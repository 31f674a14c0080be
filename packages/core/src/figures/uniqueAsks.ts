import type { Range } from '../calendar/index.ts';
import { type Dataset, type DatasetShape, datasetFor } from './dataset.ts';
import { countedFor } from './excluded.ts';
import { filterKey, isPlain, type PlainFilter } from './filter.ts';
import type { Lack } from './lacks.ts';
import type { Aggregation } from './metric.ts';
import { dimensionsOf, type Knowledge, metricsOf, type Question, rangeKey, rangesOf } from './questions.ts';
import { inputsOf } from './sources.ts';

/** A number that only the feed can count: a unique over exactly this range and filter. */
export interface UniqueAsk<T extends DatasetShape = DatasetShape> {
  dataset: T;
  measure: string;
  range: Range;
  filter: PlainFilter;
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
    // No service can count the people of two.
    if (
      !dataset ||
      dataset.parts !== undefined ||
      q.op === 'target' ||
      q.op === 'byDay' ||
      q.op === 'drivers' ||
      q.op === 'oddDays' ||
      q.op === 'rhythm' ||
      q.op === 'pace' ||
      q.op === 'links' ||
      q.op === 'topByDay' ||
      q.op === 'peers'
    )
      return;
    // A service can be asked for what is listed, and for no other rule.
    const own = q.filter;
    if (!isPlain(own)) return;
    const filters: PlainFilter[] = [own];
    if (q.op === 'top' || q.op === 'items') {
      for (const label of labelsOf(dataset, q.dimension)) filters.push({ ...own, [q.dimension]: [label] });
    }
    for (const range of rangesOf(q)) {
      // Of a range that lost a day nobody is asked (SEMANTICS §6).
      if (countedFor(range, metricsOf(q), knowledge.book).without) continue;
      for (const filter of filters) {
        const key = `${dataset.id} ${a.measure} ${rangeKey(range)} ${filterKey(filter)}`;
        asks.set(key, { dataset, measure: a.measure, range, filter });
      }
    }
  };
  for (const q of questions) for (const key of metricsOf(q)) visit(lookup(key), q);
  return [...asks.values()];
}

/**
 * What keeps an edition from being drawn for uniques: ranges that a question shows and the feed has not counted. Those
 * before the dataset's first day are no lack; nor are the single labels of a breakdown, which say so where they stand.
 */
export function uncountedOf(
  questions: readonly Question[],
  datasets: readonly Dataset[],
  knowledge: Knowledge,
): Extract<Lack, { kind: 'uncounted' }>[] {
  const lacks = new Map<string, Extract<Lack, { kind: 'uncounted' }>>();
  // A usual level states itself how many ranges it is made from.
  const asked = questions.filter((q) => q.op !== 'typical' && q.op !== 'typicalSteps');
  for (const { dataset, measure, range, filter } of uniquesOf(asked, datasets, knowledge, () => [])) {
    const counted = (dataset.reported ?? []).some(
      (r) =>
        r.measure === measure &&
        r.from === range.from &&
        r.to === range.to &&
        filterKey(r.filter) === filterKey(filter),
    );
    if (counted || range.to < dataset.firstDay) continue;
    const lack = lacks.get(dataset.id) ?? {
      kind: 'uncounted',
      dataset: dataset.name,
      datasetId: dataset.id,
      ranges: [],
    };
    lack.ranges.push(range);
    lacks.set(dataset.id, lack);
  }
  return [...lacks.values()];
}
