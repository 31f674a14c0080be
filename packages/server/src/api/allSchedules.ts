import { MOST_AT_ONCE } from '@chronicon/core/bounds';
import { addDays } from '@chronicon/core/calendar';
import { GUARD_WORDS, guard } from '@chronicon/core/client';
import type { ScheduleRow, WhoGets } from '@chronicon/core/contract';
import { type MailLine, readerKey, type ScheduleReader } from '@chronicon/core/report';
import { peopleIn } from '../scheduler/ordersOfRun.ts';
import { contactsListed } from '../store/clients.ts';
import { activeMembers } from '../store/members.ts';
import { editionsCounted, nextRunTimes } from '../store/planning.ts';
import { listsOfAll, type ReaderList } from '../store/readerLists.ts';
import { reportTitles } from '../store/reports.ts';
import { type ListedSchedule, schedulesListed } from '../store/schedules.ts';
import { schedulesFound } from '../store/schedulesFound.ts';
import type { Visibility } from '../store/visibility.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import { readersOfPlan } from './lookAhead.ts';
import type { ReadHandlers, Reading } from './reads/reading.ts';

const PAGE = 50;
/** Names in the order in which people look for them. */
const NAMES = new Intl.Collator('en');
/** Days before its last date from which on a schedule is said to end. */
export const SOON_DAYS = 45;

/** Who reads, by what a reader is told by: a person's name and address, whatever the client. */
interface Person {
  /** An address, or a member's id. */
  key: string;
  name: string;
  email: string;
  member: boolean;
}

/** Everybody who may read that the member sees, and the lists of all clients: names alone, as there may be thousands. */
async function peopleSeen(api: Reading, visibility: Visibility, clientIds: readonly string[]) {
  const people = new Map<string, Person>();
  for (const c of await contactsListed(api.store, visibility)) {
    people.set(c.id, { key: c.email, name: c.name, email: c.email, member: false });
  }
  for (const { id, name, email } of await activeMembers(api.store)) {
    people.set(id, { key: id, name, email, member: true });
  }
  return { people, lists: await listsOfAll(api.store, clientIds) };
}

const stateOf = (s: ListedSchedule, next: string | undefined): ScheduleRow['state'] =>
  s.state === 'paused' ? 'paused' : next === undefined ? 'over' : 'runs';

