import { MOST_MOVED } from '@chronicon/core/bounds';
import {
  addDays,
  addMonths,
  civilDateAt,
  dateFault,
  type Exception,
  type Exceptions,
  instantOf,
  occurrenceOn,
  occurrences,
  rruleOf,
  toDayNumber,
  wallClock,
} from '@chronicon/core/calendar';
import { GUARD_WORDS, guard } from '@chronicon/core/client';
import {
  type ComingRun,
  MANAGERS,
  type RouteName,
  type Schedule,
  type ScheduleInput,
  scheduleInput,
} from '@chronicon/core/contract';
import { FOLLOWING } from '@chronicon/core/edition';
import { metricBook } from '@chronicon/core/figures';
import {
  checkMergeFields,
  choosePages,
  describeMergeFault,
  fillMergeFields,
  MERGE_FIELDS,
  readerKey,
  type ScheduleReader,
} from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import type { Session } from '../access/sessions.ts';
import { type Doer, followSchedule, holdPaused, leaveOutEnded, releasePaused } from '../clockwork/follow.ts';
import { groupIdsOf, ordersFor, peopleIn } from '../clockwork/ordersOfRun.ts';
import { repeatOf } from '../clockwork/plan.ts';
import { atField, notFound, Refusal } from '../ground/refusal.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import { createSchedule, sameDates, setScheduleState, updateSchedule } from '../store/changeSchedule.ts';
import { clientById, contactsOf, type StoredClient } from '../store/clients.ts';
import { editionsOfRun } from '../store/editions.ts';
import { record } from '../store/ledger.ts';
import { activeMembers, agencyOf } from '../store/members.ts';
import { listsOf } from '../store/readerLists.ts';
import { reportById, type StoredReport } from '../store/reports.ts';
import { nextRunsOf } from '../store/runs.ts';
import { recurrenceOf, type StoredSchedule, scheduleById, schedulesOf } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { theClient, theSchedule } from './access.ts';
import { SOON_DAYS } from './allSchedules.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import type { Api, Handlers } from './context.ts';
import { groupsFrom } from './groupsFile.ts';
import { newValues, valuesIn } from './groupValues.ts';
import { comingRuns, readersOfPlan, type SameDay } from './lookAhead.ts';
import { makeNow } from './reports.ts';
import { effectsOf } from './scheduleEffects.ts';
import { checkFilters } from './scheduleFilter.ts';
import { changesOf, historyOf } from './scheduleHistory.ts';
import { checkWorking } from './working.ts';

/** Since when a schedule sends nothing more, in words; null while another run is to come. */
async function endOf(db: Store, s: StoredSchedule, client: StoredClient, now: string): Promise<string | null> {
  if (s.state === 'ended') return 'It was ended.';
  if (s.state !== 'active' || (await nextRunsOf(db, [s.id], now, 1)).get(s.id)!.length > 0) return null;
  const english = formatterOf('en-GB', client.currency);
  return s.lastDate === null ? 'It has no more runs.' : `Its last date was ${english.date(s.lastDate)}.`;
}

const KEYS = Object.keys(scheduleInput.shape) as (keyof ScheduleInput)[];

