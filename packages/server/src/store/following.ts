import { FOLLOWING, FOLLOWS_BY_ITSELF } from '@chronicon/core/edition';
import type { Store } from './store.ts';

/** What changed: what all editions are made of, those of a client, or those of one report or schedule. */
export type Changed = 'all' | { clientId: string } | { reportId: string } | { scheduleId: string };

/**
 * Marks the editions that are made of what changed and not on their way yet: each is looked at again at once, and drawn
 * anew before it can go (SEMANTICS §10). Call in the transaction of the change.
 */
export async function markStale(tx: Store, changed: Changed, at: string): Promise<void> {
  let query = tx
    .updateTable('edition')
    .set((q) => ({
      stale: 1,
      // What waits for a person stays with them, marked.
      next_at: q
        .case()
        .when('state', '!=', 'held')
        .then(at)
        .when('code', 'in', FOLLOWS_BY_ITSELF)
        .then(at)
        .else(q.ref('next_at'))
        .end(),
    }))
    .where('state', 'in', FOLLOWING)
    // One that was made for nobody is at rest, and what a person signed off goes as they saw it.
    .where((w) =>
      w.or([w('state', '!=', 'ready'), w.and([w('next_at', 'is not', null), w('approval_id', 'is', null)])]),
    );
  if (changed === 'all') {
    await query.execute();
    return;
  }
  if ('clientId' in changed) query = query.where('client_id', '=', changed.clientId);
  if ('reportId' in changed) query = query.where('report_id', '=', changed.reportId);
  if ('scheduleId' in changed) query = query.where('schedule_id', '=', changed.scheduleId);
  await query.execute();
}
