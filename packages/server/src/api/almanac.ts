import { addDays, lengthOf, startOfDay, unitStart, wallClock, weekdayOf } from '@chronicon/core/calendar';
import type { AlmanacMark } from '@chronicon/core/contract';
import { FOLLOWING } from '@chronicon/core/edition';
import { type ReaderRef, readerKey } from '@chronicon/core/report';
import { grouped } from '../platform/grouped.ts';
import { atField } from '../platform/refusal.ts';
import { type EditionRow, ordersOf } from '../store/editions.ts';
import { agencyOf } from '../store/members.ts';
import { clientsPlanned, editionsDueOf } from '../store/planning.ts';
import type { StoredSchedule } from '../store/schedules.ts';
import type { ClientAround } from './around.ts';
import type { ReadHandlers } from './reads/reading.ts';
import { pageOf, type ShownRun, showRuns, spanOf, surroundings } from './spans.ts';

/** Clients of a page: of a quarter, each has more to show. */
const CLIENTS = { 5: 100, 13: 50 };
const ROWS = 200;
/** Days that a look ahead spans at most. */
const MOST_DAYS = 400;

/** Of several states of one run's editions, the one that a person has to see. */
const URGENCY = ['held', 'part-sent', 'review', 'collecting', 'sending', 'planned', 'ready', 'sent', 'skipped'];
const urgency = (state: string) => (URGENCY.indexOf(state) + URGENCY.length) % URGENCY.length;

const nameOf = (around: ClientAround, r: ReaderRef): string => {
  if ('member' in r) return around.members.get(r.member) ?? 'a member';
  const c = around.contacts.get(r.contact);
  return c ? `${c.firstName} ${c.lastName}`.trim() : 'a removed contact';
};

/** The editions of one run, one for each group of its readers, as one mark. */
function markOfEditions(
  editions: readonly EditionRow[],
  around: ClientAround,
  schedules: ReadonlyMap<string, StoredSchedule>,
): AlmanacMark {
  const e = [...editions].sort((a, b) => urgency(a.state) - urgency(b.state))[0]!;
  const { date, time } = wallClock(e.due_at, around.zone);
  const readers = new Map(editions.flatMap((x) => ordersOf(x).readers.map((r) => [readerKey(r), r])));
  const schedule = schedules.get(e.schedule_id ?? '');
  const exception = e.nominal === null ? undefined : schedule?.exceptions[e.nominal];
  return {
    key: e.id,
    scheduleId: e.schedule_id,
    nominal: e.nominal,
    editionId: e.id,
    date,
    time,
    at: e.due_at,
    clock: schedule ? wallClock(e.due_at, schedule.zone) : null,
    title: e.title,
    state: e.state,
    period: e.period_from && e.period_to ? around.english.shortRange({ from: e.period_from, to: e.period_to }) : '',
    readers: [...readers.values()].map((r) => nameOf(around, r)),
    changed: exception?.moved !== undefined || exception?.covers !== undefined,
    movable: e.kind === 'scheduled' && e.nominal !== null && editions.every((x) => FOLLOWING.includes(x.state)),
    warnings: e.reason && e.state !== 'skipped' ? [e.reason] : [],
  };
}

function markOfRun(run: ShownRun): AlmanacMark {
  const exception = run.schedule.exceptions[run.nominal];
  return {
    key: `${run.scheduleId}-${run.nominal}`,
    scheduleId: run.scheduleId,
    nominal: run.nominal,
    editionId: null,
    ...run.local,
    at: run.at,
    clock: wallClock(run.at, run.schedule.zone),
    title: run.title,
    state: 'planned',
    period: run.around.english.shortRange(run.period),
    readers: run.people.map((p) => p.name),
    changed: exception?.moved !== undefined || exception?.covers !== undefined,
    movable: true,
    warnings: run.warnings,
  };
}

/** Runs that a person left out and that have no edition: they stand on their day, to be taken back. */
function leftOut(s: StoredSchedule, title: string, span: { from: string; to: string }, today: string): AlmanacMark[] {
  return Object.entries(s.exceptions).flatMap(([nominal, e]): AlmanacMark | [] => {
    if (!e.skipped || nominal < span.from || nominal > span.to || nominal < today || s.state !== 'active') return [];
    return {
      key: `${s.id}-${nominal}`,
      scheduleId: s.id,
      nominal,
      editionId: null,
      date: nominal,
      time: s.time,
      at: startOfDay(nominal, s.zone),
      clock: { date: nominal, time: s.time },
      title,
      state: 'skipped',
      period: '',
      readers: [],
      changed: true,
      movable: false,
      warnings: [],
    };
  });
}

