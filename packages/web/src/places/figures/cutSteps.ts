import type { Figures } from '@chronicon/core/contract';

type Series = NonNullable<Figures['series']>;
type Step = Series['times'][number];

const FEWEST_DAYS: Record<Series['step'], number> = { day: 1, week: 7, month: 28, quarter: 90 };

const daysOf = (t: Step): number => (Date.parse(t.to) - Date.parse(t.from)) / 86_400_000 + 1;

/** Whether a week, month or quarter is only begun: beside whole ones it would look like a fall. */
export function cutAt(series: Series, index: number): boolean {
  const last = series.times.length - 1;
  if (last < 3 || (index !== 0 && index !== last)) return false;
  return daysOf(series.times[index]!) < FEWEST_DAYS[series.step];
}

export const isCut = (series: Series): boolean => cutAt(series, 0) || cutAt(series, series.times.length - 1);
