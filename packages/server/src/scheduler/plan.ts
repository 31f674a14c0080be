import { addMinutes, startOfDay } from '@chronicon/core/calendar';
import { because, type ScheduleBacklog, sortMissed } from '@chronicon/core/edition';
import { periodOfRun, settleDates } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { resumeFrom } from '../store/changeSchedule.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import { addEdition, begunOf, type EditionRow, lastMadeOf, moveEdition, unsentOf } from '../store/editions.ts';
import type { Lease } from '../store/instances.ts';
import { record } from '../store/ledger.ts';
import { type Agency, agencyOf } from '../store/members.ts';
import { reportById } from '../store/reports.ts';
import { makeRuns, runsBetween } from '../store/runs.ts';
import {
  type StoredSchedule,
  scheduleById,
  schedulesResuming,
  schedulesToLookAt,
  setPlanned,
} from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { hasZoneMoves } from '../store/zoneMoves.ts';
import { releasePaused } from './follow.ts';
import { groupIdsOf, ordersFor } from './ordersOfRun.ts';
import type { Tools } from './tools.ts';

/** An occurrence that has no edition yet, or with those of its editions, one a group, that nobody has begun to collect its data. */
interface Open {
  nominal: string;
  /** UTC ISO text. */
  at: string;
  editions: EditionRow[];
}

export const MISSED = because('missed').reason;
const NEWER = 'Skipped: a newer run of this schedule was also due.';

/**
 * Why a run begins as left out: a change of the schedule's dates would make what the last edition covered once more
 * (SEMANTICS §10, exceptions). Null for any other run.
 */
export async function repeatOf(
  tx: Store,
  s: StoredSchedule,
  client: StoredClient,
  nominal: string,
): Promise<string | null> {
  // What a person has a run cover, it covers.
  if (s.ruleChangedAt === null || s.exceptions[nominal]?.covers) return null;
  const last = await lastMadeOf(tx, s.id, nominal);
  if (!last || last.created_at > s.ruleChangedAt) return null;
  const { period } = settleDates(s.period, s.comparison, nominal, client);
  if (last.period_from !== period.from || last.period_to !== period.to) return null;
  const english = formatterOf('en-GB', client.currency);
  return `The edition of ${english.date(last.nominal!)} covered the same dates, ${english.dates(period)}, before the schedule was changed.`;
}

async function add(
  tx: Store,
  s: StoredSchedule,
  o: Pick<Open, 'nominal' | 'at'>,
  state: 'planned' | 'skipped',
  now: string,
  reason: string | null,
) {
  const client = (await clientById(tx, s.clientId))!;
  const report = (await reportById(tx, s.reportId))!;
  const repeat = state === 'planned' ? await repeatOf(tx, s, client, o.nominal) : null;
  const skipped = state === 'skipped' || repeat !== null;
  const period = periodOfRun(s.period, s.exceptions[o.nominal]);
  for (const readerGroup of groupIdsOf(s)) {
    await addEdition(tx, {
      clientId: s.clientId,
      reportId: s.reportId,
      kind: 'scheduled',
      scheduleId: s.id,
      nominal: o.nominal,
      readerGroup,
      orders: await ordersFor(tx, s, report, o.nominal, readerGroup),
      dates: settleDates(period, s.comparison, o.nominal, client),
      state: skipped ? 'skipped' : 'planned',
      reason: repeat ?? reason,
      ...(skipped && { code: repeat !== null ? 'repeat' : 'missed' }),
      dueAt: o.at,
      nextAt: skipped ? null : now,
      madeBy: null,
      at: now,
    });
  }
}

/** Schedules that are looked at in one go: feeds, editions and mails have their turn between. */
const AT_ONCE = 40;
/** Minutes until a schedule that could not be planned is looked at again. */
const PLAN_AGAIN = 15;

/** A schedule is looked at once a day at least: zone data may change between now and its next run. */
const LOOK_MINUTES = 24 * 60;

/** When a schedule has to be looked at again: as its next run comes within the lead. */
async function nextLook(tx: Store, s: StoredSchedule, planned: string, now: string): Promise<string> {
  const daily = addMinutes(now, LOOK_MINUTES);
  const [next] = await runsBetween(tx, s.id, planned, addMinutes(daily, s.leadMinutes));
  const look = next && addMinutes(next.at, -s.leadMinutes);
  return look !== undefined && look < daily ? look : daily;
}

/**
 * Makes a schedule's runs anew and plans it up to its lead from now, in one transaction with the mark of how far it was
 * planned.
 */
