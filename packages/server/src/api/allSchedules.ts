import { addDays } from '@chronicon/core/calendar';
import { GUARD_WORDS } from '@chronicon/core/client';
import type { RouteName, ScheduleRow, WhoGets } from '@chronicon/core/contract';
import { readerKey, type ScheduleReader } from '@chronicon/core/report';
import { peopleIn } from '../clockwork/ordersOfRun.ts';
import { activeMembers } from '../store/members.ts';
import { editionsCounted, nextRunTimes } from '../store/planning.ts';
import { type StoredSchedule, schedulesSeen } from '../store/schedules.ts';
import type { Sight } from '../store/sight.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import type { Api, Handlers } from './context.ts';
import { readersOfPlan } from './lookAhead.ts';

const PAGE = 50;
/** Days before its last date from which on a schedule is said to end. */
export const SOON_DAYS = 45;

/** Schedules within sight with all that surrounds them. */
async function seen(api: Api, sight: Sight) {
  const schedules = await schedulesSeen(api.store, sight);
  const around = await aroundOf(api, [...new Set(schedules.map((s) => s.clientId))]);
  const rows = await api.store.selectFrom('report').select(['id', 'title']).execute();
  return { schedules, around, titles: new Map(rows.map((r) => [r.id, r.title])) };
}

const stateOf = (s: StoredSchedule, next: string | undefined): ScheduleRow['state'] =>
  s.state === 'paused' ? 'paused' : next === undefined ? 'over' : 'runs';

/** Names and addresses of those who read, in small letters: what a reader is found by. */
const readersText = (around: ClientAround, s: StoredSchedule): string =>
  peopleIn(readersOfPlan(s), around.lists)
    .map((r) => {
      if ('member' in r) return around.members.get(r.member) ?? '';
      const c = around.contacts.get(r.contact);
      return c ? `${c.firstName} ${c.lastName} ${c.email}` : '';
    })
    .join('\n')
    .toLowerCase();

export const allScheduleHandlers: Handlers<Extract<RouteName, 'GET /api/schedules' | 'GET /api/who-gets-what'>> = {
  'GET /api/schedules': async ({ api, session, query }) => {
    const now = api.clock.now();
    const sight = { member: session.member, client: query.client, scope: query.scope };
    const { schedules, around, titles } = await seen(api, sight);
    const next = await nextRunTimes(api.store, sight, now);
    const soon = addDays(now.slice(0, 10), SOON_DAYS);
    const endsSoon = (s: StoredSchedule) => s.lastDate !== null && s.lastDate <= soon;
    const [text, reader] = [query.text.toLowerCase(), query.reader.toLowerCase()];
    const found = schedules.filter((s) => {
      const own = around.get(s.clientId)!;
      const named = () => `${own.client.name}\n${titles.get(s.reportId) ?? ''}`.toLowerCase();
      return (
        (!query.rhythm || s.rule.freq === query.rhythm) &&
        (!query.manager || own.client.managerId === query.manager) &&
        (!query.state || stateOf(s, next.get(s.id)) === query.state) &&
        (!query.ending || endsSoon(s)) &&
        (text === '' || named().includes(text)) &&
        (reader === '' || readersText(own, s).includes(reader))
      );
    });
    const byName = (s: StoredSchedule) => around.get(s.clientId)!.client.name;
    found.sort((a, b) => byName(a).localeCompare(byName(b), 'en') || (a.id < b.id ? -1 : 1));
    const shown = found.slice((query.page - 1) * PAGE, query.page * PAGE);
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
      all: found.map((s) => s.id),
      total: found.length,
      pageSize: PAGE,
    };
  },

  'GET /api/who-gets-what': async ({ api, session, query }) => {
    const sight = { member: session.member, client: query.client, scope: query.scope };
    const { schedules, around, titles } = await seen(api, sight);
    const members = new Map((await activeMembers(api.store)).map((m) => [m.id, m]));
    const people = new Map<string, WhoGets>();
    for (const s of schedules) {
      const own = around.get(s.clientId)!;
      const take = (readers: readonly ScheduleReader[], group: string | null) => {
        const named = new Set(readers.map(readerKey));
        for (const r of peopleIn(readers, own.lists)) {
          const who = personOf(own, members, r);
          if (!who) continue;
          const known = people.get(who.key) ?? { ...who, gets: [] };
          people.set(who.key, known);
          // An address is stopped where it is at any client.
          known.stopped ??= who.stopped;
          const list = named.has(readerKey(r)) ? null : listOf(own, readers, readerKey(r));
          known.gets.push({
            scheduleId: s.id,
            clientId: s.clientId,
            clientName: own.client.name,
            title: titles.get(s.reportId) ?? '',
            rule: s.rule,
            active: s.state === 'active',
            group,
            list,
            line: r.as ?? who.line,
          });
        }
      };
      take(s.readers, null);
      for (const g of s.groups?.groups ?? []) take(g.readers, g.value);
    }
    const text = query.text.toLowerCase();
    const found = [...people.values()].filter((p) => `${p.name}\n${p.email}`.toLowerCase().includes(text));
    found.sort((a, b) => a.name.localeCompare(b.name, 'en') || (a.key < b.key ? -1 : 1));
    return {
      people: found.slice((query.page - 1) * PAGE, query.page * PAGE),
      total: found.length,
      pageSize: PAGE,
    };
  },
};

function personOf(
  own: ClientAround,
  members: ReadonlyMap<string, { id: string; name: string; email: string }>,
  r: ReturnType<typeof peopleIn>[number],
) {
  if ('member' in r) {
    const m = members.get(r.member);
    return m && { key: m.id, name: m.name, email: m.email, member: true, stopped: null, line: 'to' as const };
  }
  const c = own.contacts.get(r.contact);
  if (!c) return null;
  const [person] = peopleAround(own, [{ contact: c.id }]);
  const stopped = person!.fault && GUARD_WORDS[person!.fault];
  return { key: c.email, name: person!.name, email: c.email, member: false, stopped, line: c.mailLine };
}

/** The list by which somebody reads who is not named. */
const listOf = (own: ClientAround, readers: readonly ScheduleReader[], key: string): string | null =>
  own.lists.find((l) => l.contacts.includes(key) && readers.some((r) => 'list' in r && r.list === l.id))?.name ?? null;
