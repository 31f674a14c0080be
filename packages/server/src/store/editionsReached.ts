import { type EditionRow, unsentOf } from './editions.ts';
import type { Store } from './store.ts';

/** Editions of a client that would go on by themselves. */
export const underWay = (db: Store, clientId: string): Promise<EditionRow[]> =>
  db
    .selectFrom('edition')
    .selectAll()
    .where('client_id', '=', clientId)
    .where('state', 'in', ['planned', 'collecting', 'review', 'ready', 'sending'])
    .execute();

/** Editions of a schedule that are not handed over yet: those that follow it, and those on their way. */
export async function reachedBySchedule(db: Store, scheduleId: string): Promise<EditionRow[]> {
  const sending = await db
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('state', '=', 'sending')
    .execute();
  return [...(await unsentOf(db, scheduleId)), ...sending];
}

/** Whether something that an edition is made of has changed since it was last taken up. */
export async function isStale(db: Store, id: string): Promise<boolean> {
  return (await db.selectFrom('edition').select('stale').where('id', '=', id).executeTakeFirst())?.stale === 1;
}
