import type { CivilDate } from '../calendar/index.ts';
import { type CountedRange, countedDays, countedFor, excludedDaysOf, type MetricBook } from '../figures/index.ts';
import type { Dates } from './blocks/block.ts';

/** The days that a metric's figure leaves out on each side, in order (SEMANTICS §6). */
export interface ExcludedIn {
  period: CivilDate[];
  compared: CivilDate[];
  /** How many days of each side count; null where no range is compared. */
  counted: { period: number; compared: number } | null;
}

/** What of its dates a metric leaves out. A level says so only where it hangs on such a day: its last one. */
export function excludedIn(
  metric: string,
  { period, compared }: Pick<Dates, 'period' | 'compared'>,
  book: MetricBook,
): ExcludedIn {
  const { aggregation } = book.of(metric);
  const isLevel = aggregation.kind === 'level';
  const sideOf = (range: CountedRange | null) => {
    const counted = range && countedFor(range, [metric], book);
    const days = counted ? excludedDaysOf(counted) : [];
    return {
      days: isLevel ? days.filter((day) => day === range!.to) : days,
      counted: counted ? countedDays(counted) : 0,
    };
  };
  const [own, other] = [sideOf(period), sideOf(compared)];
  return {
    period: own.days,
    compared: other.days,
    counted: compared && !isLevel ? { period: own.counted, compared: other.counted } : null,
  };
}

/** Whether a metric's figure, or what it is held against, leaves any day out. */
export const leavesOut = ({ period, compared }: ExcludedIn): boolean => period.length + compared.length > 0;
