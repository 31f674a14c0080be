import { addDays, civilDateAt, dateFault } from '@chronicon/core/calendar';
import type { RouteName, Schedule, ScheduleInput } from '@chronicon/core/contract';
import { formatterOf } from '@chronicon/core/words';
import type { Session } from '../access/sessions.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import type { Doer } from '../scheduler/follow.ts';
import { createSchedule } from '../store/changeSchedule.ts';
import { clientById, contactsOf, type StoredClient } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import type { LedgerDetail, LedgerKind } from '../store/ledgerKinds.ts';
import { listsOf } from '../store/readerLists.ts';
import { reportById } from '../store/reports.ts';
import { nextRunsOf } from '../store/runs.ts';
import { dropScheduleDraft } from '../store/scheduleDrafts.ts';
import { type StoredSchedule, scheduleById, schedulesOf } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { theClient, theSchedule } from './access.ts';
import { SOON_DAYS } from './allSchedules.ts';
import type { Api, Handlers } from './context.ts';
import { groupsFrom } from './groupsFile.ts';
import { valuesIn } from './groupValues.ts';
import type { MailRoute } from './mails.ts';
import { changeTo, endSchedule, inputOf, makeFrom, setActive } from './scheduleActs.ts';
import { checked, checkMayRun } from './scheduleChecks.ts';
import { effectsOf } from './scheduleEffects.ts';
import { filterGaps } from './scheduleFilter.ts';
import { changesOf, historyOf } from './scheduleHistory.ts';
import { runsAhead } from './scheduleRuns.ts';

/** Since when a schedule sends nothing more, in words; null while another run is to come. */
async function endOf(db: Store, s: StoredSchedule, client: StoredClient, now: string): Promise<string | null> {
  if (s.state === 'ended') return 'It was ended.';
  if (s.state !== 'active' || (await nextRunsOf(db, [s.id], now, 1)).get(s.id)!.length > 0) return null;
  const english = formatterOf('en-GB', client.currency);
  return s.lastDate === null ? 'It has no more runs.' : `Its last date was ${english.date(s.lastDate)}.`;
}

export async function describe(api: Api, s: StoredSchedule): Promise<Schedule> {
  const report = await reportById(api.store, s.reportId);
  const client = (await clientById(api.store, s.clientId))!;
  const now = api.clock.now();
  const ended = await endOf(api.store, s, client, now);
  const soon = s.lastDate !== null && s.state !== 'ended' && s.lastDate <= addDays(now.slice(0, 10), SOON_DAYS);
  return {
    id: s.id,
    clientId: s.clientId,
    reportTitle: report?.title ?? '',
    active: s.state === 'active',
    ended,
    stopped: s.stopped,
    resumesOn: s.state === 'paused' ? s.resumesOn : null,
    endsSoon: soon ? s.lastDate : null,
    input: inputOf(s),
  };
}

/** Changes a schedule and lets its editions follow, all in one transaction. */
async function change<K extends LedgerKind>(
  api: Api,
  s: StoredSchedule,
  { member }: Session,
  action: K,
  work: (tx: Store, by: Doer) => Promise<void>,
  detail?: LedgerDetail<K>,
): Promise<void> {
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    await work(tx, { at, actor: member.id, name: member.name });
    await record(tx, { at, actor: member.id, action, subject: s.id, ...(detail && { detail }) });
  });
  api.scheduler.nudge();
}

/** The client of a schedule that a person may see and change. @throws Refusal for one that has been ended */
async function changeable(api: Api, session: Session, id: string): Promise<[StoredSchedule, StoredClient]> {
  const schedule = await theSchedule(api.store, session.member, id);
  if (schedule.state === 'ended') throw new Refusal(409, 'This schedule has been ended. Start a new one.');
  return [schedule, (await clientById(api.store, schedule.clientId))!];
}

/** Saves what a person said of a schedule, with what it changed in the ledger. */
async function save(api: Api, session: Session, id: string, said: (s: StoredSchedule) => ScheduleInput) {
  const [schedule, client] = await changeable(api, session, id);
  const input = await checked(api, client, said(schedule), schedule);
  const changed = changesOf(schedule, input);
  await change(api, schedule, session, 'schedule.changed', (tx, by) => changeTo(tx, schedule, client, input, by), {
    changed,
  });
  return describe(api, (await scheduleById(api.store, schedule.id))!);
}

