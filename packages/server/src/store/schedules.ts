import {
  type ComparisonSpec,
  clampDate,
  clampSpec,
  type PeriodSpec,
  type Recurrence,
  type Rule,
  type WorkingDayRule,
} from '@chronicon/core/calendar';
import type { ScheduleInput } from '@chronicon/core/contract';
import type { Selectable } from 'kysely';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import type { Agency } from './members.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';

export interface StoredSchedule extends ScheduleInput {
  id: string;
  clientId: string;
  state: 'active' | 'paused' | 'ended';
  skip: string[];
  workingDayRule: WorkingDayRule;
  leadMinutes: number;
  plannedThrough: string;
  /** When its rule, its bounds or its period were last changed; null when they never were. */
  ruleChangedAt: string | null;
  /** Why it was stopped without a person's doing; null when it was not. */
  stopped: string | null;
}

/** Gathering and drawing start this long before the send time (SEMANTICS §10). */
const LEAD_MINUTES = 180;

const fromRow = (r: Selectable<Tables['schedule']>): StoredSchedule => ({
  id: r.id,
  clientId: r.client_id,
  reportId: r.report_id,
  rule: JSON.parse(r.rule) as Rule,
  time: r.time,
  zone: r.zone,
  firstDate: clampDate(r.first_date),
  lastDate: r.last_date === null ? null : clampDate(r.last_date),
  skip: JSON.parse(r.skip) as string[],
  workingDayRule: r.working_day_rule as WorkingDayRule,
  leadMinutes: r.lead_minutes,
  period: clampSpec(JSON.parse(r.period) as PeriodSpec),
  comparison: clampSpec(JSON.parse(r.comparison) as ComparisonSpec),
  readers: JSON.parse(r.readers) as string[],
  subject: r.subject,
  message: r.message,
  state: r.state,
  plannedThrough: r.planned_through,
  ruleChangedAt: r.rule_changed_at,
  stopped: r.stopped,
});

const toRow = (s: ScheduleInput) => ({
  report_id: s.reportId,
  rule: JSON.stringify(s.rule),
  time: s.time,
  zone: s.zone,
  first_date: s.firstDate,
  last_date: s.lastDate,
  period: JSON.stringify(s.period),
  comparison: JSON.stringify(s.comparison),
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
      working_day_rule: 'as is',
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
  return (await scheduleById(db, id))!;
}

export async function scheduleById(db: Store, id: string): Promise<StoredSchedule | null> {
  const row = await db.selectFrom('schedule').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? fromRow(row) : null;
}

export async function schedulesOf(db: Store, clientId: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('client_id', '=', clientId)
    .where('state', '!=', 'ended')
    .orderBy('created_at')
    .execute();
  return rows.map(fromRow);
}

/** The schedules that send a report, ended ones left out. */
export async function schedulesOfReport(db: Store, reportId: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('report_id', '=', reportId)
    .where('state', '!=', 'ended')
    .orderBy('created_at')
    .execute();
  return rows.map(fromRow);
}

export async function activeSchedules(db: Store): Promise<StoredSchedule[]> {
  const rows = await db.selectFrom('schedule').selectAll().where('state', '=', 'active').execute();
  return rows.map(fromRow);
}

/** Active schedules that the clockwork has to look at by `now`: with a thousand of them, few at a time. */
export async function schedulesToLookAt(db: Store, now: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('state', '=', 'active')
    .where('next_look', '<=', now)
    .execute();
  return rows.map(fromRow);
}

/**
 * Changes a schedule and lets it plan again from `at`; its editions that are not on their way follow. Dates already made
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

/** Paused schedules that were stopped for want of a feed. */
export async function stoppedBy(db: Store, feedId: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('stopped_by', '=', feedId)
    .where('state', '=', 'paused')
    .execute();
  return rows.map(fromRow);
}

/** Marks how far a schedule was planned, and when to look at it next; false when it was changed since it was read. */
export async function setPlanned(
  db: Store,
  read: Pick<StoredSchedule, 'id' | 'plannedThrough'>,
  through: string,
  nextLook: string,
): Promise<boolean> {
  const result = await db
    .updateTable('schedule')
    .set({ planned_through: through, next_look: nextLook })
    .where('id', '=', read.id)
    .where('state', '=', 'active')
    .where('planned_through', '=', read.plannedThrough)
    .executeTakeFirst();
  return result.numUpdatedRows === 1n;
}

/** The schedule's dates as the calendar wants them. */
export function recurrenceOf(
  s: Pick<StoredSchedule, 'rule' | 'time' | 'zone' | 'firstDate' | 'lastDate'> &
    Partial<Pick<StoredSchedule, 'skip' | 'workingDayRule'>>,
  agency: Agency,
  weekStart: number,
): Recurrence {
  return {
    rule: s.rule,
    firstDate: s.firstDate,
    lastDate: s.lastDate,
    skip: s.skip ?? [],
    weekStart,
    calendar: { workingDays: agency.workingDays, holidays: new Set(agency.holidays) },
    workingDayRule: s.workingDayRule ?? 'as is',
    time: s.time,
    zone: s.zone,
  };
}
