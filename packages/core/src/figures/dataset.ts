import { addDays, type CivilDate, monthEnd, monthStart, weekdayOf } from '../calendar/index.ts';
import type { Columns } from './columns.ts';
import type { CountedRange } from './countedRange.ts';
import type { Coverage } from './coverage.ts';
import type { FeedPart } from './feedPart.ts';
import type { PlainFilter } from './filter.ts';

/** What one row of a dataset speaks of: its day, or the week or month that begins on it. */
export type Grain = 'day' | 'week' | 'month';

/** What a dataset can answer: its first day, what it is broken down by and what it measures. */
export interface DatasetShape {
  id: string;
  /** Shown to people: the feed's name and the dataset's. */
  name: string;
  firstDay: CivilDate;
  dimensions: readonly string[];
  measures: readonly string[];
  /** `day` when left out. */
  grain?: Grain;
  /**
   * Measures that other feeds of its kind bring too: of those it answers only beside one of its own, as a ratio with it, for alone
   * they would be a part that reads as the whole.
   */
  shared?: readonly string[];
  /** The feeds that it spans; of one when left out. What only a service can count is not known over several. */
  parts?: readonly FeedPart[];
}

/**
 * Whether a range cuts a week or month of which the dataset knows only the whole, or leaves out a day of one. Its weeks begin
 * on the weekday of its first day.
 */
export function isTooCoarse(
  { grain = 'day', firstDay }: DatasetShape,
  { from, to, without = [] }: CountedRange,
): boolean {
  if (grain === 'day') return false;
  if (without.length > 0) return true;
  if (grain === 'month') return from !== monthStart(from) || to !== monthEnd(to);
  return weekdayOf(from) !== weekdayOf(firstDay) || weekdayOf(addDays(to, 1)) !== weekdayOf(firstDay);
}

/** A number that the feed counted itself over a whole range and filter, for measures that cannot be added up. */
export interface Reported {
  measure: string;
  from: CivilDate;
  to: CivilDate;
  filter: PlainFilter;
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
      (d) =>
        measures.every((m) => d.measures.includes(m)) &&
        dimensions.every((x) => d.dimensions.includes(x)) &&
        !(d.shared && measures.every((m) => d.shared!.includes(m))),
    ) ?? null
  );
}
