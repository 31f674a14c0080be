import type { Agency } from './members.ts';
import { inTransaction, type Store } from './store.ts';

/**
 * Changes the days on which the agency works. Schedules that ask for working days are looked at again at once: the
 * clockwork makes their runs anew, some at a time.
 */
export const updateCalendar = (
  db: Store,
  calendar: Pick<Agency, 'holidays' | 'workingDays'>,
  at: string,
): Promise<void> =>
  inTransaction(db, async (tx) => {
    const { holidays, workingDays } = calendar;
    await tx
      .updateTable('agency')
      .set({ holidays: JSON.stringify(holidays), working_days: JSON.stringify(workingDays) })
      .execute();
    await tx
      .updateTable('schedule')
      .set({ next_look: at })
      .where('state', '=', 'active')
      .where((w) => w.or([w('working_day_rule', '!=', 'as is'), w('rule', 'like', '%"workday%')]))
      .execute();
  });

/** Has every schedule looked at again: the rules of time zones have changed. */
export async function lookAtAll(db: Store, at: string): Promise<void> {
  await db.updateTable('schedule').set({ next_look: at }).where('state', '=', 'active').execute();
}
