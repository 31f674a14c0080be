import { sql } from 'kysely';
import type { Store } from './store.ts';

/**
 * The earliest instant at which anything wants doing: an edition, a mail, a feed, a schedule to be planned, or clients to go back.
 * Each is the first entry of an index, so that asking costs the same however large the agency is.
 *
 * @returns UTC ISO text; null where nothing ever is due
 */
export async function nextDue(db: Store): Promise<string | null> {
  const { rows } = await sql<{ at: string | null }>`
    select min(at) as at from (
      select min(next_at) as at from edition where next_at is not null
      union all select min(next_at) from delivery where state = 'queued'
      union all select min(next_at) from delivery where state = 'deferred'
      union all select min(next_at) from delivery where state = 'uncertain'
      union all select min(next_at) from delivery where state = 'sending'
      union all select * from (select next_sync from feed
        where client_id not in (select id from client where inactive_at is not null) order by next_sync limit 1)
      union all select min(next_look) from schedule where state = 'active'
      union all select min(until) from delegation
    )`.execute(db);
  return rows[0]?.at ?? null;
}
