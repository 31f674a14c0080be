import { occurrences } from '@chronicon/core/calendar';
import type { HoldCode } from '@chronicon/core/edition';
import type { DatesOfClient } from '@chronicon/core/report';
import { type EditionRow, moveEdition, patchEdition, unsentOf } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import type { Agency } from '../store/members.ts';
import { deliveriesOf, moveDelivery } from '../store/messages.ts';
import { recurrenceOf, type StoredSchedule, scheduleById } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { settleEdition } from './settleEdition.ts';

export interface Doer {
  at: string;
  actor: string;
  name: string;
}

/** Editions of a schedule that are not handed over yet: those that follow, and those on their way. */
async function reached(tx: Store, scheduleId: string): Promise<EditionRow[]> {
  const sending = await tx
    .selectFrom('edition')
    .selectAll()
    .where('schedule_id', '=', scheduleId)
    .where('state', '=', 'sending')
    .execute();
  return [...(await unsentOf(tx, scheduleId)), ...sending];
}

/** The run of an unmoved date by the schedule as it is now; null when it has none on that date. */
function runOn(s: StoredSchedule, agency: Agency, client: DatesOfClient, nominal: string) {
  const first = occurrences(recurrenceOf(s, agency, client.weekStart), nominal).next();
  return !first.done && first.value.nominal === nominal ? first.value : null;
}

/**
 * Lets the editions of a changed schedule follow it, in the transaction that changes it: they keep their identity
 * (schedule, unmoved date), move to its time, or are left out where it no longer runs on their date. A time that has
 * passed sends nothing by itself.
 */
export async function followSchedule(
  tx: Store,
  id: string,
  agency: Agency,
  client: DatesOfClient,
  by: Doer,
): Promise<void> {
  const schedule = (await scheduleById(tx, id))!;
  const who = { at: by.at, actor: by.actor };
  for (const e of await unsentOf(tx, id)) {
    const run = runOn(schedule, agency, client, e.nominal!);
    if (!run) {
      const reason = 'The schedule was changed and no longer runs on this date.';
      await moveEdition(tx, e, 'skipped', { reason, next_at: null }, who);
      continue;
    }
    const due_at = new Date(run.at).toISOString();
    if (due_at === e.due_at) continue;
    if (due_at > by.at) await patchEdition(tx, e, { due_at });
    else if (e.state === 'held') await patchEdition(tx, e, { due_at });
    else {
      const reason = 'Its time was moved to one that has passed. Look at it, then send it or leave it out.';
      await moveEdition(tx, e, 'held', { due_at, reason, code: 'time-passed', next_at: by.at }, who);
    }
  }
}

/** Holds of which a paused schedule takes hold, too: they would go on by themselves. */
const RUNS_ON: readonly HoldCode[] = ['late-data', 'odd-day', 'undrawable'];

/** Holds what a paused schedule has not handed over yet. */
export async function holdPaused(tx: Store, scheduleId: string, why: string, by: Doer): Promise<void> {
  for (const e of await reached(tx, scheduleId)) {
    if (e.state === 'held' && (e.code === null || !RUNS_ON.includes(e.code))) continue;
    if (e.state === 'held') await patchEdition(tx, e, { code: 'paused', reason: why, next_at: null });
    else
      await moveEdition(tx, e, 'held', { code: 'paused', reason: why, next_at: null }, { at: by.at, actor: by.actor });
  }
}

/**
 * Lets go on what was held for the pause: what was on its way goes on; what was not is drawn anew, and goes by itself
 * before its time and by a person after it.
 */
export async function releasePaused(tx: Store, scheduleId: string, by: Doer): Promise<void> {
  const who = { at: by.at, actor: by.actor };
  for (const e of await unsentOf(tx, scheduleId)) {
    if (e.state !== 'held' || e.code !== 'paused') continue;
    if ((await deliveriesOf(tx, [e.id])).length === 0) {
      await moveEdition(tx, e, 'gathering', { next_at: by.at, stale: 0 }, who);
      continue;
    }
    await moveEdition(tx, e, 'sending', { next_at: null }, who);
    await settleEdition(tx, e.id, by.at);
  }
}

/** Leaves out what an ended schedule has not handed over yet; of what is on its way, who has not got it gets nothing. */
export async function leaveOutEnded(tx: Store, scheduleId: string, by: Doer): Promise<void> {
  const who = { at: by.at, actor: by.actor };
  for (const e of await reached(tx, scheduleId)) {
    const reason = `Its schedule was ended by ${by.name}.`;
    const written = await deliveriesOf(tx, [e.id]);
    if (written.length === 0) {
      await moveEdition(tx, e, 'skipped', { reason, next_at: null }, who);
      continue;
    }
    if (e.state === 'held') await moveEdition(tx, e, 'sending', { next_at: null }, who);
    for (const d of written.filter((w) => ['queued', 'deferred', 'uncertain'].includes(w.state))) {
      await moveDelivery(tx, d, 'withdrawn', { reply: reason, next_at: NEVER }, who);
    }
    await settleEdition(tx, e.id, by.at);
  }
}
