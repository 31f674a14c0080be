import type { AgencyInput, AgencySettings, Holiday } from '@chronicon/core/contract';
import { holidaysIn } from './holidays.ts';
import { type Agency, agencyOf } from './members.ts';
import { inTransaction, type Store } from './store.ts';

/** Days in order, each once; of two names for one day the later stands. */
const inOrder = (days: readonly Holiday[]): Holiday[] =>
  [...new Map(days.map((d) => [d.date, d])).values()].sort((a, b) => (a.date < b.date ? -1 : 1));

/**
 * Has active schedules that ask for working days looked at again, all or those of some clients: the scheduler makes
 * their runs anew, some at a time.
 */
async function lookAgain(tx: Store, at: string, clients: readonly string[] | null): Promise<void> {
  let due = tx
    .updateTable('schedule')
    .set({ next_look: at })
    .where('state', '=', 'active')
    .where((w) => w.or([w('working_day_rule', '!=', 'as is'), w('rule', 'like', '%"workday%')]));
  if (clients) due = due.where('client_id', 'in', clients);
  await due.execute();
}

/** Changes the days on which the agency works; the schedules that ask for working days follow. */
export const updateCalendar = (
  db: Store,
  calendar: { workingDays: readonly number[]; holidays: readonly Holiday[] },
  at: string,
): Promise<void> =>
  inTransaction(db, async (tx) => {
    await tx
      .updateTable('agency')
      .set({
        holidays: JSON.stringify(inOrder(calendar.holidays)),
        working_days: JSON.stringify([...new Set(calendar.workingDays)].sort()),
      })
      .execute();
    await lookAgain(tx, at, null);
  });

/** Changes what the agency says of itself. */
export const updateAgency = (db: Store, input: AgencyInput, at: string): Promise<void> =>
  inTransaction(db, async (tx) => {
    const before = (await agencyOf(tx))!;
    const { name, zone, mailFrom, weekStart, language, workingDays, postalAddress } = input;
    await tx.updateTable('agency').set({ name, zone, mail_from: mailFrom, week_start: weekStart, language }).execute();
    await updateSettings(tx, { postalAddress });
    if (JSON.stringify(workingDays) !== JSON.stringify(before.workingDays)) {
      await updateCalendar(tx, { workingDays, holidays: before.namedHolidays }, at);
    }
  });

/** Changes some of what an owner set. */
export const updateSettings = (db: Store, patch: Partial<AgencySettings>): Promise<void> =>
  inTransaction(db, async (tx) => {
    const { settings } = (await agencyOf(tx))!;
    await tx
      .updateTable('agency')
      .set({ settings: JSON.stringify({ ...settings, ...patch }) })
      .execute();
  });

/** Has every schedule looked at again: the rules of time zones have changed. */
export async function lookAtAll(db: Store, at: string): Promise<void> {
  await db.updateTable('schedule').set({ next_look: at }).where('state', '=', 'active').execute();
}

export interface Calendar {
  id: string;
  name: string;
  days: Holiday[];
}

const fromRow = (r: { id: string; name: string; days: string }): Calendar => ({
  ...r,
  days: holidaysIn(r.days),
});

export async function calendars(db: Store): Promise<Calendar[]> {
  return (await db.selectFrom('calendar').selectAll().orderBy('name').execute()).map(fromRow);
}

export async function calendarById(db: Store, id: string): Promise<Calendar | null> {
  const row = await db.selectFrom('calendar').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? fromRow(row) : null;
}

/** The clients that keep a calendar, by name. */
export const clientsOfCalendar = (db: Store, id: string): Promise<{ id: string; name: string }[]> =>
  db
    .selectFrom('client')
    .select(['id', 'name'])
    .where((w) => w(w.fn('json_extract', ['settings', w.val('$.calendar')]), '=', id))
    .orderBy('name')
    .execute();

/** Keeps a calendar, new or changed; the schedules of its clients follow. */
export const saveCalendar = (db: Store, { id, name, days }: Calendar, at: string): Promise<void> =>
  inTransaction(db, async (tx) => {
    const values = { name, days: JSON.stringify(inOrder(days)) };
    await tx
      .insertInto('calendar')
      .values({ id, ...values })
      .onConflict((c) => c.column('id').doUpdateSet(values))
      .execute();
    const kept = await clientsOfCalendar(tx, id);
    if (kept.length > 0) {
      await lookAgain(
        tx,
        at,
        kept.map((c) => c.id),
      );
    }
  });

export async function removeCalendar(db: Store, id: string): Promise<void> {
  await db.deleteFrom('calendar').where('id', '=', id).execute();
}

/** The agency as a client has it: with the holidays that are kept there. */
export async function agencyFor(db: Store, client: { calendar: string }, agency?: Agency): Promise<Agency> {
  const own = agency ?? (await agencyOf(db))!;
  const kept = client.calendar === '' ? null : await calendarById(db, client.calendar);
  return kept ? { ...own, holidays: kept.days.map((d) => d.date), namedHolidays: kept.days } : own;
}
