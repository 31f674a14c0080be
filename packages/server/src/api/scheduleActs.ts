import { addMonths, civilDateAt, occurrences } from '@chronicon/core/calendar';
import { type ScheduleInput, scheduleInput } from '@chronicon/core/contract';
import { formatterOf } from '@chronicon/core/words';
import { type Doer, followSchedule, holdPaused, leaveOutEnded, releasePaused } from '../scheduler/follow.ts';
import { groupIdsOf, ordersFor } from '../scheduler/ordersOfRun.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import type { ScheduleState } from '../store/bulkActs.ts';
import { setScheduleState, updateSchedule } from '../store/changeSchedule.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import { reportById } from '../store/reports.ts';
import { nextRunsOf } from '../store/runs.ts';
import { recurrenceOf, type StoredSchedule } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import type { Api } from './context.ts';
import { makeNow } from './reports.ts';

/** What can be done with a schedule, by one form or with many at once. */

const KEYS = Object.keys(scheduleInput.shape) as (keyof ScheduleInput)[];

/** What a person said of a schedule, as a form has it. */
export const inputOf = (s: StoredSchedule): ScheduleInput =>
  Object.fromEntries(KEYS.map((key) => [key, s[key]])) as unknown as ScheduleInput;

/** A schedule as far as acts change it. */
export const standingOf = (s: StoredSchedule): ScheduleState => ({
  input: inputOf(s),
  state: s.state,
  resumesOn: s.resumesOn,
});

/** Changes what a schedule says, in a transaction of the caller: its runs are made anew, and its editions follow. */
export async function changeTo(
  tx: Store,
  schedule: StoredSchedule,
  client: StoredClient,
  input: ScheduleInput,
  by: Doer,
): Promise<void> {
  await updateSchedule(tx, schedule, input, by.at);
  await followSchedule(tx, schedule.id, await agencyFor(tx, client), client, by);
}

/** Pauses a schedule, for good or until a day, or lets it go on; in a transaction of the caller. */
export async function setActive(
  tx: Store,
  s: StoredSchedule,
  to: { active: boolean; resumesOn: string | null },
  by: Doer,
): Promise<void> {
  if (to.active) {
    await setScheduleState(tx, s.id, 'active', by.at);
    await releasePaused(tx, s.id, by);
    return;
  }
  const until = to.resumesOn === null ? '' : ` until ${formatterOf('en-GB', 'EUR').date(to.resumesOn)}`;
  await setScheduleState(tx, s.id, 'paused', by.at, to.resumesOn);
  await holdPaused(tx, s.id, `Its schedule was paused by ${by.name}${until}.`, by);
}

/** Ends a schedule: what is not handed over is left out; in a transaction of the caller. */
export async function endSchedule(tx: Store, s: StoredSchedule, by: Doer): Promise<void> {
  await setScheduleState(tx, s.id, 'ended', by.at);
  await leaveOutEnded(tx, s.id, by);
}

/** Whose dates an edition has that is made now: those of the next run, of the one before, or of one that would run today. */
type Of = 'next' | 'last' | 'today';

/** The day as of which "now" means for a schedule: that of its next run, or of the one before, whatever its first date is. */
async function asOfNow(api: Api, s: StoredSchedule, client: StoredClient, of: Of): Promise<string> {
  const today = civilDateAt(api.clock.now(), client.zone);
  if (of === 'today') return today;
  if (of === 'next') return (await nextRunsOf(api.store, [s.id], api.clock.now(), 1)).get(s.id)![0]?.nominal ?? today;
  const agency = await agencyFor(api.store, client);
  const open = { ...s, exceptions: {}, lastDate: today, firstDate: addMonths(today, -LAST_MONTHS) };
  let last = today;
  for (const o of occurrences(recurrenceOf(open, agency, client.weekStart), open.firstDate)) last = o.nominal;
  return last;
}
/** How far back the run before the next one is looked for. */
const LAST_MONTHS = 25;

/** Makes an edition of each group of a schedule now. @returns the ids of all of them */
export async function makeFrom(
  api: Api,
  s: StoredSchedule,
  by: { memberId: string; kind: 'by-hand' | 'test'; of: Of },
): Promise<string[]> {
  const report = (await reportById(api.store, s.reportId))!;
  const client = (await clientById(api.store, s.clientId))!;
  const asOf = await asOfNow(api, s, client, by.of);
  const made: string[] = [];
  // A test is of one group alone.
  for (const group of by.kind === 'test' ? groupIdsOf(s).slice(0, 1) : groupIdsOf(s)) {
    const sheet = await ordersFor(api.store, s, report, asOf, group);
    const readers = by.kind === 'test' ? [{ member: by.memberId }] : sheet.readers;
    made.push(await makeNow(api, report, { ...by, sheet: { ...sheet, readers } }));
  }
  return made;
}