async function planSchedule(tools: Tools, agency: Agency, s: StoredSchedule, now: string): Promise<void> {
  const { store } = tools;
  const until = maxInstant(addMinutes(now, s.leadMinutes), s.plannedThrough);
  const planned = await inTransaction(store, async (tx) => {
    // Changed or paused since it was read: its runs are made already, and it is looked at again.
    const kept = await scheduleById(tx, s.id);
    if (kept?.state !== 'active' || kept.plannedThrough !== s.plannedThrough) return null;
    // Runs that other rules of time zones move stay as they are until somebody has seen that.
    if (!(await hasZoneMoves(tx, s.id))) await makeRuns(tx, kept, agency, now);
    const fresh = await runsBetween(tx, s.id, s.plannedThrough, until);
    const look = await nextLook(tx, s, until, now);
    if (fresh.length > 0) return { fresh, look };
    await setPlanned(tx, s, until, look);
    return null;
  });
  if (!planned) return;
  const { fresh, look } = planned;
  // Missed is only what had not begun to collect its data, with all its groups; whatever waits for data or a person stays.
  const begun = await begunOf(store, s.id);
  const unsent = (await unsentOf(store, s.id)).filter(
    (e) => e.state === 'planned' && e.due_at <= now && !begun.has(e.nominal!),
  );
  const open: Open[] = fresh.map(({ nominal, at }) => ({ nominal, at, editions: [] }));
  for (const e of unsent) {
    const known = open.find((o) => o.nominal === e.nominal);
    if (known) known.editions.push(e);
    else open.push({ nominal: e.nominal!, at: e.due_at, editions: [e] });
  }
  const backlog: ScheduleBacklog<Open> = { id: s.id, open };
  const { run, skipped } = sortMissed(now, [backlog]);
  tools.crash('plan.before-editions');
  await inTransaction(store, async (tx) => {
    // Paused or changed since it was read: it is looked at again.
    if (!(await setPlanned(tx, s, until, look))) return;
    for (const o of fresh.filter((f) => f.at > now)) await add(tx, s, o, 'planned', now, null);
    for (const o of run.filter((r) => r.editions.length === 0)) await add(tx, s, o, 'planned', now, null);
    for (const o of skipped) {
      const reason = run.length > 0 ? NEWER : MISSED;
      if (o.editions.length === 0) await add(tx, s, o, 'skipped', now, reason);
      else for (const e of o.editions) await leaveOut(tx, e, reason, now);
    }
  });
  tools.crash('plan.after-editions');
}

const maxInstant = (a: string, b: string): string => (a > b ? a : b);

/** True for a run of which nobody has begun to collect its data any edition a day after its time: too late to go out unasked. */
export async function isMissed(db: Store, e: EditionRow, now: string): Promise<boolean> {
  if (e.state !== 'planned' || e.kind !== 'scheduled' || e.nominal === null || e.schedule_id === null) return false;
  const { skipped } = sortMissed(now, [{ id: e.id, open: [{ nominal: e.nominal, at: e.due_at }] }]);
  return skipped.length > 0 && !(await begunOf(db, e.schedule_id)).has(e.nominal);
}

/** Leaves a run out whose time passed while nothing ran. */
export const leaveOut = (tx: Store, e: EditionRow, reason: string, at: string, lease?: Lease): Promise<boolean> =>
  moveEdition(tx, e, 'skipped', { reason, code: 'missed', next_at: null }, { at, actor: 'scheduler', lease });

/** Minutes before the day of going on at which a schedule is looked at again: what runs first on it needs its data collected. */
const RESUME_AHEAD = 24 * 60;

/** Lets schedules go on that were paused until a day which has come. */
async function resumeWhatIsDue({ store }: Tools, now: string): Promise<void> {
  const soon = addMinutes(now, RESUME_AHEAD);
  // A day may begin half a day earlier elsewhere.
  for (const s of await schedulesResuming(store, addMinutes(soon, RESUME_AHEAD).slice(0, 10))) {
    const from = startOfDay(s.resumesOn!, s.zone);
    if (addMinutes(from, -s.leadMinutes) > now) continue;
    const by = { at: now, actor: 'scheduler', name: '' };
    await inTransaction(store, async (tx) => {
      await resumeFrom(tx, s, now);
      await releasePaused(tx, s.id, by);
      await record(tx, { at: now, actor: 'scheduler', action: 'schedule.resumed', subject: s.id });
    });
  }
}

/**
 * Turns the occurrences of all schedules into editions, from their lead before the send time on. Occurrences whose
 * time passed are run or skipped by the rule for missed ones (SEMANTICS §10).
 * @returns true when more schedules may be waiting to be looked at
 */
export async function planAll(tools: Tools): Promise<boolean> {
  const now = tools.clock.now();
  await resumeWhatIsDue(tools, now);
  const schedules = await schedulesToLookAt(tools.store, now, AT_ONCE);
  const agency = schedules.length > 0 ? await agencyOf(tools.store) : null;
  if (!agency) return false;
  for (const schedule of schedules) {
    try {
      const read = await scheduleById(tools.store, schedule.id);
      if (read) await planSchedule(tools, agency, read, now);
    } catch (err) {
      // One schedule that cannot be planned must not keep the others from going out.
      tools.log.error({ err, schedule: schedule.id }, 'schedule could not be planned');
      await setPlanned(tools.store, schedule, schedule.plannedThrough, addMinutes(now, PLAN_AGAIN));
    }
  }
  return schedules.length === AT_ONCE;
}
