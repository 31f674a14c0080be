import { addMinutes } from '@chronicon/core/calendar';
import { type ScheduleBacklog, sortMissed } from '@chronicon/core/edition';
import { settleDates } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { clientById, type StoredClient } from '../store/clients.ts';
import { addEdition, type EditionRow, lastMadeOf, moveEdition, unsentOf } from '../store/editions.ts';
import type { Lease } from '../store/instances.ts';
import { type Agency, agencyOf } from '../store/members.ts';
import { reportById } from '../store/reports.ts';
import { makeRuns, runsBetween } from '../store/runs.ts';
import { type StoredSchedule, scheduleById, schedulesToLookAt, setPlanned } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { ordersFor } from './orders.ts';
import type { Tools } from './tools.ts';

/** An occurrence that has no edition yet, or an edition of it that has not begun to be sent. */
interface Open {
  nominal: string;
  /** UTC ISO text. */
  at: string;
  edition: EditionRow | null;
}

export const MISSED = 'Its time passed while the server was not running.';
const NEWER = 'A newer run of the same schedule was due too; only the newest is made.';

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
  if (s.ruleChangedAt === null) return null;
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
  await addEdition(tx, {
    clientId: s.clientId,
    reportId: s.reportId,
    kind: 'scheduled',
    scheduleId: s.id,
    nominal: o.nominal,
    orders: ordersFor(s, report, o.nominal),
    dates: settleDates(s.period, s.comparison, o.nominal, client),
    state: skipped ? 'skipped' : 'planned',
    reason: repeat ?? reason,
    ...(skipped && { code: repeat !== null ? 'repeat' : 'missed' }),
    dueAt: o.at,
    nextAt: skipped ? null : now,
    madeBy: null,
    at: now,
  });
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
    await makeRuns(tx, kept, agency, now);
    const fresh = await runsBetween(tx, s.id, s.plannedThrough, until);
    const look = await nextLook(tx, s, until, now);
    if (fresh.length > 0) return { fresh, look };
    await setPlanned(tx, s, until, look);
    return null;
  });
  if (!planned) return;
  const { fresh, look } = planned;
  // Missed is only what had not begun to gather; whatever waits for data or a person stays.
  const unsent = (await unsentOf(store, s.id)).filter((e) => e.state === 'planned' && e.due_at <= now);
  const open: Open[] = [
    ...fresh.map(({ nominal, at }) => ({ nominal, at, edition: null })),
    ...unsent.map((e) => ({ nominal: e.nominal!, at: e.due_at, edition: e })),
  ];
  const backlog: ScheduleBacklog<Open> = { id: s.id, open };
  const { run, skipped } = sortMissed(now, [backlog]);
  tools.crash('plan.before-editions');
  await inTransaction(store, async (tx) => {
    // Paused or changed since it was read: it is looked at again.
    if (!(await setPlanned(tx, s, until, look))) return;
    for (const o of fresh.filter((f) => f.at > now)) await add(tx, s, o, 'planned', now, null);
    for (const o of run.filter((r) => r.edition === null)) await add(tx, s, o, 'planned', now, null);
    for (const o of skipped) {
      const reason = run.length > 0 ? NEWER : MISSED;
      if (o.edition === null) await add(tx, s, o, 'skipped', now, reason);
      else await leaveOut(tx, o.edition, reason, now);
    }
  });
  tools.crash('plan.after-editions');
}

const maxInstant = (a: string, b: string): string => (a > b ? a : b);

/** True for a run that nobody has begun to gather a day after its time: too late to go out unasked. */
export const isMissed = (e: EditionRow, now: string): boolean =>
  e.state === 'planned' &&
  e.kind === 'scheduled' &&
  e.nominal !== null &&
  sortMissed(now, [{ id: e.id, open: [{ nominal: e.nominal, at: e.due_at }] }]).skipped.length > 0;

/** Leaves a run out whose time passed while nothing ran. */
export const leaveOut = (tx: Store, e: EditionRow, reason: string, at: string, lease?: Lease): Promise<boolean> =>
  moveEdition(tx, e, 'skipped', { reason, code: 'missed', next_at: null }, { at, actor: 'clockwork', lease });

/**
 * Turns the occurrences of all schedules into editions, from their lead before the send time on. Occurrences whose
 * time passed are run or skipped by the rule for missed ones (SEMANTICS §10).
 * @returns true when more schedules may be waiting to be looked at
 */
export async function planAll(tools: Tools): Promise<boolean> {
  const now = tools.clock.now();
  const schedules = await schedulesToLookAt(tools.store, now, AT_ONCE);
  const agency = schedules.length > 0 ? await agencyOf(tools.store) : null;
  if (!agency) return false;
  for (const schedule of schedules) {
    try {
      await planSchedule(tools, agency, schedule, now);
    } catch (err) {
      // One schedule that cannot be planned must not keep the others from going out.
      tools.log.error({ err, schedule: schedule.id }, 'schedule could not be planned');
      await setPlanned(tools.store, schedule, schedule.plannedThrough, addMinutes(now, PLAN_AGAIN));
    }
  }
  return schedules.length === AT_ONCE;
}
