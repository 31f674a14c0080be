import { addDays, addMinutes, instantOf, wallClock } from '@chronicon/core/calendar';
import type { RouteName, SheetLine } from '@chronicon/core/contract';
import { unwrittenOf } from '@chronicon/core/report';
import {
  byUrgency,
  type Cause,
  causeOfPlan,
  causeOfStop,
  causesOfEditions,
  type Held,
  soonAfter,
} from '../clockwork/causes.ts';
import { formatterOf } from '../press/draw.ts';
import { clientsSeenBy, type StoredClient } from '../store/clients.ts';
import { commentaryFor } from '../store/commentaries.ts';
import { type EditionRow, editionsToSee, findEditions, ordersOf } from '../store/editions.ts';
import { feedsOf, type StoredFeed } from '../store/feeds.ts';
import { type Agency, agencyOf } from '../store/members.ts';
import { reportById } from '../store/reports.ts';
import { schedulesOf } from '../store/schedules.ts';
import { sendingStops } from '../store/sendingStops.ts';
import type { Api, Handlers } from './context.ts';
import { feedNeeds } from './feedHealth.ts';
import { comingRuns, upcomingRuns } from './lookAhead.ts';
import { describeReport } from './releasing.ts';
import { endOf } from './schedules.ts';

const AHEAD_DAYS = 7;
/** A missed run is news for this long, in minutes. */
const NEWS = 7 * 24 * 60;
/** How long before a run its commentary is asked for, in minutes. */
const WRITE_AHEAD = 7 * 24 * 60;

function lineOf(e: EditionRow, client: StoredClient, zone: string): SheetLine {
  const orders = ordersOf(e);
  const english = formatterOf('en-GB', client.currency);
  return {
    key: e.id,
    editionId: e.id,
    scheduleId: e.schedule_id,
    clientId: client.id,
    clientName: client.name,
    colour: client.brand.main,
    title: orders.title,
    at: e.due_at,
    local: wallClock(e.due_at, zone),
    periodLabel: e.period_from && e.period_to ? english.shortRange({ from: e.period_from, to: e.period_to }) : '',
    readers: orders.readers.length,
    state: e.state,
  };
}

/** Editions that a person may have to see to: not settled, or missed lately. */
async function unsettled(api: Api, clients: readonly StoredClient[], now: string): Promise<Held[]> {
  const byId = new Map(clients.map((c) => [c.id, c]));
  const rows = await editionsToSee(api.store, [...byId.keys()], addMinutes(now, -NEWS));
  return rows.map((edition) => ({ edition, client: byId.get(edition.client_id)! }));
}

/** What of a client's plan wants a person: nothing planned, an end that is near. */
async function planNeeds(api: Api, agency: Agency, client: StoredClient, now: string): Promise<Cause[]> {
  const schedules = await schedulesOf(api.store, client.id);
  const active = schedules.filter((s) => s.state === 'active');
  const over = active.filter((s) => endOf(s, client, agency, now) !== null);
  if (active.length === over.length) {
    const stopped = schedules.find((s) => s.stopped !== null);
    const ended = over.map((s) => endOf(s, client, agency, now));
    return [
      causeOfPlan(client, {
        key: `plan-${client.id}`,
        tone: stopped || over.length > 0 ? 'attention' : 'calm',
        title: `Nothing is planned for ${client.name}`,
        reason:
          stopped?.stopped ?? ended[0] ?? (schedules.length > 0 ? 'Its schedules are paused.' : 'It has no schedule.'),
        action: { label: 'Plan', to: `/clients/${client.id}/schedules` },
      }),
    ];
  }
  const english = formatterOf('en-GB', client.currency);
  return active
    .filter((s) => s.lastDate !== null && s.lastDate <= soonAfter(now) && !over.includes(s))
    .map((s) =>
      causeOfPlan(client, {
        key: `end-${s.id}`,
        tone: 'calm',
        title: `A schedule of ${client.name} ends on ${english.date(s.lastDate!)}`,
        reason: 'After that, it sends nothing.',
        action: { label: 'Extend', to: `/schedules/${s.id}` },
      }),
    );
}