export const almanacHandlers: ReadHandlers<'GET /api/almanac' | 'GET /api/look-ahead'> = {
  'GET /api/almanac': async ({ api, session, query }) => {
    const agency = (await agencyOf(api.store))!;
    const now = api.clock.now();
    const { date: today } = wallClock(now, agency.zone);
    const from = unitStart('week', query.from ?? today, agency.weekStart as 1, 1);
    const to = addDays(from, query.weeks * 7 - 1);
    // Clients live up to a day from the agency: what falls on another day there is sorted out below.
    const [start, end] = [startOfDay(addDays(from, -1), agency.zone), startOfDay(addDays(to, 2), agency.zone)];
    const visibility = { member: session.member, client: query.client, scope: query.scope };
    const pageSize = CLIENTS[query.weeks];
    const page = { offset: (query.page - 1) * pageSize, limit: pageSize };
    const asked = { text: query.text, empty: query.empty, ...page };
    const inDays = { from: startOfDay(from, agency.zone), to: startOfDay(addDays(to, 1), agency.zone) };
    const { clients, total, empty } = await clientsPlanned(api.store, visibility, inDays, asked);
    const ids = clients.map((c) => c.id);
    const span = await spanOf(api, start, end, { clients: ids });
    const known = await surroundings(api, ids);
    const marks = new Map<string, AlmanacMark[]>(ids.map((id) => [id, []]));
    for (const run of await showRuns(api, span, span.runs, known)) marks.get(run.clientId)!.push(markOfRun(run));
    const editions = grouped(await editionsDueOf(api.store, ids, start, end), (e) =>
      e.schedule_id && e.nominal ? `${e.schedule_id} ${e.nominal}` : e.id,
    );
    for (const same of editions.values()) {
      const id = same[0]!.client_id;
      marks.get(id)!.push(markOfEditions(same, known.around.get(id)!, known.schedules));
    }
    for (const s of known.schedules.values()) {
      const left = leftOut(s, known.titles.get(s.reportId) ?? '', { from, to }, today);
      marks.get(s.clientId)!.push(...left.filter((m) => !editions.has(`${s.id} ${m.nominal}`)));
    }
    const days = Array.from({ length: query.weeks * 7 }, (_, i) => addDays(from, i));
    const free = days.filter((d) => !agency.workingDays.includes(weekdayOf(d)) || agency.holidays.includes(d));
    return {
      from,
      to,
      today,
      free,
      clients: clients.map(({ id, name, colour, zone }) => ({
        id,
        name,
        colour,
        zone,
        marks: marks
          .get(id)!
          .filter((m) => m.date >= from && m.date <= to)
          .sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0)),
      })),
      total,
      empty,
      pageSize,
    };
  },

  'GET /api/look-ahead': async ({ api, session, query }) => {
    const page = { offset: (query.page - 1) * ROWS, limit: ROWS };
    return { ...(await rowsAhead(api, session.member, query, page)), pageSize: ROWS };
  },
};

type Asked = { client?: string | undefined; scope: string; from: string; to: string };

/** What would go out between two days, both included, by the agency's clock. @throws Refusal at `to` */
export async function rowsAhead(
  api: Parameters<typeof spanOf>[0],
  member: { id: string; role: 'owner' | 'manager' | 'analyst' | 'reviewer' },
  { client, scope, from, to }: Asked,
  page: { offset: number; limit: number },
) {
  if (to < from) throw atField('to', 'The end date is before the start date.');
  if (lengthOf({ from, to }) > MOST_DAYS) throw atField('to', `Choose ${MOST_DAYS} days at most.`);
  const { zone } = (await agencyOf(api.store))!;
  const visibility = { member, client, scope, working: true };
  const { shown, total } = await pageOf(
    api,
    startOfDay(from, zone),
    startOfDay(addDays(to, 1), zone),
    visibility,
    page,
  );
  const rows = shown.map((r) => ({
    at: r.at,
    ...r.local,
    zone: r.around.zone,
    clientId: r.clientId,
    clientName: r.around.client.name,
    title: r.title,
    period: r.around.english.range(r.period),
    compared: r.compared ? r.around.english.range(r.compared) : '',
    readers: r.people.map((p) => p.name),
    warnings: r.warnings,
  }));
  return { rows, total };
}
