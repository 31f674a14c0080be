import { measuresOf } from './aggregate.ts';
import type { CountedRange } from './countedRange.ts';
import { type DatasetShape, datasetFor } from './dataset.ts';
import { countedFor } from './excluded.ts';
import { keysOf, parseFormula } from './formula/parse.ts';
import { besideOf } from './items.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { dimensionsOf, type Knowledge, metricsOf, PLAIN, type Question, rangeKey, rangesOf } from './questions.ts';

/** Operations that need rows of one dataset; the others can take each input of a formula from its own. */
const needsOneDataset = (q: Question): boolean =>
  q.op === 'top' ||
  q.op === 'drivers' ||
  q.op === 'rhythm' ||
  q.op === 'items' ||
  q.op === 'links' ||
  q.op === 'topByDay';

/** The metrics that a formula names; none for any other kind. */
export const inputsOf = (a: Aggregation): string[] => {
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
  /** What is read of its dimensions, where that is more than the question's own. */
  dimensions?: string[];
}

/** The sums that a metric is made of, by which its days are judged; none of a level or a unique (SEMANTICS §6). */
export function sumsOf(a: Aggregation, metrics: MetricLookup): string[] {
  switch (a.kind) {
    case 'sum':
    case 'min':
    case 'max':
      return [a.measure];
    case 'ratio':
      return [a.num, a.den];
    case 'weighted':
      return [a.weight];
    case 'derived':
      return [...new Set(inputsOf(a).flatMap((key) => sumsOf(metrics(key), metrics)))];
    default:
      return [];
  }
}

/** Whether leaving a day out leaves it out of the metric: it is made of sums alone. */
export const isOfSums = (a: Aggregation, metrics: MetricLookup): boolean =>
  a.kind === 'derived'
    ? inputsOf(a).every((key) => isOfSums(metrics(key), metrics))
    : a.kind === 'sum' || a.kind === 'ratio' || a.kind === 'weighted';

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
export function sourcesOf<T extends DatasetShape>(
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

/** A dataset with those of a breakdown's metrics that it answers, by their places. */
export interface TopPart<T> {
  dataset: T;
  at: number[];
}

/**
 * For a breakdown: the datasets that have its dimensions, each with the metrics that it answers; one for all of them
 * where there is one. Metrics that none of them can answer are in no part.
 */
export function partsOfTop<T extends DatasetShape>(
  q: Extract<Question, { op: 'top' }>,
  datasets: readonly T[],
  metrics: MetricLookup,
): TopPart<T>[] {
  const measures = q.metrics.map((key) => measuresOf(metrics(key), metrics));
  const dimensions = dimensionsOf(q);
  const one = datasetFor(datasets, [...new Set(measures.flat())], dimensions);
  if (one) return [{ dataset: one, at: q.metrics.map((_, i) => i) }];
  const parts: TopPart<T>[] = [];
  measures.forEach((own, i) => {
    const present = parts.find((p) => own.every((m) => p.dataset.measures.includes(m)));
    const dataset = present?.dataset ?? datasetFor(datasets, own, dimensions);
    if (present) present.at.push(i);
    else if (dataset) parts.push({ dataset, at: [i] });
  });
  return parts;
}

/** Where a question's figures come from; null when no dataset has them. */
export function sourcesOfQuestion<T extends DatasetShape>(
  q: Question,
  datasets: readonly T[],
  { book }: Knowledge,
): Source<T>[] | null {
  if (q.op === 'target') return [];
  // Nothing of a level or a unique is judged, so nothing is read for it.
  if (q.op === 'oddDays' && sumsOf(book.lookup(q.metric), book.lookup).length === 0) return [];
  if (q.op === 'top') {
    const parts = partsOfTop(q, datasets, book.lookup);
    const sources = parts.map(({ dataset, at }) => {
      const own = at.map((i) => book.lookup(q.metrics[i]!));
      const measures = [...new Set(own.flatMap((a) => measuresOf(a, book.lookup)))];
      return sourceOf(dataset, measures, own, book.lookup);
    });
    return sources.length > 0 ? sources : null;
  }
  if (q.op === 'peers') {
    const own = sourcesOf(book.lookup(q.metric), dimensionsOf(q), datasets, book.lookup, true);
    const theirs = sourcesOf(book.lookup(q.theirs), [q.dimension], datasets, book.lookup, true);
    return own && theirs ? [...own, ...theirs.map((s) => ({ ...s, dimensions: [q.dimension] }))] : null;
  }
  const sources = sourcesOf(book.lookup(q.metric), dimensionsOf(q), datasets, book.lookup, needsOneDataset(q));
  if (q.op !== 'items' && q.op !== 'links') return sources;
  // What stands beside a dimension is read with it, where it is there.
  return sources?.map((s) => ({ ...s, dimensions: [...dimensionsOf(q), ...besideOf(q.dimension, s.dataset)] })) ?? null;
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
  /** Without the days that are excluded for all that asks for them. */
  ranges: CountedRange[];
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
    for (const { dataset, measures, level, unique, dimensions = dimensionsOf(q) } of sourcesOfQuestion(
      q,
      datasets,
      knowledge,
    ) ?? []) {
      const need = needs.get(dataset.id) ?? { dataset, ranges: [], dimensions: [], measures: [], uniques: false };
      needs.set(dataset.id, need);
      need.uniques ||= unique;
      // A level is what was last known of every series that there ever was: one combination of all dimensions.
      for (const range of rangesOf(q)) {
        const counted = countedFor(range, metricsOf(q), knowledge.book);
        const r = level ? { from: dataset.firstDay, to: range.to } : counted;
        if (!need.ranges.some((x) => rangeKey(x) === rangeKey(r))) need.ranges.push(r);
      }
      merge(need.dimensions, level ? dataset.dimensions : dimensions);
      merge(need.measures, measures);
    }
  }
  return [...needs.values()];
}