/** What a person said of a schedule, as a form has it. */
export const inputOf = (s: StoredSchedule): ScheduleInput =>
  Object.fromEntries(KEYS.map((key) => [key, s[key]])) as unknown as ScheduleInput;

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
  const texts: [string, string][] = [
    ['subject', input.subject],
    ['message', input.message],
    ['fileName', input.fileName],
    ...(input.groups?.groups ?? []).flatMap((g, i): [string, string][] => [
      [`groups.groups.${i}.fileName`, g.fileName],
      [`groups.groups.${i}.greeting`, g.greeting],
    ]),
  ];
  for (const [field, text] of texts) {
    const fault = checkMergeFields(text, keys);
    if (fault) throw atField(field, describeMergeFault(fault));
    const filled = fillMergeFields(text, 'text', keys, sample);
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

/** Members who are named are there, and sign in. @throws Refusal at the field that names another */
async function checkMembers(db: Store, { signOff, notified, readers, groups }: ScheduleInput): Promise<void> {
  const members = await activeMembers(db);
  const active = new Set(members.map((m) => m.id));
  const check = (field: string, id: string | null) => {
    if (id !== null && !active.has(id)) throw atField(field, 'This person is no member who signs in.');
  };
  if (signOff.rule !== 'none' && signOff.asks !== null) {
    check('signOff.asks', signOff.asks);
    const { role, name } = members.find((m) => m.id === signOff.asks)!;
    if (!MANAGERS.includes(role))
      throw atField('signOff.asks', `${name} may not let an edition go. Ask an owner or a manager.`);
  }
  for (const n of notified) check('notified', n.member);
  for (const r of [...readers, ...(groups?.groups.flatMap((g) => g.readers) ?? [])]) {
    if ('member' in r) check('readers', r.member);
  }
}

/**
 * Readers are contacts and lists of this client, and members. Who may not be written to is not chosen anew; who was
 * chosen before stays, with a warning beside each run.
 */
async function checkReaders(
  api: Api,
  client: StoredClient,
  input: ScheduleInput,
  before: StoredSchedule | null,
): Promise<void> {
  const { limits } = (await agencyOf(api.store))!.settings;
  const contacts = new Map((await contactsOf(api.store, client.id)).map((c) => [c.id, c]));
  const lists = await listsOf(api.store, client.id);
  const known = new Set(before ? readersOfPlan(before).map(readerKey) : []);
  const check = (field: string, readers: readonly ScheduleReader[]) => {
    for (const r of readers) {
      if ('list' in r && !lists.some((l) => l.id === r.list)) throw atField(field, 'This list is no longer there.');
      if (!('contact' in r)) continue;
      const contact = contacts.get(r.contact);
      if (!contact) {
        if (known.has(r.contact)) continue;
        throw atField(field, 'Choose each reader once, from the contacts of this client.');
      }
      const fault = guard(client, contact);
      if (fault !== null && fault !== 'outside' && !known.has(r.contact)) {
        throw atField(field, `${contact.firstName} ${contact.lastName} ${GUARD_WORDS[fault]}`.replace('  ', ' '));
      }
    }
    if (peopleIn(readers, lists).length > limits.readers) {
      throw atField(field, `Your agency lets a schedule have ${limits.readers} readers at most.`);
    }
  };
  check('readers', input.readers);
  for (const [i, g] of (input.groups?.groups ?? []).entries()) check(`groups.groups.${i}.readers`, g.readers);
  await checkMembers(api.store, input);
}

/** Pages that are chosen anew are in the release. @throws Refusal at `pages` */
function checkPages(report: StoredReport, { pages }: ScheduleInput, before: StoredSchedule | null): void {
  if (pages === null) return;
  const there = report.release!.document.pages.map((p) => p.id);
  const lost = pages.find((p) => !there.includes(p) && !before?.pages?.includes(p));
  if (lost || choosePages(report.release!.document, pages) === null) {
    throw atField('pages', 'Choose pages that the report has and sends.');
  }
}

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? {}) === JSON.stringify(b ?? {});

/**
 * The exceptions of a schedule as they can be kept: those that were changed are of runs that its rule has and that have
 * not gone; those of runs to come that it has no more are let go.
 * @throws Refusal at `exceptions` for one that cannot be
 */
