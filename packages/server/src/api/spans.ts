import { setImmediate } from 'node:timers/promises';
import { addMinutes, wallClock } from '@chronicon/core/calendar';
import { runsOf } from '@chronicon/core/report';
import { type OwnedRun, openRuns } from '../store/planning.ts';
import { RUNS_AHEAD } from '../store/runs.ts';
import { recurrenceOf, type StoredSchedule, schedulesOfAll, schedulesSeen } from '../store/schedules.ts';
import type { Sight } from '../store/sight.ts';
import { aroundOf, type ClientAround, peopleAround } from './around.ts';
import type { Api } from './context.ts';
import { newValues } from './groupValues.ts';
import { readersOfPlan, type SameDay, unreadValues } from './lookAhead.ts';
import { type WarnedReader, warningsOf } from './runWarnings.ts';

/** Schedules whose runs are reckoned before anybody else's turn comes. */
const RECKONED_AT_ONCE = 50;
/** A day of slack: kept runs were made up to a day ago. */
const DAY = 24 * 60;

/** A span of planned runs with all that surrounds them. */
export interface Span {
  runs: OwnedRun[];
  schedules: ReadonlyMap<string, StoredSchedule>;
  around: ReadonlyMap<string, ClientAround>;
  titles: ReadonlyMap<string, string>;
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

/** What is planned in [`from`, `to`), UTC ISO text, within sight or for some clients alone, soonest first. */
export async function spanOf(
  api: Api,
  from: string,
  to: string,
  of: { sight: Sight } | { clients: readonly string[] },
): Promise<Span> {
  const { store } = api;
  const now = api.clock.now();
  const schedules =
    'clients' in of
      ? await schedulesOfAll(store, of.clients)
      : await schedulesSeen(store, { ...of.sight, working: true });
  const clients = 'clients' in of ? of.clients : [...new Set(schedules.map((s) => s.clientId))];
  const around = await aroundOf(api, clients);
  const runs = await openRuns(store, from > now ? from : now, to, of);
  const horizon = addMinutes(now, RUNS_AHEAD - DAY);
  if (to > horizon) {
    const known = new Set(runs.map((r) => `${r.scheduleId} ${r.nominal}`));
    const later = await beyond(schedules, around, from > horizon ? from : horizon, to);
    runs.push(...later.filter((r) => !known.has(`${r.scheduleId} ${r.nominal}`)));
  }
  runs.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : a.scheduleId < b.scheduleId ? -1 : 1));
  const reports = [...new Set(schedules.map((s) => s.reportId))];
  const titles = new Map(
    reports.length === 0
      ? []
      : (
          await store
            .selectFrom('report')
            .select(['id', 'title', 'released_title'])
            .where('id', 'in', reports)
            .execute()
        ).map((r) => [r.id, r.released_title ?? r.title]),
  );
  return { runs, schedules: new Map(schedules.map((s) => [s.id, s])), around, titles };
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

/** These runs of a span with whom they reach and what one ought to know of them. */
export async function showRuns(api: Api, span: Span, shown: readonly OwnedRun[]): Promise<ShownRun[]> {
  const people = new Map<string, WarnedReader[]>();
  const peopleOf = (s: StoredSchedule) => {
    const known = people.get(s.id) ?? peopleAround(span.around.get(s.clientId)!, readersOfPlan(s));
    people.set(s.id, known);
    return known;
  };
  const dates = new Set<string>();
  const clients = new Set(shown.map((r) => r.clientId));
  const local = new Map(shown.map((r) => [r, wallClock(r.at, span.around.get(r.clientId)!.zone)]));
  for (const [r, { date }] of local) dates.add(`${r.clientId} ${date}`);
  /** Who gets what on the days in question. */
  const days = new Map<string, { schedule: string; reader: string; id: string; title: string }[]>();
  for (const r of span.runs) {
    if (!clients.has(r.clientId)) continue;
    const key = `${r.clientId} ${(local.get(r) ?? wallClock(r.at, span.around.get(r.clientId)!.zone)).date}`;
    if (!dates.has(key)) continue;
    const s = span.schedules.get(r.scheduleId);
    if (!s) continue;
    const title = span.titles.get(s.reportId) ?? '';
    const found = peopleOf(s).map((p) => ({ schedule: s.id, reader: p.name, id: p.id, title }));
    days.set(key, [...(days.get(key) ?? []), ...found]);
  }
  const unknown = new Map<string, string[]>();
  for (const id of new Set(shown.map((r) => r.scheduleId))) {
    const s = span.schedules.get(id);
    if (s?.groups) unknown.set(id, await newValues(api, s.clientId, s.groups));
  }
  return shown.flatMap((r): ShownRun | [] => {
    const schedule = span.schedules.get(r.scheduleId);
    if (!schedule) return [];
    const around = span.around.get(r.clientId)!;
    const mine = peopleOf(schedule);
    const ids = new Set(mine.map((p) => p.id));
    const sameDay: SameDay = (date) =>
      (days.get(`${r.clientId} ${date}`) ?? []).filter((d) => d.schedule !== r.scheduleId && ids.has(d.id));
    const at = local.get(r)!;
    const warned = {
      at: r.at,
      period: r.period,
      compared: r.compared,
      daily: schedule.rule.freq === 'daily' || schedule.rule.freq === 'weekly',
      readers: mine,
      archive: schedule.archive,
      unread: unreadValues(schedule),
      unknown: unknown.get(r.scheduleId) ?? [],
      others: sameDay(at.date),
    };
    return {
      ...r,
      schedule,
      around,
      title: span.titles.get(schedule.reportId) ?? '',
      local: at,
      people: mine,
      warnings: warningsOf(warned, around).map((w) => w.text),
    };
  });
}
