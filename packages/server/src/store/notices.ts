import { addMinutes } from '@chronicon/core/calendar';
import type { Store } from './store.ts';

/** Whether a cause may be told by mail now: never told, or long enough ago. Causes that are over are forgotten. */
export async function mayTell(
  db: Store,
  cause: string,
  now: string,
  leastApart: number,
  againAfter: number,
): Promise<boolean> {
  await db
    .deleteFrom('notice')
    .where((q) =>
      q.or([
        q('sent_at', '<', addMinutes(now, -Math.max(leastApart, againAfter))),
        q('sent_at', '>', addMinutes(now, 1)),
      ]),
    )
    .execute();
  return (await db.selectFrom('notice').select('cause').where('cause', '=', cause).executeTakeFirst()) === undefined;
}

/** Writes down that a cause was told. */
export async function toldNow(db: Store, cause: string, now: string): Promise<void> {
  await db
    .insertInto('notice')
    .values({ cause, sent_at: now })
    .onConflict((c) => c.column('cause').doUpdateSet({ sent_at: now }))
    .execute();
}
