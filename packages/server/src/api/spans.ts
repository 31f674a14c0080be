import { setImmediate } from 'node:timers/promises';
import { addMinutes, wallClock } from '@chronicon/core/calendar';
import { runsOf } from '@chronicon/core/report';
import { type OwnedRun, openRuns, openRunsCounted, type Whose } from '../store/planning.ts';
import { reportTitles } from '../store/reports.ts';
import { RUNS_AHEAD } from '../store/runs.ts';
import { recurrenceOf, type StoredSchedule, schedulesOfAll, schedulesSeen } from '../store/schedules.ts';
import type { Visibility } from '../store/visibility.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import { newValues } from './groupValues.ts';
import { readersOfPlan, unreadValues } from './lookAhead.ts';
import type { Reading } from './reads/reading.ts';
import { type WarnedReader, warningsOf } from './runWarnings.ts';

/** Schedules whose runs are reckoned before anybody else's turn comes. */
const RECKONED_AT_ONCE = 50;
/** A day of slack: kept runs were made up to a day ago. */
const DAY = 24 * 60;

/** A span of planned runs. */
export interface Span {
  runs: OwnedRun[];
  /** Of which clients it is; null for all that the member sees. */
  clients: readonly string[] | null;
}

/** What schedules of some clients are made of, to show their runs. */
export interface SpanOfClients {
  schedules: ReadonlyMap<string, StoredSchedule>;
  around: ReadonlyMap<string, ClientAround>;
  titles: ReadonlyMap<string, string>;
}

/** What the schedules of these clients are made of. */
export async function surroundings(api: Reading, clients: readonly string[]): Promise<SpanOfClients> {
  const schedules = await schedulesOfAll(api.store, clients);
  const around = await aroundOf(api, clients);
  const titles = await reportTitles(
    api.store,
    schedules.map((s) => s.reportId),
  );
  return {
    schedules: new Map(schedules.map((s) => [s.id, s])),
    around,
    titles,
  };
}

/** Runs later than those that are kept, by the rules of their schedules. */
async function beyond(
  schedules: readonly StoredSchedule[],
  around: ReadonlyMap<string, ClientAround>,
  after: string,
  until: string,
): Promise<OwnedRun[]> {
  const found: OwnedRun[] = [];
  for (const [i, s] of schedules.entries()) {
    if (i % RECKONED_AT_ONCE === 0) await setImmediate();
    const { agency, client } = around.get(s.clientId)!;
    if (s.state !== 'active' && s.resumesOn === null) continue;
    const runs = runsOf(recurrenceOf(s, agency, client.weekStart), s, client, { after, until, least: 0 });
    found.push(...runs.map((r) => ({ ...r, scheduleId: s.id, clientId: s.clientId })));
  }
  return found;
}

/** Until when the runs of every schedule are kept. */
const horizonOf = (now: string): string => addMinutes(now, RUNS_AHEAD - DAY);

/**
 * A page of what is planned in [`from`, `to`), UTC ISO text, that the member sees, and how many runs there are of it: as far as
 * runs are kept, no more is read than is shown.
 */
export async function pageOf(
  api: Reading,
  from: string,
  to: string,
  visibility: Visibility,
  page: { offset: number; limit: number },
): Promise<{ shown: ShownRun[]; total: number }> {
  const now = api.clock.now();
  const start = from > now ? from : now;
  if (to > horizonOf(now)) {
    const span = await spanOf(api, from, to, { visibility });
    const shown = span.runs.slice(page.offset, page.offset + page.limit);
    return { shown: await showRuns(api, span, shown), total: span.runs.length };
  }
  const total = await openRunsCounted(api.store, start, to, { visibility });
  const runs = await openRuns(api.store, start, to, { visibility }, page);
  if (runs.length === 0) return { shown: [], total };
  // What else goes to the same people on the same days.
  const clients = [...new Set(runs.map((r) => r.clientId))];
  const [first, last] = [addMinutes(runs[0]!.at, -DAY), addMinutes(runs.at(-1)!.at, DAY)];
  const around = await spanOf(api, first, last, { clients });
  return { shown: await showRuns(api, around, runs), total };
}

