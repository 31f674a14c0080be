import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import { civilDateAt } from '@chronicon/core/calendar';
import type { BulkAct, BulkRow, ScheduleInput } from '@chronicon/core/contract';
import { readerKey, type ScheduleReader } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { notFound, Refusal, refusalText } from '../platform/refusal.ts';
import { peopleIn } from '../scheduler/ordersOfRun.ts';
import { clientById, clientIdsSeen, maySee, type StoredClient } from '../store/clients.ts';
import { agencyOf } from '../store/members.ts';
import { reportTitles } from '../store/reports.ts';
import { type StoredSchedule, schedulesByIds, schedulesSeen } from '../store/schedules.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import { signOffWords, stateWords } from './bulkWords.ts';
import type { Api } from './context.ts';
import { readersOfPlan } from './lookAhead.ts';
import { changeReaders, exchanged, type Found, isOfPeople, readerAt, somebodyAt } from './manyPeople.ts';
import { inputOf } from './scheduleActs.ts';
import { checked, checkMayRun, wellFormed } from './scheduleChecks.ts';

/** Schedules that are looked at before anybody else's turn comes. */
const AT_ONCE = 5;

/** What an act would do with one schedule. */
export interface Step {
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
export interface Planned {
  steps: Step[];
  lists: ListStep[];
  /** Who is made a contact, by client. */
  make: Map<string, Extract<Found, { make: unknown }>['make']>;
  /** Of whom it is noted that they have left, or that their address is right. */
  note: { client: string; contact: string; that: 'left' | 'approved' }[];
}

/** Stands for a contact who is not made yet. */
export const NEW = 'new';

const namesOf = (around: ClientAround, s: Pick<StoredSchedule, 'readers' | 'groups'>, made: string): string => {
  const names = readersOfPlan(s).map((r) => {
    if ('list' in r) return around.lists.find((l) => l.id === r.list)?.name ?? 'a deleted list';
    if ('contact' in r && r.contact === NEW) return made;
    return peopleAround(around, [r])[0]?.name ?? 'a removed reader';
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
        throw new Refusal(422, 'Choose a future date.');
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
      return { input, before: '', after: 'an edition to review, for its last period' };
  }
}

/** Nobody is replaced by themselves. */
const SAME = { ok: false as const, problem: 'This is the same person.' };

/** What an act about somebody who reads does with the schedules and lists of the clients in question. */
async function planPeople(
  api: Api,
  act: Extract<BulkAct, { do: 'add' | 'drop' | 'replace' }>,
  schedules: readonly StoredSchedule[],
  around: ReadonlyMap<string, ClientAround>,
  titles: ReadonlyMap<string, string>,
  everywhere: boolean,
): Promise<Planned> {
  const plan: Planned = { steps: [], lists: [], make: new Map(), note: [] };
  const { limits } = (await agencyOf(api.store))!.settings;
  const outside = act.do === 'replace' && act.outside;
  const name = act.do === 'drop' || 'member' in act.who ? '' : `${act.who.firstName} ${act.who.lastName}`.trim();
  /** Of each client: whom it is about, and whom they read in place of. */
  const at = new Map(
    [...around].map(([id, own]) => {
      const from = act.do === 'add' ? null : readerAt(own, act.from);
      const to = act.do === 'drop' ? null : somebodyAt(own, act.who, outside);
      const isSame = from && to?.ok && 'reader' in to.found && readerKey(to.found.reader) === readerKey(from);
      return [id, { from, to: isSame ? SAME : to }] as const;
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
          ? 'This would leave it without readers. End or pause it, or add another reader.'
          : peopleIn(next.readers, own.lists).length > limits.readers
            ? `Your agency allows at most ${limits.readers} readers per schedule.`
            : null;
    plan.steps.push({
      schedule: s,
      input: {
        ...inputOf(s),
        readers: next.readers,
        groups: next.groups,
        // Whoever is added reads: it is no more for the archive alone.
        archive: s.archive && readersOfPlan(next).length === 0,
      },
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
      const problem = to && !to.ok ? to.problem : to && other === null ? 'A member can’t be on a contact list.' : null;
      const contacts = [
        ...new Set(list.contacts.flatMap((c) => (c === from.contact ? (other === null ? [] : [other]) : [c]))),
      ];
      const named = (ids: readonly string[]) =>
        ids.map((c) => (c === NEW ? name : (peopleAround(own, [{ contact: c }])[0]?.name ?? 'a removed reader')));
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
      plan.note.push({ client: id, contact: from.contact, that: 'left' });
  }
  for (const id of touched) {
    const { to } = at.get(id)!;
    if (!to?.ok) continue;
    if ('make' in to.found) plan.make.set(id, to.found.make);
    else if (outside && 'contact' in to.found.reader)
      plan.note.push({ client: id, contact: to.found.reader.contact, that: 'approved' });
  }
  return plan;
}

/** What an act would do, as things are now. @throws Refusal 404 for a schedule that the member may not see */
export async function planAct(
  api: Api,
  { member }: Session,
  ids: readonly string[] | null,
  act: BulkAct,
): Promise<Planned> {
  if (ids === null && act.do !== 'drop' && act.do !== 'replace') {
    throw new Refusal(422, 'Choose schedules first.');
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
    everywhere ? [...(await clientIdsSeen(api.store, { member }))] : [...new Set(schedules.map((s) => s.clientId))],
  );
  const titles = await reportTitles(api.store, everywhere ? null : schedules.map((s) => s.reportId));
  if (isOfPeople(act)) return planPeople(api, act, schedules, around, titles, everywhere);
  const plan: Planned = { steps: [], lists: [], make: new Map(), note: [] };
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

export const rowsOf = (plan: Planned): BulkRow[] => [...plan.steps.map((s) => s.row), ...plan.lists.map((l) => l.row)];
export const isChange = (row: BulkRow): boolean => row.problem === null && row.before !== row.after;

export const seenOf = (act: BulkAct, plan: Planned): string =>
  createHash('sha256')
    .update(JSON.stringify([act, rowsOf(plan)]))
    .digest('base64url');
