import type { Range } from '../calendar/index.ts';
import { missingDays } from './coverage.ts';
import type { Dataset, DatasetShape } from './dataset.ts';
import { type Knowledge, metricsOf, PLAIN, type Question } from './questions.ts';
import { planReads, sourcesOfQuestion } from './sources.ts';

/** What keeps an edition from being drawn. */
export type Lack =
  | { kind: 'no-dataset'; metrics: string[] }
  | { kind: 'days'; dataset: string; datasetId: string; missing: Range[] }
  /** Ranges over which the feed has not yet counted what cannot be added up. */
  | { kind: 'uncounted'; dataset: string; datasetId: string; ranges: Range[] };

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
