import { addMinutes, startOfDay } from '@chronicon/core/calendar';
import { type Run, runsOf } from '@chronicon/core/report';
import type { Selectable } from 'kysely';
import { agencyFor } from './agencyCalendar.ts';
import { clientById } from './clients.ts';
import { type Agency, agencyOf } from './members.ts';
import { ownColumnIn, readersIn, recurrenceOf, type StoredSchedule, scheduleById } from './schedules.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';
import type { Visibility } from './visibility.ts';
import { seenIn } from './visibility.ts';

/** Minutes ahead for which the runs of each active schedule are kept; of one that runs seldom, so many all the same. */
export const RUNS_AHEAD = 200 * 24 * 60;
const LEAST = 4;

const fromRow = (r: Selectable<Tables['run']>): Run => ({
  nominal: r.nominal,
  runsOn: r.runs_on,
  at: r.at,
  period: { from: r.period_from, to: r.period_to },
  compared: r.compared_from && r.compared_to ? { from: r.compared_from, to: r.compared_to } : null,
});

/**
 * Makes the runs of a schedule anew: all that are not planned yet, and those of the next 200 days; none of one that is
 * not active. Call in the transaction of whatever changed them: the schedule, its client, or the agency's calendar.
 */
export async function makeRuns(tx: Store, schedule: StoredSchedule, agency: Agency, now: string): Promise<void> {
  await tx.deleteFrom('run').where('schedule_id', '=', schedule.id).execute();
  // One that is paused until a day has the runs that come after it.
  if (schedule.state === 'ended' || (schedule.state === 'paused' && schedule.resumesOn === null)) return;
  const client = (await clientById(tx, schedule.clientId))!;
  const calendar = await agencyFor(tx, client, agency);
  const resumed = schedule.resumesOn && startOfDay(schedule.resumesOn, schedule.zone);
  const runs = runsOf(recurrenceOf(schedule, calendar, client.weekStart), schedule, client, {
    after: schedule.plannedThrough < now ? schedule.plannedThrough : now,
    until: addMinutes(now, RUNS_AHEAD),
    least: LEAST,
  }).filter((r) => resumed === null || r.at >= resumed);
  if (runs.length === 0) return;
  const rows = runs.map((r) => ({
    schedule_id: schedule.id,
    nominal: r.nominal,
    client_id: schedule.clientId,
    report_id: schedule.reportId,
    runs_on: r.runsOn,
    at: r.at,
    period_from: r.period.from,
    period_to: r.period.to,
    compared_from: r.compared?.from ?? null,
    compared_to: r.compared?.to ?? null,
  }));
  // A statement holds so many parameters at most, however long a server was away.
  for (let i = 0; i < rows.length; i += 500) {
    await tx
      .insertInto('run')
      .values(rows.slice(i, i + 500))
      .execute();
  }
}

/** {@link makeRuns} of a schedule as it is stored now. */
export async function makeRunsOf(tx: Store, scheduleId: string, now: string): Promise<void> {
  const [schedule, agency] = [await scheduleById(tx, scheduleId), await agencyOf(tx)];
  if (schedule && agency) await makeRuns(tx, schedule, agency, now);
}

/** The runs of a schedule in (`after`, `until`], soonest first. */
export async function runsBetween(db: Store, scheduleId: string, after: string, until: string): Promise<Run[]> {
  const rows = await db
    .selectFrom('run')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('at', '>', after)
    .where('at', '<=', until)
    .orderBy('at')
    .execute();
  return rows.map(fromRow);
}

/** The next runs of these schedules after an instant, by schedule, soonest first; `most` of each. */
export async function nextRunsOf(
  db: Store,
  scheduleIds: readonly string[],
  after: string,
  most: number,
): Promise<Map<string, Run[]>> {
  const next = new Map<string, Run[]>(scheduleIds.map((id) => [id, []]));
  if (scheduleIds.length === 0) return next;
  const rows = await db
    .selectFrom('run')
    .selectAll()
    .where('schedule_id', 'in', scheduleIds)
    .where('at', '>', after)
    .orderBy('at')
    .execute();
  for (const row of rows) {
    const runs = next.get(row.schedule_id)!;
    if (runs.length < most) runs.push(fromRow(row));
  }
  return next;
}

