import { addMinutes } from '@chronicon/core/calendar';
import { BudgetError } from '../platform/budget.ts';
import {
  type EditionRow,
  editionById,
  moveEdition,
  patchEdition,
  releaseEdition,
  takeEdition,
} from '../store/editions.ts';
import { faultOf } from '../store/faults.ts';
import type { Lease } from '../store/instances.ts';
import { scheduleById } from '../store/schedules.ts';
import { mayProbe, sendingStops } from '../store/sendingStops.ts';
import { beginSending } from './beginSending.ts';
import { collect } from './collect.ts';
import { isMissed, leaveOut, MISSED } from './plan.ts';
import { asksUntil } from './signingOff.ts';
import type { Tools } from './tools.ts';

/** Steps one edition may take in one go: planned, collecting, ready, sending. */
const STEPS = 6;
/** Minutes between looks whether sending goes on. */
const LOOK_AGAIN = 1;
/** Minutes until work is tried again that met a passing fault. */
const AFTER_FAULT = 1;
/** Tries of one edition that may meet a passing fault before it is held, counted in this process. */
const MOST_FAULTS = 5;

/** True while no mail would be handed over. */
async function waitsForSending({ store, health, clock }: Tools): Promise<boolean> {
  if (health.troubles().length > 0) return true;
  const stops = await sendingStops(store);
  return stops.length > 0 && !mayProbe(stops, clock.now());
}

/** True once the time has passed until which an edition waits to be signed off. */
async function asksNoMore({ store, clock }: Tools, e: EditionRow): Promise<boolean> {
  const schedule = e.schedule_id === null ? null : await scheduleById(store, e.schedule_id);
  const until = schedule && asksUntil(schedule, e);
  return until !== null && until <= clock.now();
}

async function step(tools: Tools, e: EditionRow, lease: Lease): Promise<void> {
  const { store, clock, crash } = tools;
  const by = () => ({ at: clock.now(), actor: 'scheduler', lease });
  if (await isMissed(store, e, clock.now())) {
    await leaveOut(store, e, MISSED, clock.now(), lease);
    return;
  }
  switch (e.state) {
    case 'planned':
      crash('collect.before-move');
      await moveEdition(store, e, 'collecting', { next_at: clock.now() }, by());
      crash('collect.after-move');
      return;
    case 'collecting':
      return collect(tools, e, lease);
    case 'review':
      // Nobody has said anything by the time until which they were asked: it goes as it stands.
      if (e.stale === 0 && (await asksNoMore(tools, e))) {
        await moveEdition(store, e, 'ready', { next_at: e.due_at }, by());
        return;
      }
      await moveEdition(store, e, 'collecting', { next_at: clock.now(), reason: e.reason, approval_id: null }, by());
      return;
    case 'held':
      // Something that it is made of has changed, or come: it is looked at again, and stays a person's after its time.
      await moveEdition(store, e, 'collecting', { next_at: clock.now(), reason: e.reason, approval_id: null }, by());
      return;
    case 'ready':
      if (e.stale === 1) await moveEdition(store, e, 'collecting', { next_at: clock.now(), approval_id: null }, by());
      else if (await waitsForSending(tools)) {
        // Nothing is sent at present: it stays where it follows what it is made of.
        await patchEdition(store, e, { next_at: addMinutes(clock.now(), LOOK_AGAIN) }, lease);
      } else if (clock.now() >= e.due_at || e.approval_id !== null) await beginSending(tools, e, lease);
      else await patchEdition(store, e, { next_at: e.due_at }, lease);
      return;
    default:
      await patchEdition(store, e, { next_at: null }, lease);
  }
}

/** Holds what cannot go on, in words for a person; a passing fault is tried again a few times first. */
async function stumble(tools: Tools, id: string, lease: Lease, error: unknown, faults: Map<string, number>) {
  const { store, clock, log } = tools;
  const at = clock.now();
  const e = await editionById(store, id);
  if (!e) return;
  const fault = faultOf(error);
  if (fault && fault.cause !== 'busy') tools.health.met(fault);
  const times = (faults.get(id) ?? 0) + 1;
  faults.set(id, times);
  log.error({ err: error, edition: id, times }, 'edition could not be moved along');
  if ((fault?.passing || error instanceof BudgetError) && times < MOST_FAULTS) {
    await patchEdition(store, e, { next_at: addMinutes(at, AFTER_FAULT), reason: fault?.reason ?? e.reason }, lease);
    return;
  }
  faults.delete(id);
  const slow = error instanceof BudgetError;
  const reason = slow
    ? 'Creating the PDF took too long. Reduce blocks, tables or years.'
    : (fault?.reason ?? 'Server error (see the log). Nothing was sent.');
  const code = slow ? ('too-slow' as const) : fault ? ('file' as const) : ('error' as const);
  await moveEdition(store, e, 'held', { reason, code, next_at: null }, { at, actor: 'scheduler', lease });
}

/** Works on one edition under a lease until it has to wait for something. */
export async function advance(
  tools: Tools,
  id: string,
  faults: Map<string, number>,
  isStopped: () => boolean,
): Promise<void> {
  const { store, clock, instance: self } = tools;
  const first = await takeEdition(store, id, self);
  if (!first) return;
  const lease = { owner: self.id, fence: first.lease_fence };
  try {
    let e: EditionRow | null = first;
    for (let i = 0; i < STEPS && e && e.next_at !== null && e.next_at <= clock.now() && !isStopped(); i++) {
      await tools.precedence.turn();
      await step(tools, e, lease);
      e = await editionById(store, id);
      if (e?.lease_fence !== lease.fence) return;
    }
    faults.delete(id);
  } catch (error) {
    if (isStopped()) return;
    await stumble(tools, id, lease, error, faults);
  } finally {
    await releaseEdition(store, id, lease);
  }
}
