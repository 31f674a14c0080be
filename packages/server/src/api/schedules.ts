import { civilDateAt, occurrences, rruleOf } from '@chronicon/core/calendar';
import type { ComingRun, RouteName, Schedule, ScheduleInput } from '@chronicon/core/contract';
import { metricBook } from '@chronicon/core/figures';
import {
  checkMergeFields,
  describeMergeFault,
  fillMergeFields,
  MERGE_FIELDS,
  ownOfSchedule,
  type ReaderRef,
} from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import type { Session } from '../access/sessions.ts';
import { type Doer, followSchedule, holdPaused, leaveOutEnded, releasePaused } from '../clockwork/follow.ts';
import { repeatOf } from '../clockwork/plan.ts';
import { atField, Refusal } from '../ground/refusal.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import { createSchedule, setScheduleState, updateSchedule } from '../store/changeSchedule.ts';
import { clientById, contactsByIds, type StoredClient } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { agencyOf } from '../store/members.ts';
import { reportById, type StoredReport } from '../store/reports.ts';
import { nextRunsOf } from '../store/runs.ts';
import { recurrenceOf, type StoredSchedule, scheduleById, schedulesOf } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { theClient, theSchedule } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { comingRuns } from './lookAhead.ts';
import { makeNow } from './reports.ts';
import { checkFilter } from './scheduleFilter.ts';
import { checkWorking } from './working.ts';

/** Since when a schedule sends nothing more, in words; null while another run is to come. */
async function endOf(db: Store, s: StoredSchedule, client: StoredClient, now: string): Promise<string | null> {
  if (s.state === 'ended') return 'It was ended.';
  if (s.state !== 'active' || (await nextRunsOf(db, [s.id], now, 1)).get(s.id)!.length > 0) return null;
  const english = formatterOf('en-GB', client.currency);
  return s.lastDate === null ? 'It has no more runs.' : `Its last date was ${english.date(s.lastDate)}.`;
}

async function describe(api: Api, s: StoredSchedule): Promise<Schedule> {
  const {
    id,
    clientId,
    state,
    stopped,
    skip: _,
    leadMinutes: __,
    plannedThrough: ___,
    ruleChangedAt: ____,
    ...input
  } = s;
  const report = await reportById(api.store, s.reportId);
  const client = (await clientById(api.store, clientId))!;
  const ended = await endOf(api.store, s, client, api.clock.now());
  return { id, clientId, reportTitle: report?.title ?? '', active: state === 'active', ended, stopped, input };
}

/** A field that can never be filled by this schedule is refused now, not on the day of sending (SEMANTICS §11). */
function checkTemplates(input: ScheduleInput, client: StoredClient): void {
  const { keys } = metricBook(client.metrics);
  const held = ['none', 'target', 'typical'].includes(input.comparison.kind) ? null : 'x';
  const sample: Record<string, string | null> = Object.fromEntries(MERGE_FIELDS.map((f) => [f, 'x']));
  sample['comparison.label'] = held;
  for (const key of keys) {
    sample[`figure.${key}`] = 'x';
    sample[`change.${key}`] = held;
  }
  for (const field of ['subject', 'message'] as const) {
    const fault = checkMergeFields(input[field], keys);
    if (fault) throw atField(field, describeMergeFault(fault));
    const filled = fillMergeFields(input[field], 'text', keys, sample);
    if (!filled.ok) throw atField(field, describeMergeFault(filled.fault));
  }
}

/**
 * What a schedule assumes of what its report assumes now: what was set before, and the report has let go since, goes too.
 * @throws Refusal for what is set now and the report does not name
 */
function assumedOf(report: StoredReport, { assumed }: ScheduleInput, before: ScheduleInput['assumed']) {
  const known = new Set((report.release?.document.assumptions ?? []).map((a) => a.key));
  const lost = Object.keys(assumed).find((key) => !known.has(key) && !Object.hasOwn(before, key));
  if (lost) throw atField('assumed', `The report assumes nothing called ${lost}.`);
  return Object.fromEntries(Object.entries(assumed).filter(([key]) => known.has(key)));
}

