import type { CivilDate, Range } from './civilDate.ts';

/** What is otherwise with one run of a schedule (SEMANTICS §10, exceptions). */
export interface Exception {
  skipped?: true | undefined;
  /** Another date and time on the schedule's clock; no working-day rule moves it on. */
  moved?: { date: CivilDate; time: string } | undefined;
  /** Other dates to cover. */
  covers?: Range | undefined;
}

/** Exceptions by the unmoved date of the run that each is of. */
export type Exceptions = Readonly<Record<CivilDate, Exception>>;

/** Leaves out the runs of these unmoved dates. */
export const skipping = (dates: readonly CivilDate[]): Exceptions =>
  Object.fromEntries(dates.map((date) => [date, { skipped: true }]));

/** The unmoved dates of exceptions of a kind, in order. */
export const datesOf = (exceptions: Exceptions, kind: keyof Exception): CivilDate[] =>
  Object.keys(exceptions)
    .filter((date) => exceptions[date]![kind] !== undefined)
    .sort();
