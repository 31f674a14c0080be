import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import { civilDateAt } from '@chronicon/core/calendar';
import {
  type BulkAct,
  type BulkRow,
  type RouteName,
  type ScheduleInput,
  scheduleInput,
} from '@chronicon/core/contract';
import { readerKey, type ScheduleReader } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { type Doer, takeUpEnded } from '../clockwork/follow.ts';
import { peopleIn } from '../clockwork/ordersOfRun.ts';
import { notFound, Refusal } from '../ground/refusal.ts';
import { actById, type BulkKept, keepAct, markUndone, recentActs, type ScheduleState } from '../store/bulkActs.ts';
import { clientById, contactsOf, maySee, removeContact, type StoredClient, saveContact } from '../store/clients.ts';
import { editionById, moveEdition } from '../store/editions.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, memberNames } from '../store/members.ts';
import { listsOf, saveList } from '../store/readerLists.ts';
import { type StoredSchedule, scheduleById, schedulesByIds, schedulesOf, schedulesSeen } from '../store/schedules.ts';
import { seenIn } from '../store/sight.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import type { Api, Handlers } from './context.ts';
import { readersOfPlan } from './lookAhead.ts';
import { changeReaders, exchanged, type Found, isMember, isOfPeople, readerAt, somebodyAt } from './manyPeople.ts';
import { changesOf } from './scheduleHistory.ts';
import { changeTo, checked, checkMayRun, endSchedule, inputOf, makeFrom, setActive } from './schedules.ts';

/** Schedules that are looked at, or changed, before anybody else's turn comes. */
const AT_ONCE = 20;
const CHANGED_AT_ONCE = 4;
/** Acts that are told of. */
const RECENT = 10;

/** What an act would do with one schedule. */
interface Step {
  row: BulkRow;
  schedule: StoredSchedule;
  /** What it would say; the same where the act is about something else. */
  input: ScheduleInput;
}
/** What it would do with one list. */
interface ListStep {
  row: BulkRow;
  client: string;
  list: { id: string; name: string; contacts: string[] };
  contacts: string[];
}
interface Planned {
  steps: Step[];
  lists: ListStep[];
  /** Who is made a contact, by client; and who is marked as having left. */
  make: Map<string, Extract<Found, { make: unknown }>['make']>;
  approve: { client: string; contact: string }[];
  left: { client: string; contact: string }[];
}

/** Stands for a contact who is not made yet. */
const NEW = 'new';

const stateWords = (s: Pick<StoredSchedule, 'state' | 'resumesOn'>): string =>
  s.state === 'paused'
    ? s.resumesOn
      ? `paused until ${s.resumesOn}`
      : 'paused'
    : s.state === 'ended'
      ? 'ended'
      : 'runs';

const SIGN_OFF = { none: 'sent by itself', first: 'asks first', until: 'asks until' };
const signOffWords = ({ signOff }: ScheduleInput): string =>
  signOff.rule === 'until' ? `asks until ${signOff.until}, then sends` : SIGN_OFF[signOff.rule];

const namesOf = (around: ClientAround, s: Pick<StoredSchedule, 'readers' | 'groups'>, made: string): string => {
  const names = readersOfPlan(s).map((r) => {
    if ('list' in r) return around.lists.find((l) => l.id === r.list)?.name ?? 'a list that is gone';
    if ('contact' in r && r.contact === NEW) return made;
    return peopleAround(around, [r])[0]?.name ?? 'somebody removed';
  });
  return names.length === 0 ? 'nobody' : new Intl.ListFormat('en-GB').format(names);
};