export const allScheduleHandlers: ReadHandlers<'GET /api/schedules' | 'GET /api/who-gets-what'> = {
  'GET /api/schedules': async ({ api, session, query }) => {
    const now = api.clock.now();
    const visibility = { member: session.member, client: query.client, scope: query.scope };
    const soon = addDays(now.slice(0, 10), SOON_DAYS);
    const endsSoon = (s: ListedSchedule) => s.lastDate !== null && s.lastDate <= soon;
    const { text, reader, rhythm, manager, state } = query;
    const {
      schedules: shown,
      total,
      first,
    } = await schedulesFound(
      api.store,
      visibility,
      { text, reader, rhythm, manager, state, endsBy: query.ending ? soon : undefined },
      { now, offset: (query.page - 1) * PAGE, limit: PAGE, most: MOST_AT_ONCE },
    );
    const titles = await reportTitles(
      api.store,
      shown.map((s) => s.reportId),
    );
    const next = await nextRunTimes(
      api.store,
      shown.map((s) => s.id),
      now,
    );
    const around = await aroundOf(api, [...new Set(shown.map((s) => s.clientId))], { feeds: false });
    const counted = await editionsCounted(
      api.store,
      shown.map((s) => s.id),
      now,
    );
    return {
      schedules: shown.map((s): ScheduleRow => {
        const { client, members, english } = around.get(s.clientId)!;
        const { count = 0, last = null } = counted.get(s.id) ?? {};
        const state = stateOf(s, next.get(s.id));
        const until = s.resumesOn ? `until ${english.date(s.resumesOn)}` : '';
        const over = s.lastDate ? `since ${english.date(s.lastDate)}` : 'no more runs';
        return {
          id: s.id,
          clientId: s.clientId,
          clientName: client.name,
          colour: client.colour,
          reportId: s.reportId,
          title: titles.get(s.reportId) ?? '',
          manager: members.get(client.managerId) ?? '',
          rule: s.rule,
          time: s.time,
          zone: s.zone,
          period: s.period,
          signOff: s.signOff,
          readers: peopleAround(around.get(s.clientId)!, readersOfPlan(s)).map((p) => p.name),
          groups: s.groups?.groups.length ?? 0,
          archive: s.archive,
          state,
          why: state === 'paused' ? (s.stopped ?? until) : state === 'over' ? over : '',
          lastDate: s.lastDate,
          endsSoon: endsSoon(s) && state === 'runs',
          last: last && { at: last.due_at, state: last.state, editionId: last.id },
          next: next.get(s.id) ?? null,
          editions: count,
        };
      }),
      all: first,
      total,
      pageSize: PAGE,
    };
  },

  'GET /api/who-gets-what': async ({ api, session, query }) => {
    const visibility = { member: session.member, client: query.client, scope: query.scope };
    const schedules = await schedulesListed(api.store, visibility);
    const { people, lists } = await peopleSeen(api, visibility, [...new Set(schedules.map((s) => s.clientId))]);
    const found = new Map<string, { person: Person; gets: Way[] }>();
    for (const s of schedules) {
      const own = lists.get(s.clientId) ?? [];
      const take = (readers: readonly ScheduleReader[], group: string | null) => {
        const named = new Set(readers.map(readerKey));
        for (const r of peopleIn(readers, own)) {
          const id = readerKey(r);
          const person = people.get(id);
          if (!person) continue;
          const known = found.get(person.key) ?? { person, gets: [] };
          found.set(person.key, known);
          const list = named.has(id) ? null : listOf(own, readers, id);
          known.gets.push({ schedule: s, id, as: r.as ?? null, group, list });
        }
      };
      take(s.readers, null);
      for (const g of s.groups?.groups ?? []) take(g.readers, g.value);
    }
    const text = query.text.toLowerCase();
    const all = [...found.values()].filter(({ person: p }) => `${p.name}\n${p.email}`.toLowerCase().includes(text));
    all.sort((a, b) => NAMES.compare(a.person.name, b.person.name) || (a.person.key < b.person.key ? -1 : 1));
    const shown = all.slice((query.page - 1) * PAGE, query.page * PAGE);
    const clients = new Set(shown.flatMap((p) => p.gets.map((g) => g.schedule.clientId)));
    const around = await aroundOf(api, [...clients], { feeds: false });
    const titles = await reportTitles(
      api.store,
      shown.flatMap((p) => p.gets.map((g) => g.schedule.reportId)),
    );
    return { people: shown.map((p) => describePerson(p, around, titles)), total: all.length, pageSize: PAGE };
  },
};

/** One way by which somebody gets something. */
interface Way {
  schedule: ListedSchedule;
  /** As whom: a contact of the client, or a member. */
  id: string;
  as: MailLine | null;
  group: string | null;
  list: string | null;
}

function describePerson(
  { person, gets }: { person: Person; gets: readonly Way[] },
  around: ReadonlyMap<string, ClientAround>,
  titles: ReadonlyMap<string, string>,
): WhoGets {
  const contactOf = (g: Way) => around.get(g.schedule.clientId)!.contacts.get(g.id);
  // An address is stopped where it is at any client.
  const faults = gets.flatMap((g) => {
    const contact = contactOf(g);
    return contact ? (guard(around.get(g.schedule.clientId)!.client, contact) ?? []) : [];
  });
  return {
    ...person,
    stopped: faults[0] ? GUARD_WORDS[faults[0]] : null,
    gets: gets.map((g) => ({
      scheduleId: g.schedule.id,
      clientId: g.schedule.clientId,
      clientName: around.get(g.schedule.clientId)!.client.name,
      title: titles.get(g.schedule.reportId) ?? '',
      rule: g.schedule.rule,
      active: g.schedule.state === 'active',
      group: g.group,
      list: g.list,
      line: g.as ?? contactOf(g)?.mailLine ?? 'to',
    })),
  };
}

/** The list by which somebody reads who is not named. */
const listOf = (lists: readonly ReaderList[], readers: readonly ScheduleReader[], id: string): string | null =>
  lists.find((l) => l.contacts.includes(id) && readers.some((r) => 'list' in r && r.list === l.id))?.name ?? null;
