import { resumeSchedule, stopSchedule } from '../store/changeSchedule.ts';
import { changeClient } from '../store/clients.ts';
import { moveEdition } from '../store/editions.ts';
import { underWay } from '../store/editionsReached.ts';
import { record } from '../store/ledger.ts';
import { schedulesOf, stoppedBy } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { holdPaused, releasePaused } from './follow.ts';

interface By {
  at: string;
  actor: string;
  name: string;
}

/**
 * Makes a client inactive: its schedules stop, its feeds are not fetched (`feedsDue`), and what is on its way waits for a
 * person. All is kept.
 */
export async function deactivate(tx: Store, clientId: string, by: By): Promise<void> {
  const reason = `The client was deactivated by ${by.name}.`;
  await changeClient(tx, clientId, { inactive_at: by.at }, by.at);
  for (const s of await schedulesOf(tx, clientId)) {
    if (s.state !== 'active') continue;
    await stopSchedule(tx, s.id, { reason, feedId: clientId }, by.at);
    await holdPaused(tx, s.id, reason, by);
  }
  for (const e of await underWay(tx, clientId)) {
    const held = { code: 'changed' as const, reason: `${reason} Review it, then send it.`, next_at: null };
    await moveEdition(tx, e, 'held', held, { at: by.at, actor: by.actor });
  }
  await record(tx, { at: by.at, actor: by.actor, action: 'client.deactivated', subject: clientId });
}

/**
 * Makes a client active again: the schedules that stopped for it go on from now, and its feeds are fetched at once. What was
 * made by hand stays with the person who looks at it.
 */
export async function activate(tx: Store, clientId: string, by: By): Promise<void> {
  await changeClient(tx, clientId, { inactive_at: null }, by.at);
  for (const s of await stoppedBy(tx, clientId)) {
    await resumeSchedule(tx, s.id, by.at);
    await releasePaused(tx, s.id, by);
  }
  await record(tx, { at: by.at, actor: by.actor, action: 'client.activated', subject: clientId });
}
