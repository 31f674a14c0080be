import { addDays, addMinutes, instantOf, wallClock } from '@chronicon/core/calendar';
import type { Need, RouteName, SheetLine } from '@chronicon/core/contract';
import { formatterOf } from '../press/draw.ts';
import { clientsSeenBy, type StoredClient } from '../store/clients.ts';
import { type EditionRow, findEditions, ordersOf } from '../store/editions.ts';
import { agencyOf } from '../store/members.ts';
import { schedulesOf } from '../store/schedules.ts';
import type { Api, Handlers } from './context.ts';
import { feedNeeds } from './feedHealth.ts';
import { upcomingRuns } from './lookAhead.ts';

const AHEAD_DAYS = 7;
/** A skipped run is news for this long, in minutes. */
const NEWS = 2 * 24 * 60;

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

function needOfEdition(e: EditionRow, client: StoredClient): Need | null {
  const line = lineOf(e, client, client.zone);
  const what = `${client.name}, ${line.periodLabel}`;
  const to = `/archive?edition=${e.id}`;
  const reason = e.reason ?? '';
  switch (e.state) {
    case 'held':
      return { key: e.id, tone: 'wrong', title: `${what}, is held`, reason, action: { label: 'See why', to } };
    case 'part-sent':
      return {
        key: e.id,
        tone: 'wrong',
        title: `${what}: not everybody got it`,
        reason,
        action: { label: 'See who', to },
      };
    case 'skipped':
      return {
        key: e.id,
        tone: 'attention',
        title: `${what}, was left out`,
        reason,
        action: { label: 'See which', to },
      };
    case 'gathering':
    case 'sending':
      return e.reason
        ? { key: e.id, tone: 'attention', title: `${what}: waiting`, reason, action: { label: 'Look', to } }
        : null;
    default:
      return null;
  }
}

async function needsOf(api: Api, client: StoredClient, now: string): Promise<Need[]> {
  const { rows } = await findEditions(
    api.store,
    { clientIds: [client.id], dueFrom: addMinutes(now, -31 * 24 * 60), dueTo: addMinutes(now, NEWS) },
    { offset: 0, limit: 200 },
  );
  const news = addMinutes(now, -NEWS);
  const needs = rows
    .filter((e) => e.state !== 'skipped' || (e.created_at >= news && !e.reason?.startsWith('Left out by')))
    .flatMap((e) => needOfEdition(e, client) ?? []);
  needs.push(...(await feedNeeds(api, client)));
  const schedules = await schedulesOf(api.store, client.id);
  if (schedules.every((s) => s.state !== 'active')) {
    const stopped = schedules.find((s) => s.stopped !== null);
    needs.push({
      key: `plan-${client.id}`,
      tone: stopped ? 'attention' : 'calm',
      title: `Nothing is planned for ${client.name}`,
      reason: stopped?.stopped ?? (schedules.length > 0 ? 'Its schedules are paused.' : 'It has no schedule yet.'),
      action: { label: 'Plan', to: `/clients/${client.id}/schedules` },
    });
  }
  for (const s of schedules) {
    const soon = addDays(now.slice(0, 10), 14);
    if (s.state !== 'active' || s.lastDate === null || s.lastDate > soon || s.lastDate < now.slice(0, 10)) continue;
    needs.push({
      key: `end-${s.id}`,
      tone: 'calm',
      title: `A schedule of ${client.name} ends on ${formatterOf('en-GB', client.currency).date(s.lastDate)}`,
      reason: 'After that, it sends nothing.',
      action: { label: 'Extend', to: `/schedules/${s.id}` },
    });
  }
  return needs;
}

const TONES = { wrong: 0, attention: 1, calm: 2 };

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
    lines.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
    const needs = (await Promise.all(clients.map((c) => needsOf(api, c, now)))).flat();
    needs.sort((a, b) => TONES[a.tone] - TONES[b.tone]);
    return {
      now,
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