/** What a person asks of a schedule, as it can be kept. @throws Refusal at the field that cannot be */
async function checked(
  api: Api,
  client: StoredClient,
  input: ScheduleInput,
  before: ScheduleInput['assumed'] = {},
): Promise<ScheduleInput> {
  checkWorking(client);
  const report = await reportById(api.store, input.reportId);
  if (report?.clientId !== client.id) throw atField('reportId', 'Choose a report of this client.');
  if (report.release === null) {
    throw atField('reportId', 'This report has never been released. Open it, look at it, and release it first.');
  }
  const { limits } = (await agencyOf(api.store))!.settings;
  if (input.readers.length > limits.readers) {
    throw atField('readers', `Your agency lets a schedule have ${limits.readers} readers at most.`);
  }
  const readers = await contactsByIds(api.store, client.id, input.readers);
  if (readers.length !== new Set(input.readers).size || readers.length !== input.readers.length) {
    throw atField('readers', 'Choose each reader once, from the contacts of this client.');
  }
  const assumed = assumedOf(report, input, before);
  checkTemplates(input, client);
  await checkFilter(api, client, report.release.document, input);
  const agency = await agencyFor(api.store, client);
  const first = occurrences(recurrenceOf(input, agency, client.weekStart), input.firstDate).next();
  if (first.done) throw atField('rule', 'This rule never comes round between the first and the last date.');
  return { ...input, assumed };
}

/** Runs that are looked at ahead. */
const AHEAD = 12;

/** Says of a run that a change of the dates would have it cover what was covered already. */
async function noteRepeats(
  api: Api,
  saved: StoredSchedule,
  plan: Pick<ScheduleInput, 'rule' | 'firstDate' | 'lastDate' | 'period' | 'comparison'>,
  client: StoredClient,
  runs: ComingRun[],
): Promise<ComingRun[]> {
  const dates = (s: typeof plan) => JSON.stringify([s.rule, s.firstDate, s.lastDate, s.period]);
  const changedAt = dates(saved) === dates(plan) ? saved.ruleChangedAt : api.clock.now();
  const changed = { ...saved, ...plan, ruleChangedAt: changedAt };
  return Promise.all(
    runs.map(async (run) => {
      const repeat = await repeatOf(api.store, changed, client, run.nominal);
      return repeat ? { ...run, notes: [...run.notes, `It begins as left out. ${repeat}`] } : run;
    }),
  );
}

/** The dates that "now" means for a schedule: those of its next run. */
async function nextAsOf(api: Api, s: StoredSchedule): Promise<string | undefined> {
  return (await nextRunsOf(api.store, [s.id], api.clock.now(), 1)).get(s.id)![0]?.nominal;
}

async function makeFrom(api: Api, s: StoredSchedule, memberId: string, kind: 'by-hand' | 'test', readers: ReaderRef[]) {
  const report = (await reportById(api.store, s.reportId))!;
  const client = (await clientById(api.store, s.clientId))!;
  const asOf = (await nextAsOf(api, s)) ?? civilDateAt(api.clock.now(), client.zone);
  const { period, comparison, subject, message } = s;
  const looked = { period, comparison, asOf, ...ownOfSchedule(s) };
  return { editionId: await makeNow(api, report, { memberId, kind, readers, looked, mail: { subject, message } }) };
}

/** Changes a schedule and lets its editions follow, all in one transaction. */
async function change(
  api: Api,
  s: StoredSchedule,
  { member }: Session,
  action: string,
  work: (tx: Store, by: Doer) => Promise<void>,
): Promise<void> {
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    await work(tx, { at, actor: member.id, name: member.name });
    await record(tx, { at, actor: member.id, action, subject: s.id });
  });
  api.clockwork.nudge();
}

