import { occurrences } from '@chronicon/core/calendar';
import type { RouteName, Schedule, ScheduleInput } from '@chronicon/core/contract';
import { metricBook } from '@chronicon/core/figures';
import { checkMergeFields, describeMergeFault, fillMergeFields, MERGE_FIELDS } from '@chronicon/core/report';
import { clientById, contactsByIds, type StoredClient } from '../store/clients.ts';
import type { ReaderRef } from '../store/editions.ts';
import { record } from '../store/ledger.ts';
import { agencyOf } from '../store/members.ts';
import { reportById } from '../store/reports.ts';
import {
  createSchedule,
  recurrenceOf,
  type StoredSchedule,
  scheduleById,
  schedulesOf,
  setScheduleState,
  updateSchedule,
} from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { theClient, theSchedule } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { comingRuns } from './lookAhead.ts';
import { atField } from './refusal.ts';
import { makeNow } from './reports.ts';

async function describe(db: Store, s: StoredSchedule): Promise<Schedule> {
  const {
    id,
    clientId,
    state,
    stopped,
    skip: _,
    workingDayRule: __,
    leadMinutes: ___,
    plannedThrough: ____,
    ...input
  } = s;
  const report = await reportById(db, s.reportId);
  return { id, clientId, reportTitle: report?.title ?? '', active: state === 'active', stopped, input };
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

async function check(api: Api, client: StoredClient, input: ScheduleInput): Promise<void> {
  const report = await reportById(api.store, input.reportId);
  if (report?.clientId !== client.id) throw atField('reportId', 'Choose a report of this client.');
  const readers = await contactsByIds(api.store, client.id, input.readers);
  if (readers.length !== new Set(input.readers).size || readers.length !== input.readers.length) {
    throw atField('readers', 'Choose each reader once, from the contacts of this client.');
  }
  checkTemplates(input, client);
  const agency = (await agencyOf(api.store))!;
  const first = occurrences(recurrenceOf(input, agency, client.weekStart), input.firstDate).next();
  if (first.done) throw atField('rule', 'This rule never comes round between the first and the last date.');
}

/** The dates that "now" means for a schedule: those of its next run. */
async function nextAsOf(api: Api, s: StoredSchedule): Promise<string | undefined> {
  const client = (await clientById(api.store, s.clientId))!;
  const agency = (await agencyOf(api.store))!;
  return comingRuns(s, client, agency, api.clock.now(), 1)[0]?.nominal;
}

async function makeFrom(api: Api, s: StoredSchedule, memberId: string, kind: 'by-hand' | 'test', readers: ReaderRef[]) {
  const report = (await reportById(api.store, s.reportId))!;
  const asOf = await nextAsOf(api, s);
  const { period, comparison, subject, message } = s;
  const editionId = await makeNow(api, report, {
    memberId,
    kind,
    readers,
    period,
    comparison,
    ...(asOf && { asOf }),
    mail: { subject, message },
  });
  return { editionId };
}

export const scheduleHandlers: Handlers<Extract<RouteName, `${string}/schedules${string}`>> = {
  'GET /api/clients/:client/schedules': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return Promise.all((await schedulesOf(api.store, params.client)).map((s) => describe(api.store, s)));
  },

  'POST /api/clients/:client/schedules': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    await check(api, client, body);
    const at = api.clock.now();
    const schedule = await createSchedule(api.store, client.id, body, at);
    await record(api.store, { at, actor: session.member.id, action: 'schedule.started', subject: schedule.id });
    api.clockwork.nudge();
    return describe(api.store, schedule);
  },

  'POST /api/clients/:client/schedules/look-ahead': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    return comingRuns(body, client, (await agencyOf(api.store))!, api.clock.now(), 7);
  },

  'GET /api/schedules/:schedule': async ({ api, session, params }) =>
    describe(api.store, await theSchedule(api.store, session.member, params.schedule)),

  'PUT /api/schedules/:schedule': async ({ api, session, params, body }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    await check(api, (await clientById(api.store, schedule.clientId))!, body);
    const at = api.clock.now();
    await updateSchedule(api.store, schedule.id, body, at);
    await record(api.store, { at, actor: session.member.id, action: 'schedule.changed', subject: schedule.id });
    api.clockwork.nudge();
    return describe(api.store, (await scheduleById(api.store, schedule.id))!);
  },

  'PUT /api/schedules/:schedule/active': async ({ api, session, params, body }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    const at = api.clock.now();
    await setScheduleState(api.store, schedule.id, body.active ? 'active' : 'paused', at);
    const action = body.active ? 'schedule.resumed' : 'schedule.paused';
    await record(api.store, { at, actor: session.member.id, action, subject: schedule.id });
    return describe(api.store, (await scheduleById(api.store, schedule.id))!);
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
    const at = api.clock.now();
    await setScheduleState(api.store, schedule.id, 'ended', at);
    await record(api.store, { at, actor: session.member.id, action: 'schedule.ended', subject: schedule.id });
    return { done: true };
  },
};
