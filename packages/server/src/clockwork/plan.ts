import { addMinutes, type Occurrence, occurrencesBetween, type Recurrence } from '@chronicon/core/calendar';
import { type ScheduleBacklog, sortMissed } from '@chronicon/core/edition';
import { clientById } from '../store/clients.ts';
import { addEdition, type EditionRow, moveEdition, type OrderSheet, unsentOf } from '../store/editions.ts';
import { type Agency, agencyOf } from '../store/members.ts';
import { reportById } from '../store/reports.ts';
import { recurrenceOf, type StoredSchedule, schedulesToLookAt, setPlanned } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { settleDates } from './dates.ts';
import type { Tools } from './tools.ts';

/** An occurrence that has no edition yet, or an edition of it that has not begun to be sent. */
interface Open extends Occurrence {
  edition: EditionRow | null;
}

const MISSED = 'Its time passed while the server was not running.';
const NEWER = 'A newer run of the same schedule was due too; only the newest is made.';

/** The order sheet of a schedule's run. */
export async function ordersFor(db: Store, s: StoredSchedule, nominal: string): Promise<OrderSheet> {
  const report = (await reportById(db, s.reportId))!;
  return {
    title: report.title,
    period: s.period,
    comparison: s.comparison,
    asOf: nominal,
    readers: s.readers.map((contact) => ({ contact })),
    subject: s.subject,
    message: s.message,
  };
}

async function add(
  tx: Store,
  s: StoredSchedule,
  o: Open,
  state: 'planned' | 'skipped',
  now: string,
  reason: string | null,
) {
  const client = (await clientById(tx, s.clientId))!;
  const orders = await ordersFor(tx, s, o.nominal);
  await addEdition(tx, {
    clientId: s.clientId,
    reportId: s.reportId,
    kind: 'scheduled',
    scheduleId: s.id,
    nominal: o.nominal,
    orders,
    dates: settleDates(s.period, s.comparison, o.nominal, client),
    state,
    reason,
    dueAt: new Date(o.at).toISOString(),
    nextAt: state === 'planned' ? now : null,
    madeBy: null,
    at: now,
  });
}

/** Minutes until a schedule that could not be planned is looked at again. */
const PLAN_AGAIN = 15;

/** A schedule is looked at once a day at least: zone data may change between now and its next run. */
const LOOK_MINUTES = 24 * 60;

/** When a schedule has to be looked at again: as its next run comes within the lead. */
function nextLook(recurrence: Recurrence, leadMinutes: number, planned: string, now: string): string {
  const daily = addMinutes(now, LOOK_MINUTES);
  const next = occurrencesBetween(recurrence, planned, addMinutes(daily, leadMinutes))
    .map((o) => addMinutes(o.at, -leadMinutes))
    .sort()[0];
  return next !== undefined && next < daily ? next : daily;
}

/** Plans one schedule up to its lead from now; in one transaction with the mark of how far it was planned. */
async function planSchedule(tools: Tools, agency: Agency, s: StoredSchedule, now: string): Promise<void> {
  const { store } = tools;
  const until = maxInstant(addMinutes(now, s.leadMinutes), s.plannedThrough);
  const client = (await clientById(store, s.clientId))!;
  const recurrence = recurrenceOf(s, agency, client.weekStart);
  const fresh = occurrencesBetween(recurrence, s.plannedThrough, until);
  const look = nextLook(recurrence, s.leadMinutes, until, now);
  if (fresh.length === 0) {
    await setPlanned(store, s.id, until, look);
    return;
  }
  const unsent = (await unsentOf(store, s.id)).filter((e) => e.due_at <= now);
  const open: Open[] = [
    ...fresh.map((o) => ({ ...o, edition: null })),
    ...unsent.map((e) => ({ nominal: e.nominal!, runs: e.nominal!, at: e.due_at, edition: e })),
  ];
  const backlog: ScheduleBacklog<Open> = { id: s.id, open };
  const { run, skipped } = sortMissed(now, [backlog]);
  tools.crash('plan.before-editions');
  await inTransaction(store, async (tx) => {
    for (const o of fresh.filter((f) => Date.parse(f.at) > Date.parse(now))) {
      await add(tx, s, { ...o, edition: null }, 'planned', now, null);
    }
    for (const o of run.filter((r) => r.edition === null)) await add(tx, s, o, 'planned', now, null);
    for (const o of skipped) {
      const reason = run.length > 0 ? NEWER : MISSED;
      if (o.edition === null) await add(tx, s, o, 'skipped', now, reason);
      else await moveEdition(tx, o.edition, 'skipped', { reason, next_at: null }, { at: now, actor: 'clockwork' });
    }
    await setPlanned(tx, s.id, until, look);
  });
  tools.crash('plan.after-editions');
}

const maxInstant = (a: string, b: string): string => (a > b ? a : b);

/** True for a scheduled edition that nobody has begun to send a day after its time: too late to go out unasked. */
export const isTooLate = (e: EditionRow, now: string): boolean =>
  e.kind === 'scheduled' &&
  e.nominal !== null &&
  sortMissed(now, [{ id: e.id, open: [{ nominal: e.nominal, at: e.due_at }] }]).skipped.length > 0;

/** Leaves an edition out whose time passed while nothing ran. */
export const leaveOut = (tools: Tools, e: EditionRow): Promise<boolean> =>
  moveEdition(
    tools.store,
    e,
    'skipped',
    { reason: MISSED, next_at: null },
    { at: tools.clock.now(), actor: 'clockwork' },
  );

/**
 * Turns the occurrences of all schedules into editions, from their lead before the send time on. Occurrences whose
 * time passed are run or skipped by the rule for missed ones (SEMANTICS §10).
 */
export async function planAll(tools: Tools): Promise<void> {
  const now = tools.clock.now();
  const schedules = await schedulesToLookAt(tools.store, now);
  const agency = schedules.length > 0 ? await agencyOf(tools.store) : null;
  if (!agency) return;
  for (const schedule of schedules) {
    try {
      await planSchedule(tools, agency, schedule, now);
    } catch (err) {
      // One schedule that cannot be planned must not keep the others from going out.
      tools.log.error({ err, schedule: schedule.id }, 'schedule could not be planned');
      await setPlanned(tools.store, schedule.id, schedule.plannedThrough, addMinutes(now, PLAN_AGAIN));
    }
  }
}