/** What an act has one schedule say, and both in words. @throws Refusal for what cannot be */
async function stepOf(
  api: Api,
  act: Exclude<BulkAct, { do: 'add' | 'drop' | 'replace' }>,
  s: StoredSchedule,
  client: StoredClient,
): Promise<{ input: ScheduleInput; before: string; after: string }> {
  const input = inputOf(s);
  switch (act.do) {
    case 'pause':
      if (act.resumesOn !== null && act.resumesOn <= civilDateAt(api.clock.now(), s.zone)) {
        throw new Refusal(422, 'Choose a day to come.');
      }
      return { input, before: stateWords(s), after: stateWords({ state: 'paused', resumesOn: act.resumesOn }) };
    case 'resume':
      checkMayRun(client, s);
      return { input, before: stateWords(s), after: 'runs' };
    case 'extend': {
      const next = await checked(api, client, wellFormed({ ...input, lastDate: act.lastDate }), s);
      return { input: next, before: s.lastDate ?? 'no end', after: act.lastDate ?? 'no end' };
    }
    case 'retime': {
      const next = await checked(api, client, wellFormed({ ...input, time: act.time, zone: act.zone ?? s.zone }), s);
      return { input: next, before: `${s.time} ${s.zone}`, after: `${next.time} ${next.zone}` };
    }
    case 'signOff': {
      const next = await checked(api, client, wellFormed({ ...input, signOff: act.signOff }), s);
      return { input: next, before: signOffWords(input), after: signOffWords(next) };
    }
    case 'end':
      return { input, before: stateWords(s), after: 'ended' };
    case 'make':
      return { input, before: '', after: 'one to look at, for its last period' };
  }
}

/** A change that came by no form, held against what forms are held against. @throws Refusal */
function wellFormed(input: ScheduleInput): ScheduleInput {
  const read = scheduleInput.safeParse(input);
  if (!read.success) throw new Refusal(422, read.error.issues[0]!.message);
  return read.data;
}

const refusalText = (err: unknown): string => {
  if (err instanceof Refusal) return Object.values(err.fields)[0] ?? err.message;
  throw err;
};

/** What an act about somebody who reads does with the schedules and lists of the clients in question. */
async function planPeople(
  api: Api,
  act: Extract<BulkAct, { do: 'add' | 'drop' | 'replace' }>,
  schedules: readonly StoredSchedule[],
  around: ReadonlyMap<string, ClientAround>,
  titles: ReadonlyMap<string, string>,
  everywhere: boolean,
): Promise<Planned> {
  const plan: Planned = { steps: [], lists: [], make: new Map(), approve: [], left: [] };
  const { limits } = (await agencyOf(api.store))!.settings;
  const outside = act.do === 'replace' && act.outside;
  const name = act.do === 'drop' || 'member' in act.who ? '' : `${act.who.firstName} ${act.who.lastName}`.trim();
  /** Of each client: whom it is about, and whom they read in place of. */
  const at = new Map(
    [...around].map(([id, own]) => {
      const from = act.do === 'add' ? null : readerAt(own, act.from);
      const to = act.do === 'drop' ? null : somebodyAt(own, act.who, outside);
      return [id, { from, to }] as const;
    }),
  );
  const touched = new Set<string>();
  const readerOf = (found: Found): ScheduleReader => ('reader' in found ? found.reader : { contact: NEW });
  for (const s of schedules) {
    const own = around.get(s.clientId)!;
    const { from, to } = at.get(s.clientId)!;
    if (act.do !== 'add' && (from === null || !readersOfPlan(s).some((r) => readerKey(r) === readerKey(from))))
      continue;
    const next = changeReaders(s, (readers) => {
      if (to && !to.ok) return [...readers];
      if (act.do === 'add') return [...readers];
      return exchanged(readers, from!, to ? readerOf(to.found) : null);
    });
    if (act.do === 'add' && to?.ok) {
      const reader = readerOf(to.found);
      next.readers = [...exchanged(next.readers, reader, null), reader];
    }
    const isNobody = !s.archive && readersOfPlan(next).length === 0 && !next.groups;
    const problem =
      to && !to.ok
        ? to.problem
        : isNobody
          ? 'Nobody would read it any more. End or pause it, or choose somebody else first.'
          : peopleIn(next.readers, own.lists).length > limits.readers
            ? `Your agency lets a schedule have ${limits.readers} readers at most.`
            : null;
    plan.steps.push({
      schedule: s,
      input: { ...inputOf(s), readers: next.readers, groups: next.groups, archive: s.archive },
      row: {
        id: s.id,
        kind: 'schedule',
        clientId: s.clientId,
        clientName: own.client.name,
        title: titles.get(s.reportId) ?? '',
        before: namesOf(own, s, name),
        after: problem === null ? namesOf(own, next, name) : '',
        problem,
      },
    });
    if (problem === null) touched.add(s.clientId);
  }
  // Whoever is taken out everywhere stands on no list any more, either.
  for (const [id, own] of everywhere ? around : []) {
    const { from, to } = at.get(id)!;
    if (from === null || !('contact' in from)) continue;
    for (const list of own.lists.filter((l) => l.contacts.includes(from.contact))) {
      const reader = to?.ok ? readerOf(to.found) : null;
      const other = reader && 'contact' in reader ? reader.contact : null;
      const problem = to && !to.ok ? to.problem : to && other === null ? 'A member is on no list of contacts.' : null;
      const contacts = [
        ...new Set(list.contacts.flatMap((c) => (c === from.contact ? (other === null ? [] : [other]) : [c]))),
      ];
      const named = (ids: readonly string[]) =>
        ids.map((c) => (c === NEW ? name : (peopleAround(own, [{ contact: c }])[0]?.name ?? 'somebody removed')));
      const words = (ids: readonly string[]) => new Intl.ListFormat('en-GB').format(named(ids)) || 'nobody';
      plan.lists.push({
        client: id,
        list,
        contacts,
        row: {
          id: list.id,
          kind: 'list',
          clientId: id,
          clientName: own.client.name,
          title: `List “${list.name}”`,
          before: words(list.contacts),
          after: problem === null ? words(contacts) : '',
          problem,
        },
      });
      if (problem === null) touched.add(id);
    }
    if (act.do === 'replace' && act.left && (touched.has(id) || to?.ok !== false))
      plan.left.push({ client: id, contact: from.contact });
  }
  for (const id of touched) {
    const { to } = at.get(id)!;
    if (!to?.ok) continue;
    if ('make' in to.found) plan.make.set(id, to.found.make);
    else if (outside && 'contact' in to.found.reader)
      plan.approve.push({ client: id, contact: to.found.reader.contact });
  }
  return plan;
}