export const scheduleHandlers: Handlers<
  Exclude<
    Extract<RouteName, `${string}/schedules${string}` | `${string}/groups`>,
    `${string} /api/schedules/many${string}` | MailRoute | `${string}/series` | 'GET /api/schedules'
  >
> = {
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
      // What was begun is started now.
      await dropScheduleDraft(tx, session.member.id, client.id);
      await record(tx, { at, actor: session.member.id, action: 'schedule.started', subject: made.id });
      return made;
    });
    api.scheduler.nudge();
    return describe(api, schedule);
  },

  'POST /api/clients/:client/schedules/look-ahead': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const saved = body.schedule === undefined ? null : await theSchedule(api.store, session.member, body.schedule);
    if (saved && saved.clientId !== client.id) throw notFound('schedule');
    return runsAhead(api, client, body, saved);
  },

  'POST /api/clients/:client/schedules/filter-gaps': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const report = await reportById(api.store, body.reportId);
    if (report?.clientId !== client.id) throw atField('reportId', 'Choose a report of this client.');
    return { gaps: await filterGaps(api, client, report.release?.document ?? report.document, body) };
  },

  'POST /api/clients/:client/groups': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    return groupsFrom(body.text, {
      contacts: await contactsOf(api.store, client.id),
      lists: await listsOf(api.store, client.id),
      values: await valuesIn(api, client.id, body.by),
    });
  },

  'GET /api/schedules/:schedule': async ({ api, session, params }) =>
    describe(api, await theSchedule(api.store, session.member, params.schedule)),

  'PUT /api/schedules/:schedule': async ({ api, session, params, body }) =>
    save(api, session, params.schedule, () => body),

  'POST /api/schedules/:schedule/effects': async ({ api, session, params, body }) => {
    const [schedule, client] = await changeable(api, session, params.schedule);
    return effectsOf(api, schedule, client, await checked(api, client, body, schedule));
  },

  'GET /api/schedules/:schedule/history': async ({ api, session, params }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    return historyOf(api.store, schedule.id);
  },

  'PUT /api/schedules/:schedule/runs/:nominal': async ({ api, session, params, body }) =>
    save(api, session, params.schedule, (s) => {
      const { [params.nominal]: _, ...others } = s.exceptions;
      const isPlain = Object.values(body).every((v) => v === undefined);
      if (dateFault(params.nominal) !== null) throw notFound('run');
      return { ...inputOf(s), exceptions: isPlain ? others : { ...others, [params.nominal]: body } };
    }),

  'PUT /api/schedules/:schedule/active': async ({ api, session, params, body }) => {
    const [schedule, client] = await changeable(api, session, params.schedule);
    const { active, resumesOn } = body;
    if ((schedule.state === 'active') === active && (active || schedule.resumesOn === resumesOn)) {
      return describe(api, schedule);
    }
    if (active) checkMayRun(client, schedule);
    else if (resumesOn !== null && resumesOn <= civilDateAt(api.clock.now(), schedule.zone)) {
      throw atField('resumesOn', 'Choose a future date.');
    }
    const action = active ? 'schedule.resumed' : 'schedule.paused';
    await change(api, schedule, session, action, (tx, by) => setActive(tx, schedule, body, by), {
      ...(resumesOn && { resumesOn }),
    });
    return describe(api, (await scheduleById(api.store, schedule.id))!);
  },

  'POST /api/schedules/:schedule/make': async ({ api, session, params, body }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    const by = { memberId: session.member.id, kind: 'by-hand' as const, of: body.of };
    return { editionId: (await makeFrom(api, schedule, by))[0]! };
  },

  'POST /api/schedules/:schedule/test': async ({ api, session, params }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    const by = { memberId: session.member.id, kind: 'test' as const, of: 'today' as const };
    return { editionId: (await makeFrom(api, schedule, by))[0]! };
  },

  'DELETE /api/schedules/:schedule': async ({ api, session, params }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    if (schedule.state === 'ended') return { done: true };
    await change(api, schedule, session, 'schedule.ended', (tx, by) => endSchedule(tx, schedule, by));
    return { done: true };
  },
};