/** A run of which no edition is made yet. */
export interface RunKey {
  scheduleId: string;
  nominal: string;
  at: string;
}

/** Runs in (`after`, `until`) of which no edition is made yet, of the clients that are seen, soonest first. */
export async function plannedRuns(db: Store, visibility: Visibility, after: string, until: string): Promise<RunKey[]> {
  return db
    .selectFrom('run')
    .select(['run.schedule_id as scheduleId', 'run.nominal', 'run.at'])
    .where('run.at', '>', after)
    .where('run.at', '<', until)
    .where(seenIn(visibility, 'run.client_id'))
    .where((w) =>
      w.not(
        w.exists(
          w
            .selectFrom('edition')
            .select('edition.id')
            .whereRef('edition.schedule_id', '=', 'run.schedule_id')
            .whereRef('edition.nominal', '=', 'run.nominal'),
        ),
      ),
    )
    .orderBy('run.at')
    .orderBy('run.schedule_id')
    .execute();
}

/** A run with what a day sheet says of it. */
export interface PlannedRun extends Run {
  scheduleId: string;
  clientId: string;
  title: string;
  readers: number;
}

/** Readers that a schedule names, a list as one. */
function readersCounted(r: { readers: string; own: string }): number {
  const { groups } = ownColumnIn(r.own);
  const own = groups?.groups.reduce((n, g) => n + g.readers.length, 0) ?? 0;
  return own + readersIn(r.readers).length;
}

/** What a day sheet says of these runs. */
export async function describeRuns(db: Store, runs: readonly RunKey[]): Promise<PlannedRun[]> {
  if (runs.length === 0) return [];
  const wanted = new Set(runs.map((r) => `${r.scheduleId} ${r.nominal}`));
  const rows = await db
    .selectFrom('run')
    .innerJoin('schedule', 'schedule.id', 'run.schedule_id')
    .innerJoin('report', 'report.id', 'run.report_id')
    .selectAll('run')
    .select(['report.title', 'schedule.readers', 'schedule.own'])
    .where('run.schedule_id', 'in', [...new Set(runs.map((r) => r.scheduleId))])
    .where('run.nominal', 'in', [...new Set(runs.map((r) => r.nominal))])
    .execute();
  return rows
    .filter((r) => wanted.has(`${r.schedule_id} ${r.nominal}`))
    .map((r) => ({
      ...fromRow(r),
      scheduleId: r.schedule_id,
      clientId: r.client_id,
      title: r.title,
      readers: readersCounted(r),
    }));
}

/** The next run of each of these clients that is not left out; absent for one that has none. */
export async function nextOfClients(
  db: Store,
  clientIds: readonly string[],
  now: string,
): Promise<Map<string, { at: string; title: string }>> {
  if (clientIds.length === 0) return new Map();
  const rows = await db
    .selectFrom('run')
    .innerJoin('report', 'report.id', 'run.report_id')
    .select((s) => ['run.client_id', 'report.title', s.fn.min('run.at').as('at')])
    .where('run.client_id', 'in', clientIds)
    .where('run.at', '>', now)
    .where((w) =>
      w.not(
        w.exists(
          w
            .selectFrom('edition')
            .select('edition.id')
            .whereRef('edition.schedule_id', '=', 'run.schedule_id')
            .whereRef('edition.nominal', '=', 'run.nominal')
            .where('edition.state', '=', 'skipped'),
        ),
      ),
    )
    .groupBy(['run.client_id', 'run.report_id', 'report.title'])
    .execute();
  const next = new Map<string, { at: string; title: string }>();
  for (const { client_id: id, at, title } of rows) {
    const known = next.get(id);
    if (!known || at < known.at) next.set(id, { at, title });
  }
  return next;
}

/** The instants of all runs in (`after`, `until`], soonest first. */
export async function runTimes(db: Store, after: string, until: string): Promise<string[]> {
  const rows = await db
    .selectFrom('run')
    .select('at')
    .where('at', '>', after)
    .where('at', '<=', until)
    .orderBy('at')
    .execute();
  return rows.map((r) => r.at);
}