/** What is still to write and to release for the runs of the next days: one line for each report. */
async function writingNeeds(api: Api, agency: Agency, client: StoredClient, now: string): Promise<Cause[]> {
  const until = Date.parse(addMinutes(now, WRITE_AHEAD));
  const english = formatterOf('en-GB', client.currency);
  const active = (await schedulesOf(api.store, client.id)).filter((s) => s.state === 'active');
  const coming = active
    .flatMap((s) => comingRuns(s, client, agency, now, 1).map((run) => ({ s, run })))
    .filter(({ run }) => Date.parse(run.at) <= until)
    .sort((a, b) => Date.parse(a.run.at) - Date.parse(b.run.at));
  const needs = new Map<string, Cause>();
  const add = (key: string, cause: Omit<Cause, 'key' | 'tone' | 'editions' | 'missed' | 'clients'>) => {
    const line = { key, tone: 'attention' as const, editions: [], missed: false, clients: [client.id] };
    if (!needs.has(key)) needs.set(key, { ...line, ...cause });
  };
  for (const { s, run } of coming) {
    const report = await reportById(api.store, s.reportId);
    if (!report?.release) continue;
    const look = `look=run.${s.id}.${run.nominal}`;
    const written = await commentaryFor(api.store, report.id, run.period, 'released');
    const [unwritten] = unwrittenOf(report.release.document, written);
    if (unwritten !== undefined) {
      add(`write-${report.id}`, {
        title: `${client.name}: commentary for ${english.shortRange(run.period)}`,
        reason: 'Still to write. Without it, the page goes out with none.',
        deadline: run.at,
        action: { label: 'Write', to: `/reports/${report.id}?${look}&block=${unwritten}` },
      });
    }
    if (!(await describeReport(api.store, report)).released!.current) {
      add(`release-${report.id}`, {
        title: `${client.name}: “${report.title}” was edited and not released`,
        reason: `It goes out as it was released on ${english.date(report.release.at.slice(0, 10))}.`,
        deadline: run.at,
        action: { label: 'Look and release', to: `/reports/${report.id}?${look}` },
      });
    }
  }
  return [...needs.values()];
}

/** Everything that needs a person now, one line for each cause, by the deadline it endangers. */
export async function causesFor(api: Api, clients: readonly StoredClient[], now: string): Promise<Cause[]> {
  const agency = (await agencyOf(api.store))!;
  const held = await unsettled(api, clients, now);
  const feeds = new Map<string, StoredFeed[]>();
  for (const id of new Set(held.map((h) => h.client.id))) feeds.set(id, await feedsOf(api.store, id));
  const stops = [...(await sendingStops(api.store)), ...api.health.troubles()];
  const stuck = stops.length > 0 ? held.filter((h) => ['sending', 'cleared'].includes(h.edition.state)) : [];
  const causes = stops.map((s) => causeOfStop(s, stuck));
  const rest = held.filter((h) => !stuck.includes(h) && h.edition.state !== 'cleared');
  const others = [
    ...causesOfEditions(rest, feeds),
    ...(
      await Promise.all(
        clients.map(async (c) => [
          ...(await feedNeeds(api, c)),
          ...(await planNeeds(api, agency, c, now)),
          ...(await writingNeeds(api, agency, c, now)),
        ]),
      )
    ).flat(),
  ];
  const seen = new Set<string>();
  for (const cause of others) {
    if (seen.has(cause.key)) continue;
    seen.add(cause.key);
    causes.push(cause);
  }
  return causes.sort(byUrgency);
}

export const deskHandlers: Handlers<Extract<RouteName, 'GET /api/desk'>> = {
  'GET /api/desk': async ({ api, session, query }) => {
    const now = api.clock.now();
    const agency = (await agencyOf(api.store))!;
    const seen = await clientsSeenBy(api.store, session.member);
    const clients = query.client ? seen.filter((c) => c.id === query.client) : seen;
    const byId = new Map(clients.map((c) => [c.id, c]));
    const { zone } = agency;
    const { date: today, time } = wallClock(now, zone);
    const from = new Date(instantOf(addDays(today, -1), '00:00', zone)).toISOString();
    const to = new Date(instantOf(addDays(today, AHEAD_DAYS + 1), '00:00', zone)).toISOString();
    const { rows } = await findEditions(
      api.store,
      { clientIds: [...byId.keys()], dueFrom: from, dueTo: to },
      { offset: 0, limit: 500 },
    );
    const lines = rows.filter((e) => e.kind !== 'test').map((e) => lineOf(e, byId.get(e.client_id)!, zone));
    const made = new Set(rows.map((e) => `${e.schedule_id} ${e.nominal}`));
    for (const client of clients) {
      const active = (await schedulesOf(api.store, client.id)).filter((s) => s.state === 'active');
      for (const run of await upcomingRuns(api.store, agency, active, now, AHEAD_DAYS + 1)) {
        if (made.has(`${run.schedule.id} ${run.nominal}`) || run.at >= to) continue;
        lines.push({
          key: `${run.schedule.id}-${run.nominal}`,
          editionId: null,
          scheduleId: run.schedule.id,
          clientId: client.id,
          clientName: client.name,
          colour: client.brand.main,
          title: run.title,
          at: new Date(run.at).toISOString(),
          local: wallClock(run.at, zone),
          periodLabel: run.periodLabel,
          readers: run.schedule.readers.length,
          state: 'planned',
        });
      }
    }
    lines.sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
    const needs = (await causesFor(api, clients, now)).map(({ clients: _, stopsAll: __, ...need }) => need);
    return {
      now,
      zone,
      today,
      time,
      days: Array.from({ length: AHEAD_DAYS + 2 }, (_, i) => addDays(today, i - 1)).map((date) => ({
        date,
        lines: lines.filter((l) => l.local.date === date),
      })),
      needs,
    };
  },
};