/** What an act would do, as things are now. @throws Refusal 404 for a schedule that the member may not see */
async function planAct(api: Api, { member }: Session, ids: readonly string[] | null, act: BulkAct): Promise<Planned> {
  if (ids === null && act.do !== 'drop' && act.do !== 'replace') {
    throw new Refusal(422, 'Choose the schedules that this is about.');
  }
  const everywhere = ids === null;
  const byId = everywhere ? null : await schedulesByIds(api.store, ids);
  const found = byId ? ids!.flatMap((id) => byId.get(id) ?? []) : await schedulesSeen(api.store, { member });
  if (!everywhere) {
    if (found.length !== new Set(ids).size) throw notFound('schedule');
    for (const id of new Set(found.map((s) => s.clientId))) {
      if (!(await maySee(api.store, member, id))) throw notFound('schedule');
    }
  }
  const schedules = found.filter((s) => s.state !== 'ended');
  const around = await aroundOf(
    api,
    everywhere
      ? (await clientsInSight(api.store, member)).map((c) => c.id)
      : [...new Set(schedules.map((s) => s.clientId))],
  );
  const rows = await api.store.selectFrom('report').select(['id', 'title']).execute();
  const titles = new Map(rows.map((r) => [r.id, r.title]));
  if (isOfPeople(act)) return planPeople(api, act, schedules, around, titles, everywhere);
  const plan: Planned = { steps: [], lists: [], make: new Map(), approve: [], left: [] };
  for (const [i, s] of schedules.entries()) {
    if (i % AT_ONCE === 0) await setImmediate();
    const own = around.get(s.clientId)!;
    const row = {
      id: s.id,
      kind: 'schedule' as const,
      clientId: s.clientId,
      clientName: own.client.name,
      title: titles.get(s.reportId) ?? '',
    };
    try {
      const { input, before, after } = await stepOf(api, act, s, (await clientById(api.store, s.clientId))!);
      plan.steps.push({ schedule: s, input, row: { ...row, before, after, problem: null } });
    } catch (err) {
      plan.steps.push({
        schedule: s,
        input: inputOf(s),
        row: { ...row, before: '', after: '', problem: refusalText(err) },
      });
    }
  }
  return plan;
}

const clientsInSight = (db: Store, member: Session['member']) =>
  db.selectFrom('client').select('id').where(seenIn({ member }, 'client.id')).execute();

const rowsOf = (plan: Planned): BulkRow[] => [...plan.steps.map((s) => s.row), ...plan.lists.map((l) => l.row)];
const isChange = (row: BulkRow): boolean => row.problem === null && row.before !== row.after;

