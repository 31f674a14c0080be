import { addMinutes } from '@chronicon/core/calendar';
import { sql } from 'kysely';
import { NEVER } from './feeds.ts';
import { record } from './ledger.ts';
import { inTransaction, type Store } from './store.ts';

/** By how much less than before a clock may show: servers on one folder differ a little. */
const SLACK_MINUTES = 1;

/**
 * Where the clock was set back, what was to be tried again is tried as soon as it would have been: a pause of a minute
 * does not last two hours. Times that people set, as when an edition is due, stay what they are. Of several servers on the
 * folder one does it.
 * @returns milliseconds by which the clock was set back; 0 where it was not
 */
export async function followClock(db: Store, now: string): Promise<number> {
  const latest = async (store: Store) =>
    (
      await store
        .selectFrom('instance')
        .select((q) => q.fn.max('beat_now').as('at'))
        .executeTakeFirst()
    )?.at ?? null;
  const known = await latest(db);
  if (known === null || known <= addMinutes(now, SLACK_MINUTES)) return 0;
  return inTransaction(db, async (tx) => {
    const last = await latest(tx);
    if (last === null || last <= addMinutes(now, SLACK_MINUTES)) return 0;
    const back = Date.parse(last) - Date.parse(now);
    const earlier = (column: string) =>
      sql<string>`strftime('%Y-%m-%dT%H:%M:%fZ', ${sql.ref(column)}, ${`-${(back / 1000).toFixed(3)} seconds`})`;
    await tx
      .updateTable('delivery')
      .set({ next_at: earlier('next_at') })
      .where('state', 'in', ['queued', 'sending', 'deferred', 'uncertain'])
      .where('next_at', '>', now)
      .where('next_at', '<', NEVER)
      .execute();
    await tx
      .updateTable('feed')
      .set({ next_sync: earlier('next_sync') })
      .where('trouble', 'is not', null)
      .where('next_sync', '>', now)
      .where('next_sync', '<', NEVER)
      .execute();
    await tx
      .updateTable('edition')
      .set({ next_at: now })
      .where('state', '=', 'collecting')
      .where('next_at', '>', now)
      .execute();
    await tx
      .updateTable('sending_stop')
      .set({ next_try: earlier('next_try') })
      .where('next_try', '>', now)
      .execute();
    await tx.updateTable('instance').set({ beat_now: now }).where('beat_now', '>', now).execute();
    await record(tx, { at: now, actor: 'scheduler', action: 'clock.set-back', subject: 'server', detail: { last } });
    return back;
  });
}