/** What is planned in [`from`, `to`), UTC ISO text, that the member sees or for some clients alone, soonest first. */
export async function spanOf(api: Reading, from: string, to: string, of: Whose): Promise<Span> {
  const { store } = api;
  const now = api.clock.now();
  const runs = await openRuns(store, from > now ? from : now, to, of);
  const horizon = horizonOf(now);
  if (to > horizon) {
    const schedules =
      'clients' in of
        ? await schedulesOfAll(store, of.clients)
        : await schedulesSeen(store, { ...of.visibility, working: true });
    const around = await aroundOf(api, [...new Set(schedules.map((s) => s.clientId))], { feeds: false });
    const known = new Set(runs.map((r) => `${r.scheduleId} ${r.nominal}`));
    const later = await beyond(schedules, around, from > horizon ? from : horizon, to);
    runs.push(...later.filter((r) => !known.has(`${r.scheduleId} ${r.nominal}`)));
    runs.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : a.scheduleId < b.scheduleId ? -1 : 1));
  }
  return { runs, clients: 'clients' in of ? of.clients : null };
}

/** A planned run as lists show it. */
export interface ShownRun extends OwnedRun {
  schedule: StoredSchedule;
  around: ClientAround;
  title: string;
  local: { date: string; time: string };
  people: readonly WarnedReader[];
  warnings: string[];
}

/** Who gets what, by client and day. */
type Days = Map<string, { schedule: string; reader: string; id: string; title: string }[]>;

/** These runs of a span with whom they reach and what one ought to know of them. */
export async function showRuns(
  api: Reading,
  span: Span,
  shown: readonly OwnedRun[],
  known?: SpanOfClients,
): Promise<ShownRun[]> {
  const clients = new Set(shown.map((r) => r.clientId));
  const { schedules, around, titles } = known ?? (await surroundings(api, [...clients]));
  const people = new Map<string, WarnedReader[]>();
  const peopleOf = (s: StoredSchedule) => {
    const found = people.get(s.id) ?? peopleAround(around.get(s.clientId)!, readersOfPlan(s));
    people.set(s.id, found);
    return found;
  };
  const local = new Map(shown.map((r) => [r, wallClock(r.at, around.get(r.clientId)!.zone)]));
  const dates = new Set([...local].map(([r, { date }]) => `${r.clientId} ${date}`));
  const days: Days = new Map();
  for (const r of span.runs) {
    if (!clients.has(r.clientId)) continue;
    const key = `${r.clientId} ${(local.get(r) ?? wallClock(r.at, around.get(r.clientId)!.zone)).date}`;
    const s = schedules.get(r.scheduleId);
    if (!s || !dates.has(key)) continue;
    const title = titles.get(s.reportId) ?? '';
    const there = days.get(key) ?? [];
    for (const p of peopleOf(s)) there.push({ schedule: s.id, reader: p.name, id: p.id, title });
    days.set(key, there);
  }
  const unknown = new Map<string, string[]>();
  for (const id of new Set(shown.map((r) => r.scheduleId))) {
    const s = schedules.get(id);
    if (s?.groups) unknown.set(id, await newValues(api, s.clientId, s.groups));
  }
  return shown.flatMap((r): ShownRun | [] => {
    const schedule = schedules.get(r.scheduleId);
    if (!schedule) return [];
    const own = around.get(r.clientId)!;
    const mine = peopleOf(schedule);
    const at = local.get(r)!;
    const others = (days.get(`${r.clientId} ${at.date}`) ?? []).filter(
      (d) => d.schedule !== r.scheduleId && mine.some((p) => p.id === d.id),
    );
    const warned = {
      at: r.at,
      period: r.period,
      compared: r.compared,
      daily: schedule.rule.freq === 'daily' || schedule.rule.freq === 'weekly',
      readers: mine,
      archive: schedule.archive,
      unread: unreadValues(schedule),
      unknown: unknown.get(r.scheduleId) ?? [],
      others,
    };
    return {
      ...r,
      schedule,
      around: own,
      title: titles.get(schedule.reportId) ?? '',
      local: at,
      people: mine,
      warnings: warningsOf(warned, own).map((w) => w.text),
    };
  });
}