const seenOf = (act: BulkAct, plan: Planned): string =>
  createHash('sha256')
    .update(JSON.stringify([act, rowsOf(plan)]))
    .digest('base64url');

/** What an act is called in the ledger and where it can be undone. */
function whatOf(act: BulkAct, count: number, names: ReadonlyMap<string, string>): string {
  const places = `${count} ${count === 1 ? 'place' : 'places'}`;
  const who = (w: Extract<BulkAct, { do: 'add' }>['who']) =>
    'member' in w ? (names.get(w.member) ?? 'a member') : `${w.firstName} ${w.lastName}`.trim();
  const key = (k: string) => (isMember(k) ? (names.get(k) ?? 'a member') : k);
  switch (act.do) {
    case 'pause':
      return `Paused in ${places}${act.resumesOn ? ` until ${act.resumesOn}` : ''}`;
    case 'resume':
      return `Let go on in ${places}`;
    case 'extend':
      return `Extended in ${places} ${act.lastDate ? `to ${act.lastDate}` : 'without end'}`;
    case 'retime':
      return `Moved to ${act.time} in ${places}`;
    case 'signOff':
      return `Sign-off changed in ${places}`;
    case 'add':
      return `${who(act.who)} added in ${places}`;
    case 'drop':
      return `${key(act.from)} taken out of ${places}`;
    case 'replace':
      return `${key(act.from)} replaced by ${who(act.who)} in ${places}`;
    case 'end':
      return `Ended in ${places}`;
    case 'make':
      return `Editions made in ${places}`;
  }
}

const standingOf = (s: StoredSchedule): ScheduleState => ({
  input: inputOf(s),
  state: s.state,
  resumesOn: s.resumesOn,
});

/** Does one step within the transaction of all of them. */
async function doStep(tx: Store, act: BulkAct, { schedule, input, row }: Step, by: Doer): Promise<void> {
  const client = (await clientById(tx, schedule.clientId))!;
  const at = { at: by.at, actor: by.actor, subject: row.id };
  switch (act.do) {
    case 'pause':
      await setActive(tx, schedule, { active: false, resumesOn: act.resumesOn }, by);
      return record(tx, { ...at, action: 'schedule.paused', detail: { resumesOn: act.resumesOn } });
    case 'resume':
      await setActive(tx, schedule, { active: true, resumesOn: null }, by);
      return record(tx, { ...at, action: 'schedule.resumed' });
    case 'end':
      await endSchedule(tx, schedule, by);
      return record(tx, { ...at, action: 'schedule.ended' });
    case 'make':
      return;
    default:
      await changeTo(tx, schedule, client, input, by);
      return record(tx, {
        ...at,
        action: 'schedule.changed',
        detail: { changed: changesOf(inputOf(schedule), input) },
      });
  }
}

/** Makes contacts that an act asks for, and puts them where they stand for. */
async function makeContacts(tx: Store, plan: Planned, at: string): Promise<BulkKept['made']> {
  const made: BulkKept['made'] = [];
  for (const [client, who] of plan.make) {
    await setImmediate();
    const { id } = await saveContact(tx, client, { ...who, approved: who.email }, at);
    made.push({ client, id });
    const put = (readers: readonly ScheduleReader[]) =>
      readers.map((r) => ('contact' in r && r.contact === NEW ? { ...r, contact: id } : r));
    for (const step of plan.steps.filter((s) => s.schedule.clientId === client)) {
      step.input = changeReaders(step.input, put);
    }
    for (const l of plan.lists.filter((x) => x.client === client)) {
      l.contacts = l.contacts.map((c) => (c === NEW ? id : c));
    }
  }
  return made;
}

/** Changes what is noted of a contact, and keeps the rest. */
async function noteContact(
  tx: Store,
  client: string,
  id: string,
  patch: { standing?: 'reads' | 'left'; approve?: true },
  at: string,
): Promise<void> {
  const contact = (await contactsOf(tx, client)).find((c) => c.id === id);
  if (!contact) return;
  const { approve, ...noted } = patch;
  await saveContact(tx, client, { ...contact, ...noted, ...(approve && { approved: contact.email }) }, at);
}