async function exceptionsOf(
  api: Api,
  client: StoredClient,
  input: ScheduleInput,
  before: StoredSchedule | null,
): Promise<Exceptions> {
  const agency = await agencyFor(api.store, client);
  const plain = recurrenceOf({ ...input, exceptions: {} }, agency, client.weekStart);
  const english = formatterOf('en-GB', client.currency);
  const now = api.clock.now();
  const today = wallClock(now, input.zone).date;
  const kept: [string, Exception][] = [];
  const dates = new Set([...Object.keys(input.exceptions), ...Object.keys(before?.exceptions ?? {})]);
  for (const nominal of dates) {
    const [said, was] = [input.exceptions[nominal], before?.exceptions[nominal]];
    const changed = !same(said, was);
    const of = `The run of ${english.date(nominal)}`;
    if (changed && before) {
      const gone = (await editionsOfRun(api.store, before.id, nominal)).some(
        (e) => e.state !== 'skipped' && !FOLLOWING.includes(e.state),
      );
      if (gone) throw atField('exceptions', `${of} is on its way or was sent: nothing of it can be changed.`);
    }
    if (said === undefined || Object.keys(said).length === 0) continue;
    if (!occurrenceOn(plain, nominal)) {
      if (changed) throw atField('exceptions', `The schedule has no run on ${english.date(nominal)}.`);
      if (nominal >= today) continue;
    }
    if (changed && said.moved && !same(said.moved, was?.moved)) {
      const away = Math.abs(toDayNumber(said.moved.date) - toDayNumber(nominal));
      if (away > MOST_MOVED) throw atField('exceptions', `${of} can be moved by ${MOST_MOVED} days at most.`);
      if (instantOf(said.moved.date, said.moved.time, input.zone) <= now.replace(/\.\d+/, '')) {
        throw atField('exceptions', `${of} cannot be moved to a time that has passed.`);
      }
    }
    kept.push([nominal, said]);
  }
  return Object.fromEntries(kept.sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** What a person asks of a schedule, as it can be kept. @throws Refusal at the field that cannot be */
export async function checked(
  api: Api,
  client: StoredClient,
  input: ScheduleInput,
  before: StoredSchedule | null = null,
): Promise<ScheduleInput> {
  checkWorking(client);
  const report = await reportById(api.store, input.reportId);
  if (report?.clientId !== client.id) throw atField('reportId', 'Choose a report of this client.');
  if (report.release === null) {
    throw atField('reportId', 'This report has never been released. Open it, look at it, and release it first.');
  }
  await checkReaders(api, client, input, before);
  const assumed = assumedOf(report, input, before?.assumed ?? {});
  checkTemplates(input, client);
  checkPages(report, input, before);
  await checkFilters(api, client, report.release.document, input);
  const agency = await agencyFor(api.store, client);
  const first = occurrences(
    recurrenceOf({ ...input, exceptions: {} }, agency, client.weekStart),
    input.firstDate,
  ).next();
  if (first.done) throw atField('rule', 'This rule never comes round between the first and the last date.');
  const exceptions = await exceptionsOf(api, client, input, before);
  return { ...input, assumed, exceptions };
}

/** Runs that are looked at ahead. */
const AHEAD = 12;

/** Says of a run that a change of the dates would have it cover what was covered already. */
async function noteRepeats(
  api: Api,
  saved: StoredSchedule,
  plan: Pick<ScheduleInput, 'rule' | 'firstDate' | 'lastDate' | 'period' | 'comparison' | 'exceptions'>,
  client: StoredClient,
  runs: ComingRun[],
): Promise<ComingRun[]> {
  const changedAt = sameDates(saved, plan) ? saved.ruleChangedAt : api.clock.now();
  const changed = { ...saved, ...plan, ruleChangedAt: changedAt };
  return Promise.all(
    runs.map(async (run) => {
      const repeat = run.skipped ? null : await repeatOf(api.store, changed, client, run.nominal);
      if (repeat === null) return run;
      const text = `It begins as left out. ${repeat}`;
      return { ...run, warnings: [{ kind: 'repeat' as const, text }, ...run.warnings] };
    }),
  );
}

/** Other reports that a client's readers get on the days to come, but those of one schedule. */
async function sameDayOf(api: Api, around: ClientAround, self: string | undefined): Promise<SameDay> {
  const others = (await schedulesOf(api.store, around.client.id)).filter((s) => s.id !== self && s.state === 'active');
  const runs = await nextRunsOf(
    api.store,
    others.map((s) => s.id),
    api.clock.now(),
    MOST_SAME_DAY,
  );
  const days = new Map<string, { reader: string; id: string; title: string }[]>();
  for (const s of others) {
    const title = (await reportById(api.store, s.reportId))?.title ?? '';
    const people = peopleAround(around, readersOfPlan(s));
    for (const run of runs.get(s.id)!) {
      const { date } = wallClock(run.at, around.zone);
      const found = people.map((p) => ({ reader: p.name, id: p.id, title }));
      days.set(date, [...(days.get(date) ?? []), ...found]);
    }
  }
  return (date) => days.get(date) ?? [];
}
/** Runs of each other schedule that are looked at for days that two reports share. */
const MOST_SAME_DAY = 60;

/** The day as of which "now" means for a schedule: that of its next run, or of the one before, whatever its first date is. */
async function asOfNow(api: Api, s: StoredSchedule, client: StoredClient, of: 'next' | 'last'): Promise<string> {
  const today = civilDateAt(api.clock.now(), client.zone);
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
  by: { memberId: string; kind: 'by-hand' | 'test'; of: 'next' | 'last' },
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

/** Changes a schedule and lets its editions follow, all in one transaction. */
async function change(
  api: Api,
  s: StoredSchedule,
  { member }: Session,
  action: string,
  work: (tx: Store, by: Doer) => Promise<void>,
  detail?: Record<string, unknown>,
): Promise<void> {
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    await work(tx, { at, actor: member.id, name: member.name });
    await record(tx, { at, actor: member.id, action, subject: s.id, ...(detail && { detail }) });
  });
  api.clockwork.nudge();
}

/** The client of a schedule that a person may see and change. @throws Refusal for one that has been ended */
async function changeable(api: Api, session: Session, id: string): Promise<[StoredSchedule, StoredClient]> {
  const schedule = await theSchedule(api.store, session.member, id);
  if (schedule.state === 'ended') throw new Refusal(409, 'This schedule has been ended. Start a new one.');
  return [schedule, (await clientById(api.store, schedule.clientId))!];
}

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

/** @throws Refusal where nobody would read what goes on, or nothing runs for the client */
export function checkMayRun(client: StoredClient, s: StoredSchedule): void {
  checkWorking(client);
  if (!s.archive && readersOfPlan(s).length === 0)
    throw atField('readers', 'Nobody reads it yet. Choose readers first.');
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
    `${string} /api/schedules/many${string}` | `${string}/series` | 'GET /api/schedules'
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
      await record(tx, { at, actor: session.member.id, action: 'schedule.started', subject: made.id });
      return made;
    });
    api.clockwork.nudge();
    return describe(api, schedule);
  },

  'POST /api/clients/:client/schedules/look-ahead': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const saved = body.schedule === undefined ? null : await theSchedule(api.store, session.member, body.schedule);
    if (saved && saved.clientId !== client.id) throw notFound('schedule');
    const around = (await aroundOf(api, [client.id])).get(client.id)!;
    const unknown = body.groups ? await newValues(api, client.id, body.groups) : [];
    const sameDay = await sameDayOf(api, around, saved?.id);
    const runs = comingRuns({ ...body, unknown }, around, api.clock.now(), AHEAD, sameDay);
    return {
      runs: saved ? await noteRepeats(api, saved, body, client, runs) : runs,
      calendarRule: rruleOf(recurrenceOf(body, around.agency, client.weekStart)),
    };
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
      throw atField('resumesOn', 'Choose a day to come.');
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
    const by = { memberId: session.member.id, kind: 'test' as const, of: 'next' as const };
    return { editionId: (await makeFrom(api, schedule, by))[0]! };
  },

  'DELETE /api/schedules/:schedule': async ({ api, session, params }) => {
    const schedule = await theSchedule(api.store, session.member, params.schedule);
    if (schedule.state === 'ended') return { done: true };
    await change(api, schedule, session, 'schedule.ended', (tx, by) => endSchedule(tx, schedule, by));
    return { done: true };
  },
};
