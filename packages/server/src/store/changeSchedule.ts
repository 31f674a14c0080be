import { addMinutes, startOfDay } from '@chronicon/core/calendar';
import type { ScheduleInput } from '@chronicon/core/contract';
import { leadOf } from '@chronicon/core/report';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import { makeRunsOf } from './runs.ts';
import { ownColumnOf, type StoredSchedule, scheduleById } from './schedules.ts';
import { inTransaction, type Store } from './store.ts';
import { forgetZoneMoves } from './zoneMoves.ts';

const toRow = (s: ScheduleInput) => ({
  report_id: s.reportId,
  rule: JSON.stringify(s.rule),
  time: s.time,
  zone: s.zone,
  first_date: s.firstDate,
  last_date: s.lastDate,
  working_day_rule: s.workingDayRule,
  exceptions: JSON.stringify(s.exceptions),
  lead_minutes: leadOf(s.signOff),
  own: ownColumnOf(s),
  period: JSON.stringify(s.period),
  comparison: JSON.stringify(s.comparison),
  assumed: JSON.stringify(s.assumed),
  filter: JSON.stringify(s.filter),
  readers: JSON.stringify(s.readers),
  subject: s.subject,
  message: s.message,
});

/** A new schedule plans from `at` on: occurrences before it was made are none of its business. */
export async function createSchedule(
  db: Store,
  clientId: string,
  input: ScheduleInput,
  at: string,
): Promise<StoredSchedule> {
  const id = newId('sc');
  await db
    .insertInto('schedule')
    .values({
      id,
      client_id: clientId,
      ...toRow(input),
      state: 'active',
      stopped: null,
      stopped_by: null,
      planned_through: at,
      next_look: at,
      rule_changed_at: null,
      created_at: at,
    })
    .execute();
  await makeRunsOf(db, id, at);
  return (await scheduleById(db, id))!;
}

/** Whether two states of a schedule have the same dates, but for single runs. */
export const sameDates = (a: DatesOfRule, b: DatesOfRule): boolean => {
  const dates = (s: DatesOfRule) => JSON.stringify([s.rule, s.firstDate, s.lastDate, s.period]);
  return dates(a) === dates(b);
};
type DatesOfRule = Pick<ScheduleInput, 'rule' | 'firstDate' | 'lastDate' | 'period'>;

/**
 * Changes a schedule; where its dates are other ones, its runs are made anew and it plans again from `at`. Its editions
 * that are not on their way follow. Dates already made keep their edition by its identity.
 */
export async function updateSchedule(
  db: Store,
  before: StoredSchedule,
  input: ScheduleInput,
  at: string,
): Promise<void> {
  // Whoever reads has nothing to do with when: those runs stay as they are.
  const dated = (s: ScheduleInput) => JSON.stringify([s.reportId, ...DATED.map((part) => s[part])]);
  const isMoved = dated(before) !== dated(input);
  await inTransaction(db, async (tx) => {
    await tx
      .updateTable('schedule')
      .set({
        ...toRow(input),
        ...(isMoved && { planned_through: at, next_look: at }),
        ...(!sameDates(before, input) && { rule_changed_at: at }),
      })
      .where('id', '=', before.id)
      .execute();
    if (isMoved) {
      // Whoever settles the dates anew settles them by the rules of time zones as they are now.
      await forgetZoneMoves(tx, [before.id]);
      await makeRunsOf(tx, before.id, at);
    }
    await markStale(tx, { scheduleId: before.id }, at);
  });
}

/** Parts on which the runs of a schedule hang, when they are sent, and for whom there is an edition. */
const DATED = [
  'rule',
  'time',
  'zone',
  'firstDate',
  'lastDate',
  'workingDayRule',
  'exceptions',
  'period',
  'comparison',
  'signOff',
  'groups',
] as const;

export async function setScheduleState(
  db: Store,
  id: string,
  state: StoredSchedule['state'],
  at: string,
  resumesOn: string | null = null,
): Promise<void> {
  const free = { stopped: null, stopped_by: null };
  await inTransaction(db, async (tx) => {
    await tx
      .updateTable('schedule')
      .set({ state, ...free, resumes_on: resumesOn, planned_through: at, next_look: at })
      .where('id', '=', id)
      .execute();
    await makeRunsOf(tx, id, at);
    await markStale(tx, { scheduleId: id }, at);
  });
}

/** Pauses a schedule whose feed is gone, so that it can go on by itself when the feed is there again. */
export async function stopSchedule(
  db: Store,
  id: string,
  why: { reason: string; feedId: string },
  at: string,
): Promise<void> {
  await setScheduleState(db, id, 'paused', at);
  const { reason: stopped, feedId: stopped_by } = why;
  await db.updateTable('schedule').set({ stopped, stopped_by }).where('id', '=', id).execute();
}

export const resumeSchedule = (db: Store, id: string, at: string): Promise<void> =>
  setScheduleState(db, id, 'active', at);

/**
 * Lets a schedule go on that was paused until a day: from the beginning of that day on its own clock, so that what it
 * left out before stays left out, and what fell due since is missed or made as any other run.
 */
export async function resumeFrom(db: Store, s: StoredSchedule, at: string): Promise<void> {
  const from = startOfDay(s.resumesOn!, s.zone);
  await inTransaction(db, async (tx) => {
    await tx
      .updateTable('schedule')
      .set({ state: 'active', planned_through: addMinutes(from, -1), next_look: at })
      .where('id', '=', s.id)
      .where('state', '=', 'paused')
      .execute();
    await makeRunsOf(tx, s.id, at);
    await markStale(tx, { scheduleId: s.id }, at);
  });
}