/** Does an act, in one transaction, and keeps how it was before. */
async function doAct(api: Api, session: Session, act: BulkAct, plan: Planned): Promise<string> {
  const { member } = session;
  const at = api.clock.now();
  const by = { at, actor: member.id, name: member.name };
  const names = await memberNames(api.store);
  return inTransaction(api.store, async (tx) => {
    const kept: BulkKept = { schedules: [], lists: [], made: [], left: [], editions: [] };
    kept.made = await makeContacts(tx, plan, at);
    for (const { client, contact } of plan.approve) await noteContact(tx, client, contact, { approve: true }, at);
    const steps = plan.steps.filter((s) => isChange(s.row));
    for (const [i, step] of steps.entries()) {
      // Others read meanwhile; who wants to write waits for the whole.
      if (i % CHANGED_AT_ONCE === 0) await setImmediate();
      const now = await scheduleById(tx, step.row.id);
      if (!now || JSON.stringify(standingOf(now)) !== JSON.stringify(standingOf(step.schedule))) {
        throw new Refusal(409, `“${step.row.title}” of ${step.row.clientName} was changed meanwhile. Look once more.`);
      }
      await doStep(tx, act, step, by);
      const after = (await scheduleById(tx, step.row.id))!;
      kept.schedules.push({ id: step.row.id, before: standingOf(step.schedule), after: standingOf(after) });
    }
    const lists = plan.lists.filter((l) => isChange(l.row));
    for (const { client, list, contacts } of lists) {
      await saveList(tx, client, { ...list, contacts }, at);
      kept.lists.push({ client, id: list.id, name: list.name, before: list.contacts, after: contacts });
      await record(tx, { at, actor: member.id, action: 'list.changed', subject: client });
    }
    for (const { client, contact } of plan.left) {
      await setImmediate();
      await noteContact(tx, client, contact, { standing: 'left' }, at);
      kept.left.push({ client, id: contact });
      await record(tx, { at, actor: member.id, action: 'contact.changed', subject: client, detail: { contact } });
    }
    const count = steps.length + lists.length;
    const what = whatOf(act, count, names);
    const id = await keepAct(tx, { at, by: member.id, what, count, kept });
    await record(tx, { at, actor: member.id, action: 'schedules.many', subject: id, detail: { what, count } });
    return id;
  });
}

/** Makes the editions of an act that makes some: each is looked at before it goes. */
async function makeEditions(api: Api, session: Session, plan: Planned, actId: string): Promise<void> {
  const made: string[] = [];
  for (const { schedule } of plan.steps.filter((s) => isChange(s.row))) {
    made.push(...(await makeFrom(api, schedule, { memberId: session.member.id, kind: 'by-hand', of: 'last' })));
  }
  const { kept } = (await actById(api.store, actId))!;
  await api.store
    .updateTable('bulk_act')
    .set({ kept: JSON.stringify({ ...kept, editions: made }) })
    .where('id', '=', actId)
    .execute();
}

/** Puts one schedule back as it was; false where it is no longer as the act left it. */
async function putBack(
  tx: Store,
  { id, before, after }: BulkKept['schedules'][number],
  by: Doer,
  member: Session['member'],
): Promise<boolean> {
  const now = await scheduleById(tx, id);
  // Whoever does not see a client any more changes nothing of it.
  if (!now || !(await maySee(tx, member, now.clientId))) return false;
  if (JSON.stringify(standingOf(now)) !== JSON.stringify(after)) return false;
  const client = (await clientById(tx, now.clientId))!;
  if (JSON.stringify(before.input) !== JSON.stringify(after.input)) await changeTo(tx, now, client, before.input, by);
  if (before.state === 'ended') await endSchedule(tx, now, by);
  else if (before.state !== after.state || before.resumesOn !== after.resumesOn) {
    await setActive(tx, now, { active: before.state === 'active', resumesOn: before.resumesOn }, by);
    if (after.state === 'ended') await takeUpEnded(tx, id, by);
  }
  await record(tx, {
    at: by.at,
    actor: by.actor,
    action: 'schedule.changed',
    subject: id,
    detail: { changed: changesOf(after.input, before.input) },
  });
  return true;
}

