import type { ScheduleInput } from '@chronicon/core/contract';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import { makeRunsOf } from './runs.ts';
import { type StoredSchedule, scheduleById } from './schedules.ts';
import { inTransaction, type Store } from './store.ts';

/** Gathering and drawing start this long before the send time (SEMANTICS §10). */
const LEAD_MINUTES = 180;

const toRow = (s: ScheduleInput) => ({
  report_id: s.reportId,
  rule: JSON.stringify(s.rule),
  time: s.time,
  zone: s.zone,
  first_date: s.firstDate,
  last_date: s.lastDate,
  working_day_rule: s.workingDayRule,
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
      skip: '[]',
      lead_minutes: LEAD_MINUTES,
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

/**
 * Changes a schedule, makes its runs anew and lets it plan again from `at`; its editions that are not on their way follow. Dates already made
 * keep their edition by its identity.
 */
export async function updateSchedule(
  db: Store,
  before: StoredSchedule,
  input: ScheduleInput,
  at: string,
): Promise<void> {
  const dates = (s: ScheduleInput) => JSON.stringify([s.rule, s.firstDate, s.lastDate, s.period]);
  await inTransaction(db, async (tx) => {
    await tx
      .updateTable('schedule')
      .set({
        ...toRow(input),
        planned_through: at,
        next_look: at,
        ...(dates(before) !== dates(input) && { rule_changed_at: at }),
      })
      .where('id', '=', before.id)
      .execute();
    await makeRunsOf(tx, before.id, at);
    await markStale(tx, { scheduleId: before.id }, at);
  });
}

export async function setScheduleState(
  db: Store,
  id: string,
  state: StoredSchedule['state'],
  at: string,
): Promise<void> {
  const free = { stopped: null, stopped_by: null };
  await inTransaction(db, async (tx) => {
    await tx
      .updateTable('schedule')
      .set({ state, ...free, planned_through: at, next_look: at })
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
