import { addMinutes, type Occurrence, occurrencesBetween } from '@chronicon/core/calendar';
import { type ScheduleBacklog, sortMissed } from '@chronicon/core/edition';
import { clientById } from '../store/clients.ts';
import { addEdition, type EditionRow, moveEdition, type OrderSheet, unsentOf } from '../store/editions.ts';
import { type Agency, agencyOf } from '../store/members.ts';
import { reportById } from '../store/reports.ts';
import { activeSchedules, recurrenceOf, type StoredSchedule, setPlannedThrough } from '../store/schedules.ts';
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

/** Plans one schedule up to its lead from now; in one transaction with the mark of how far it was planned. */
async function planSchedule(tools: Tools, agency: Agency, s: StoredSchedule, now: string): Promise<void> {
  const { store } = tools;
  const until = addMinutes(now, s.leadMinutes);
  if (until <= s.plannedThrough) return;
  const client = (await clientById(store, s.clientId))!;
  const fresh = occurrencesBetween(recurrenceOf(s, agency, client.weekStart), s.plannedThrough, until);
  const unsent = (await unsentOf(store, s.id)).filter((e) => e.due_at <= now);
  if (fresh.length === 0 && unsent.length === 0) return;
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
    if (fresh.length > 0) await setPlannedThrough(tx, s.id, until);
  });
  tools.crash('plan.after-editions');
}

/**
 * Turns the occurrences of all schedules into editions, from their lead before the send time on. Occurrences whose
 * time passed are run or skipped by the rule for missed ones (SEMANTICS §10).
 */
export async function planAll(tools: Tools): Promise<void> {
  const agency = await agencyOf(tools.store);
  if (!agency) return;
  const now = tools.clock.now();
  for (const schedule of await activeSchedules(tools.store)) await planSchedule(tools, agency, schedule, now);
}