async function undo(api: Api, session: Session, id: string): Promise<{ undone: number; kept: string[] }> {
  const act = await actById(api.store, id);
  if (!act || (act.by !== session.member.id && session.member.role !== 'owner')) throw notFound('act');
  if (act.undone_at !== null) throw new Refusal(409, 'This was undone already.');
  const at = api.clock.now();
  const by = { at, actor: session.member.id, name: session.member.name };
  const kept: string[] = [];
  let undone = 0;
  await inTransaction(api.store, async (tx) => {
    if (!(await markUndone(tx, id, at))) throw new Refusal(409, 'This was undone already.');
    for (const [i, s] of act.kept.schedules.entries()) {
      if (i % CHANGED_AT_ONCE === 0) await setImmediate();
      if (await putBack(tx, s, by, session.member)) undone++;
      else kept.push(await titleOf(tx, s.id, session.member));
    }
    for (const l of act.kept.lists) {
      if (!(await maySee(tx, session.member, l.client))) continue;
      const list = (await listsOf(tx, l.client)).find((x) => x.id === l.id);
      if (list && JSON.stringify(list.contacts) === JSON.stringify(l.after)) {
        await saveList(tx, l.client, { ...list, contacts: l.before }, at);
        undone++;
      } else kept.push(`List “${l.name}”`);
    }
    for (const { client, id: contact } of act.kept.left)
      await noteContact(tx, client, contact, { standing: 'reads' }, at);
    for (const { client, id: contact } of act.kept.made) {
      await setImmediate();
      // Who reads elsewhere by now stays.
      const reads =
        (await schedulesReading(tx, client, contact)) ||
        (await listsOf(tx, client)).some((l) => l.contacts.includes(contact));
      if (!reads) await removeContact(tx, client, contact, at);
    }
    for (const edition of act.kept.editions) {
      const e = await editionById(tx, edition);
      if (!e || !['planned', 'gathering', 'proof', 'cleared', 'held'].includes(e.state)) continue;
      const patch = { reason: `Left out by ${session.member.name}.`, next_at: null };
      if (await moveEdition(tx, e, 'skipped', patch, { at, actor: session.member.id })) undone++;
    }
    await record(tx, { at, actor: session.member.id, action: 'schedules.undone', subject: id, detail: { undone } });
  });
  api.clockwork.nudge();
  return { undone, kept };
}

const schedulesReading = async (db: Store, client: string, contact: string): Promise<boolean> =>
  (await schedulesOf(db, client)).some((s) => readersOfPlan(s).some((r) => readerKey(r) === contact));

async function titleOf(db: Store, scheduleId: string, member: Session['member']): Promise<string> {
  const row = await db
    .selectFrom('schedule')
    .innerJoin('report', 'report.id', 'schedule.report_id')
    .innerJoin('client', 'client.id', 'schedule.client_id')
    .select(['report.title', 'client.name', 'client.id'])
    .where('schedule.id', '=', scheduleId)
    .executeTakeFirst();
  return row && (await maySee(db, member, row.id))
    ? `“${row.title}” of ${row.name}`
    : 'A schedule of a client that you do not see any more';
}

export const manyHandlers: Handlers<Extract<RouteName, `${string} /api/schedules/many${string}`>> = {
  'POST /api/schedules/many': async ({ api, session, body }) => {
    const plan = await planAct(api, session, body.schedules, body.act);
    const rows = rowsOf(plan);
    const seen = seenOf(body.act, plan);
    const changes = rows.filter(isChange).length;
    if (body.seen === null) return { seen, done: null, rows, changes };
    if (body.seen !== seen)
      throw new Refusal(409, 'Something has changed since you looked. Look once more, then do it.');
    if (changes === 0) throw new Refusal(422, 'Nothing would change.');
    const done = await doAct(api, session, body.act, plan);
    if (body.act.do === 'make') await makeEditions(api, session, plan, done);
    api.clockwork.nudge();
    return { seen, done, rows, changes };
  },

  'GET /api/schedules/many': async ({ api, session: { member } }) => {
    const names = await memberNames(api.store);
    const acts = await recentActs(api.store, member.role === 'owner' ? null : member.id, RECENT);
    return acts.map((a) => ({
      id: a.id,
      at: a.at,
      who: names.get(a.by) ?? '',
      what: a.what,
      count: a.count,
      undone: a.undone_at !== null,
    }));
  },

  'POST /api/schedules/many/:act/undo': async ({ api, session, params }) => undo(api, session, params.act),
};
