import type { CivilDate, Instant } from '../calendar/index.ts';

export interface OpenOccurrence {
  nominal: CivilDate;
  at: Instant;
}

export interface ScheduleBacklog<T extends OpenOccurrence = OpenOccurrence> {
  id: string;
  /** Elapsed hours within which a missed occurrence still runs; its last instant is included. */
  graceHours?: number;
  open: T[];
}

export type Taken<T> = T & { schedule: string };

const newestFirst = (a: OpenOccurrence, b: OpenOccurrence) =>
  Date.parse(b.at) - Date.parse(a.at) || (a.nominal < b.nominal ? 1 : -1);

/**
 * Sorts out what was due by `now`: of each schedule only the newest occurrence runs, and only within its grace;
 * all others are skipped. Different schedules run oldest first (SEMANTICS §10, Missed).
 */
export function sortMissed<T extends OpenOccurrence>(
  now: Instant,
  schedules: ScheduleBacklog<T>[],
): { run: Taken<T>[]; skipped: Taken<T>[] } {
  const run: Taken<T>[] = [];
  const skipped: Taken<T>[] = [];
  for (const { id, graceHours = 24, open } of schedules) {
    const due = open.filter((o) => Date.parse(o.at) <= Date.parse(now)).sort(newestFirst);
    due.forEach((o, i) => {
      const inGrace = Date.parse(now) - Date.parse(o.at) <= graceHours * 3_600_000;
      (i === 0 && inGrace ? run : skipped).push({ ...o, schedule: id });
    });
  }
  run.sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
  return { run, skipped };
}