export const scheduleHandlers: Handlers<Extract<RouteName, `${string}/schedules${string}`>> = {
  'GET /api/clients/:client/schedules': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return Promise.all((await schedulesOf(api.store, params.client)).map((s) => describe(api, s)));
  },

  'POST /api/clients/:client/schedules': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const input = await checked(api, client, body);
    const at = api.clock.now();
    const schedule = await inTransaction(api.store, async (tx) => {
      const made = await createSchedule(tx, client.id, input, at);
      await record(tx, { at, actor: session.member.id, action: 'schedule.started', subject: made.id });
      return made;
    });
    api.clockwork.nudge();
    return describe(api, schedule);
  },

  'POST /api/clients/:client/schedules/look-ahead': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const agency = await agencyFor(api.store, client);
    const saved = body.schedule === undefined ? null : await theSchedule(api.store, session.member, body.schedule);
    const plan = { ...body, skip: saved?.skip };
    const runs = comingRuns(plan, client, agency, api.clock.now(), AHEAD);
    return {
      runs: saved ? await noteRepeats(api, saved, body, client, runs) : runs,
      calendarRule: rruleOf(recurrenceOf(plan, agency, client.weekStart)),
    };
  },

  'GET /api/schedules/:schedule': async ({ api, session, params }) =>
    describe(api, await theSchedule(api.store, session.member, params.schedule)),

  'PUT /api/schedules/:schedule': async ({ api, session, params, body }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    if (schedule.state === 'ended') throw new Refusal(409, 'This schedule has been ended. Start a new one.');
    const client = (await clientById(api.store, schedule.clientId))!;
    const input = await checked(api, client, body, schedule.assumed);
    const agency = await agencyFor(api.store, client);
    await change(api, schedule, session, 'schedule.changed', async (tx, by) => {
      await updateSchedule(tx, schedule, input, by.at);
      await followSchedule(tx, schedule.id, agency, client, by);
    });
    return describe(api, (await scheduleById(api.store, schedule.id))!);
  },

  'PUT /api/schedules/:schedule/active': async ({ api, session, params, body }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    if (schedule.state === 'ended') throw new Refusal(409, 'This schedule has been ended. Start a new one.');
    if ((schedule.state === 'active') === body.active) return describe(api, schedule);
    if (body.active) {
      checkWorking((await clientById(api.store, schedule.clientId))!);
      if (schedule.readers.length === 0) throw atField('readers', 'Nobody reads it yet. Choose readers first.');
      await change(api, schedule, session, 'schedule.resumed', async (tx, by) => {
        await setScheduleState(tx, schedule.id, 'active', by.at);
        await releasePaused(tx, schedule.id, by);
      });
    } else {
      await change(api, schedule, session, 'schedule.paused', async (tx, by) => {
        await setScheduleState(tx, schedule.id, 'paused', by.at);
        await holdPaused(tx, schedule.id, `Its schedule was paused by ${by.name}.`, by);
      });
    }
    return describe(api, (await scheduleById(api.store, schedule.id))!);
  },

  'POST /api/schedules/:schedule/make': async ({ api, session, params }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    const readers = schedule.readers.map((contact) => ({ contact }));
    return makeFrom(api, schedule, session.member.id, 'by-hand', readers);
  },

  'POST /api/schedules/:schedule/test': async ({ api, session, params }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    return makeFrom(api, schedule, session.member.id, 'test', [{ member: session.member.id }]);
  },

  'DELETE /api/schedules/:schedule': async ({ api, session, params }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    if (schedule.state === 'ended') return { done: true };
    await change(api, schedule, session, 'schedule.ended', async (tx, by) => {
      await setScheduleState(tx, schedule.id, 'ended', by.at);
      await leaveOutEnded(tx, schedule.id, by);
    });
    return { done: true };
  },
};
