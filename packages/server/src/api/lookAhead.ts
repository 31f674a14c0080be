import { occurrencesAhead, type Recurrence, wallClock } from '@chronicon/core/calendar';
import type { ComingRun, ScheduleInput } from '@chronicon/core/contract';
import { periodOfRun, readerKey, type ScheduleReader, settleDates } from '@chronicon/core/report';
import { type Dated, recurrenceOf } from '../store/schedules.ts';
import { type ClientAround, peopleAround } from './around.ts';
import { type WarnedReader, warningsOf } from './runWarnings.ts';

/** What of a schedule, saved or not, its runs and their warnings hang on. */
export type Plan = Dated &
  Pick<ScheduleInput, 'period' | 'comparison' | 'readers' | 'archive' | 'groups'> & {
    /** Values in the data that are in no group. */
    unknown?: readonly string[];
  };

/** Everybody who reads any edition of a run. */
export const readersOfPlan = ({ readers, groups }: Pick<Plan, 'readers' | 'groups'>): ScheduleReader[] => {
  const all = [...(groups?.groups.flatMap((g) => g.readers) ?? []), ...readers];
  return [...new Map(all.map((r) => [readerKey(r), r])).values()];
};

/** Values whose edition nobody reads. */
export const unreadValues = ({ readers, groups }: Pick<Plan, 'readers' | 'groups'>): string[] =>
  readers.length > 0 ? [] : (groups?.groups.filter((g) => g.readers.length === 0).map((g) => g.value) ?? []);

/** Other reports that go out on a day, by who reads them. */
export type SameDay = (date: string) => readonly { reader: string; id: string; title: string }[];

/** The same with the runs back that a person has left out: they are shown, to be taken back. */
const withSkipped = (r: Recurrence): Recurrence => ({
  ...r,
  exceptions: Object.fromEntries(Object.entries(r.exceptions).map(([date, { skipped: _, ...rest }]) => [date, rest])),
});

/** The next `count` runs of a schedule, saved or not, with what each covers. Labels are English, for the screen. */
export function comingRuns(
  plan: Plan,
  around: ClientAround,
  now: string,
  count: number,
  sameDay: SameDay = () => [],
): ComingRun[] {
  const { english, client, zone } = around;
  const recurrence = recurrenceOf(plan, around.agency, client.weekStart);
  const people = peopleAround(around, readersOfPlan(plan));
  const ids = new Map<string, WarnedReader>(people.map((p) => [p.id, p]));
  return occurrencesAhead(withSkipped(recurrence), { after: now, until: now, least: count }).map((o) => {
    const exception = plan.exceptions[o.nominal];
    const { period, compared } = settleDates(periodOfRun(plan.period, exception), plan.comparison, o.nominal, client);
    const at = new Date(o.at).toISOString();
    const local = wallClock(at, plan.zone);
    const notes: string[] = [];
    if (exception?.moved) notes.push(`Moved manually from ${english.date(o.nominal)}.`);
    else if (o.runs !== o.nominal) notes.push(`Moved from ${english.date(o.nominal)}, which isn’t a working day.`);
    if (exception?.covers) notes.push('Covers different dates from the rest.');
    const skipped = exception?.skipped === true;
    const warned = {
      at,
      period,
      compared,
      daily: plan.rule.freq === 'daily' || plan.rule.freq === 'weekly',
      readers: people,
      archive: plan.archive,
      unread: unreadValues(plan),
      unknown: plan.unknown ?? [],
      others: sameDay(wallClock(at, zone).date).filter((s) => ids.has(s.id)),
    };
    return {
      nominal: o.nominal,
      at,
      local,
      period: { ...period, label: english.range(period) },
      compared: compared && { ...compared, label: english.range(compared) },
      readers: people.length,
      skipped,
      notes,
      warnings: skipped ? [] : warningsOf(warned, around),
    };
  });
}
