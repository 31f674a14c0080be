import type { Range } from '../calendar/index.ts';
import type { Dataset, DatasetShape } from './dataset.ts';
import { undelivered } from './feedParts.ts';
import { elapsed } from './paceAnswer.ts';
import { dimensionsOf, type Knowledge, metricsOf, PLAIN, type Question } from './questions.ts';
import { planReads, sourcesOf, sourcesOfQuestion } from './sources.ts';

/** What keeps an edition from being drawn. */
export type Lack =
  /** Metrics and segments that blocks ask for and the client no longer has. */
  | { kind: 'gone'; what: string[] }
  /** Files of typefaces that were brought and are not to be read. */
  | { kind: 'typeface'; names: string[] }
  | { kind: 'no-dataset'; metrics: string[] }
  /** Metrics that are there, but are not known by a dimension that the page filters or breaks down by. */
  | { kind: 'no-dimension'; metrics: string[]; dimensions: string[] }
  | { kind: 'days'; dataset: string; datasetId: string; missing: Range[] }
  /** Ranges over which the feed has not yet counted what cannot be added up. */
  | { kind: 'uncounted'; dataset: string; datasetId: string; ranges: Range[] };

/** What says itself of how much it is made: usual levels, peers; and odd days, judged by what is known. */
const SELF_TELLING: ReadonlySet<Question['op']> = new Set(['typical', 'typicalSteps', 'oddDays', 'peers']);

/** The metrics of a question that no dataset brings, by whatever dimensions. */
const unknownTo = (q: Question, datasets: readonly DatasetShape[], { book: { lookup } }: Knowledge): string[] =>
  metricsOf(q).filter((key) => sourcesOf(lookup(key), [], datasets, lookup, false) === null);

/** Whether a question asks for metrics that are there, but not by the dimensions that it filters or breaks down by. */
export const noFeedDivides = (q: Question, datasets: readonly DatasetShape[], knowledge: Knowledge): boolean =>
  q.op !== 'oddDays' &&
  sourcesOfQuestion(q, datasets, knowledge) === null &&
  unknownTo(q, datasets, knowledge).length === 0;

/**
 * The freshness gate: every day that the questions read, from each dataset's first day on, has to have been
 * delivered. Days before the first day are no lack: their figures are `before-start`, and nothing is compared.
 */
export function lacksOf(
  questions: readonly Question[],
  datasets: readonly (DatasetShape & { covered: Dataset['covered'] })[],
  knowledge: Knowledge = PLAIN,
): Lack[] {
  const orphans = new Set<string>();
  const lacks: Lack[] = [];
  for (const q of questions) {
    if (q.op === 'oddDays' || sourcesOfQuestion(q, datasets, knowledge) !== null) continue;
    for (const key of unknownTo(q, datasets, knowledge)) orphans.add(key);
    if (noFeedDivides(q, datasets, knowledge))
      lacks.push({ kind: 'no-dimension', metrics: metricsOf(q), dimensions: dimensionsOf(q) });
  }
  if (orphans.size > 0) lacks.unshift({ kind: 'no-dataset', metrics: [...orphans].sort() });
  const asked = questions.flatMap((q): Question[] => {
    if (q.op === 'top') return [{ ...q, against: undefined }];
    // Of a range that is running its days up to now are wanted; what a pace weighs by is whatever there is.
    if (q.op === 'pace') {
      const range = elapsed(q.range, q.at);
      return range ? [{ op: 'total', metric: q.metric, range, filter: q.filter }] : [];
    }
    return SELF_TELLING.has(q.op) ? [] : [q];
  });
  for (const { dataset, ranges } of planReads(asked, datasets, knowledge)) {
    const missing = ranges.flatMap((r) => undelivered(dataset, r));
    if (missing.length > 0) lacks.push({ kind: 'days', dataset: dataset.name, datasetId: dataset.id, missing });
  }
  return lacks;
}
