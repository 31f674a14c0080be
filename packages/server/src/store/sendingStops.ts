import { addMinutes } from '@chronicon/core/calendar';
import { pauseOfServer, type StopCause } from '@chronicon/core/edition';
import type { Selectable } from 'kysely';
import { cached } from './cache.ts';
import { record } from './ledger.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';

export type SendingStop = Selectable<Tables['sending_stop']>;

/** Why nothing is sent at present, oldest cause first; empty while sending goes on. */
export const sendingStops = (db: Store): Promise<SendingStop[]> =>
  cached(db, ['sending_stop'], 'stops', () => db.selectFrom('sending_stop').selectAll().orderBy('since').execute());

/** Whether one mail is to be tried now, to see whether the mail server is back: nothing else stops sending. */
export function mayProbe(stops: readonly SendingStop[], now: string): boolean {
  const [only] = stops;
  return stops.length === 1 && only!.cause === 'mail-server' && (only!.next_try ?? '') <= now;
}

/** Stops all sending for a cause; says the same cause anew where it is there already. */
export async function stopSending(
  db: Store,
  stop: { cause: StopCause; reason: string; mend: string; by?: string; at: string; retry?: boolean },
): Promise<void> {
  await inTransaction(db, async (tx) => {
    const old = await tx.selectFrom('sending_stop').selectAll().where('cause', '=', stop.cause).executeTakeFirst();
    // Of many mails that fail at once, one counts.
    const tries = old && (old.next_try ?? '') > stop.at ? old.tries : (old?.tries ?? 0) + 1;
    const values = {
      reason: stop.reason,
      mend: stop.mend,
      by: stop.by ?? null,
      tries,
      next_try: stop.retry ? addMinutes(stop.at, pauseOfServer(tries)) : null,
    };
    await tx
      .insertInto('sending_stop')
      .values({ cause: stop.cause, since: stop.at, ...values })
      .onConflict((c) => c.column('cause').doUpdateSet(values))
      .execute();
    if (old?.reason === stop.reason) return;
    await record(tx, {
      at: stop.at,
      actor: stop.by ?? 'scheduler',
      action: 'sending.stopped',
      subject: stop.cause,
      detail: { reason: stop.reason },
    });
  });
}

/** Takes a cause away; false when it was not there. */
export async function resumeSending(db: Store, cause: StopCause, by: { at: string; actor: string }): Promise<boolean> {
  return inTransaction(db, async (tx) => {
    if (!(await sendingStops(tx)).some((s) => s.cause === cause)) return false;
    const result = await tx.deleteFrom('sending_stop').where('cause', '=', cause).executeTakeFirst();
    if (result.numDeletedRows !== 1n) return false;
    // What waited for it, still following, goes on at once.
    await tx
      .updateTable('edition')
      .set({ next_at: by.at })
      .where('state', '=', 'ready')
      .where('next_at', 'is not', null)
      .where('due_at', '<=', by.at)
      .execute();
    await record(tx, { ...by, action: 'sending.resumed', subject: cause });
    return true;
  });
}
