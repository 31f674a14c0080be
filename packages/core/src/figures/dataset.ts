import type { CivilDate } from '../calendar/index.ts';
import type { Columns, Filter } from './columns.ts';
import type { Coverage } from './coverage.ts';

/** What a dataset can answer: its first day, what it is broken down by and what it measures. */
export interface DatasetShape {
  id: string;
  /** Shown to people: the feed's name and the dataset's. */
  name: string;
  firstDay: CivilDate;
  dimensions: readonly string[];
  measures: readonly string[];
}

/** A number that the feed counted itself over a whole range and filter, for measures that cannot be added up. */
export interface Reported {
  measure: string;
  from: CivilDate;
  to: CivilDate;
  filter: Filter;
  value: number;
}

/** A dataset with the rows that were asked for and the coverage of all its days. */
export interface Dataset extends DatasetShape {
  covered: Coverage;
  columns: Columns;
  reported?: readonly Reported[];
}

/**
 * The first dataset that has every measure and dimension asked for, or null. Datasets of one feed tell the same
 * story at different grains, so any that holds all parts gives the same total.
 */
export function datasetFor<T extends DatasetShape>(
  datasets: readonly T[],
  measures: readonly string[],
  dimensions: readonly string[],
): T | null {
  return (
    datasets.find(
      (d) => measures.every((m) => d.measures.includes(m)) && dimensions.every((x) => d.dimensions.includes(x)),
    ) ?? null
  );
}
