import { occurrenceOn } from '@chronicon/core/calendar';
import { because, type HoldCode } from '@chronicon/core/edition';
import type { DatesOfClient } from '@chronicon/core/report';
import { type EditionRow, leftOutOf, moveEdition, patchEdition, unsentOf } from '../store/editions.ts';
import { reachedBySchedule } from '../store/editionsReached.ts';
import { NEVER } from '../store/feeds.ts';
import type { Agency } from '../store/members.ts';
import { deliveriesOf, moveDelivery } from '../store/messages.ts';
import { recurrenceOf, type StoredSchedule, scheduleById } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { groupIdsOf } from './ordersOfRun.ts';
import { settleEdition } from './settleEdition.ts';

export interface Doer {
  at: string;
  actor: string;
  name: string;
}

/** What becomes of an edition that is not on its way when its schedule is as it is now. */
export type Following =
  | { kind: 'same' }
  | { kind: 'moves'; dueAt: string; passed: boolean }
  | { kind: 'left-out'; reason: string; code?: HoldCode };

/** What a changed schedule has its edition do: it keeps its identity, and goes at its time, or is left out. */
export function followingOf(
  schedule: StoredSchedule,
  agency: Agency,
  client: DatesOfClient,
  e: EditionRow,
  now: string,
): Following {
  if (!groupIdsOf(schedule).includes(e.reader_group)) {
    return { kind: 'left-out', reason: 'Its group of readers was removed from the schedule.' };
  }
  if (schedule.exceptions[e.nominal!]?.skipped) return { kind: 'left-out', ...because('left-out') };
  const run = occurrenceOn(recurrenceOf(schedule, agency, client.weekStart), e.nominal!);
  if (!run) return { kind: 'left-out', reason: 'The schedule no longer runs on this date.' };
  const dueAt = new Date(run.at).toISOString();
  return dueAt === e.due_at ? { kind: 'same' } : { kind: 'moves', dueAt, passed: dueAt <= now };
}

/**
 * Lets the editions of a changed schedule follow it, in the transaction that changes it: they keep their identity
 * (schedule, unmoved date, group), move to its time, or are left out where it no longer runs on their date. A time that
 * has passed sends nothing by itself. What was left out with its run, and whose run is back, is taken up again.
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
    const follows = followingOf(schedule, agency, client, e, by.at);
    if (follows.kind === 'left-out') {
      const { reason, code = null } = follows;
      await moveEdition(tx, e, 'skipped', { reason, code, next_at: null }, who);
    } else if (follows.kind === 'moves') {
      const due_at = follows.dueAt;
      if (!follows.passed || e.state === 'held') await patchEdition(tx, e, { due_at });
      else {
        await moveEdition(tx, e, 'held', { due_at, ...because('time-passed'), next_at: by.at }, who);
      }
    }
  }
  for (const e of await leftOutOf(tx, id, 'left-out')) {
    const follows = followingOf(schedule, agency, client, e, by.at);
    const due_at = follows.kind === 'moves' ? follows.dueAt : e.due_at;
    if (follows.kind === 'left-out' || due_at <= by.at) continue;
    await moveEdition(tx, e, 'planned', { due_at, next_at: by.at, stale: 0 }, who);
  }
}

/** Holds of which a paused schedule takes hold, too: they would go on by themselves. */
const RUNS_ON: readonly HoldCode[] = ['late-data', 'odd-day', 'undrawable'];

/** Holds what a paused schedule has not handed over yet. */
export async function holdPaused(tx: Store, scheduleId: string, why: string, by: Doer): Promise<void> {
  for (const e of await reachedBySchedule(tx, scheduleId)) {
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
      await moveEdition(tx, e, 'collecting', { next_at: by.at, stale: 0 }, who);
      continue;
    }
    await moveEdition(tx, e, 'sending', { next_at: null }, who);
    await settleEdition(tx, e.id, by.at);
  }
}

/** Takes up again what was left out when a schedule was ended, before its time: ending it was undone. */
export async function takeUpEnded(tx: Store, scheduleId: string, by: Doer): Promise<void> {
  for (const e of await leftOutOf(tx, scheduleId, 'ended')) {
    if (e.due_at <= by.at) continue;
    await moveEdition(tx, e, 'planned', { next_at: by.at, stale: 0 }, { at: by.at, actor: by.actor });
  }
}

/** Leaves out what an ended schedule has not handed over yet; of what is on its way, who has not got it gets nothing. */
export async function leaveOutEnded(tx: Store, scheduleId: string, by: Doer): Promise<void> {
  const who = { at: by.at, actor: by.actor };
  for (const e of await reachedBySchedule(tx, scheduleId)) {
    const reason = `Its schedule was ended by ${by.name}.`;
    const written = await deliveriesOf(tx, [e.id]);
    if (written.length === 0) {
      await moveEdition(tx, e, 'skipped', { reason, code: 'ended', next_at: null }, who);
      continue;
    }
    if (e.state === 'held') await moveEdition(tx, e, 'sending', { next_at: null }, who);
    for (const d of written.filter((w) => ['queued', 'deferred', 'uncertain'].includes(w.state))) {
      await moveDelivery(tx, d, 'withdrawn', { reply: reason, next_at: NEVER }, who);
    }
    await settleEdition(tx, e.id, by.at);
  }
}
