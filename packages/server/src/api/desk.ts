import { addDays, addMinutes, startOfDay, wallClock } from '@chronicon/core/calendar';
import type { SheetLine } from '@chronicon/core/contract';
import { formatterOf } from '@chronicon/core/words';
import { grouped } from '../platform/grouped.ts';
import {
  byUrgency,
  type Cause,
  causeOfPlan,
  causeOfStop,
  causesOfEditions,
  type Held,
  soonAfter,
} from '../scheduler/causes.ts';
import { peopleIn } from '../scheduler/ordersOfRun.ts';
import { boxState } from '../store/bounceBox.ts';
import { changeMark } from '../store/changeMark.ts';
import { type ClientHead, clientsIn, contactsWhoStopped } from '../store/clients.ts';
import { type EditionRow, editionsByIds, editionsToSee, editionTimes, ordersOf } from '../store/editions.ts';
import { feedsOfAll } from '../store/feeds.ts';
import { agencyOf } from '../store/members.ts';
import { clientsWithoutRuns, runsOfEdited, runsWithoutWords, schedulesEndingBy } from '../store/planGaps.ts';
import { nextRunTimes } from '../store/planning.ts';
import { listsOfAll } from '../store/readerLists.ts';
import { describeRuns, type PlannedRun, plannedRuns, type RunKey } from '../store/runs.ts';
import { schedulesOfAll, schedulesWithGroups } from '../store/schedules.ts';
import { sendingStops } from '../store/sendingStops.ts';
import { clientsOutsideSeries } from '../store/series.ts';
import { unreadMails } from '../store/unreadMails.ts';
import type { Visibility } from '../store/visibility.ts';
import { zoneMoves } from '../store/zoneMoves.ts';
import { feedNeeds } from './feedHealth.ts';
import { newValues } from './groupValues.ts';
import { readersOfPlan, unreadValues } from './lookAhead.ts';
import type { ReadHandlers, Reading } from './reads/reading.ts';

const AHEAD_DAYS = 7;
/** Lines that one day shows, and needs that are listed: beyond, one is told how many more there are. */
const DAY_LINES = 60;
const MOST_NEEDS = 200;
/** Editions and runs of all nine days that are read. */
const MOST_LINES = 4_000;
/** A missed run is news for this long, in minutes. */
const NEWS = 7 * 24 * 60;
/** How long before a run its groups of readers are looked at, in minutes. */
const GROUPS_AHEAD = 14 * 24 * 60;
/** How long before a run its commentary is asked for, in minutes. */
const WRITE_AHEAD = 7 * 24 * 60;

/** An instant by a client's own clock, where that is another time than the agency's. */
function thereOf(at: string, client: ClientHead, zone: string): string | null {
  const [here, there] = [wallClock(at, zone), wallClock(at, client.zone)];
  if (here.time === there.time && here.date === there.date) return null;
  const day = here.date === there.date ? '' : `${formatterOf('en-GB', client.currency).shortDate(there.date)}, `;
  return `${day}${there.time} ${client.zone.split('/').at(-1)!.replaceAll('_', ' ')} time`;
}

function lineOf(e: EditionRow, client: ClientHead, zone: string): SheetLine {
  const orders = ordersOf(e);
  const english = formatterOf('en-GB', client.currency);
  return {
    key: e.id,
    editionId: e.id,
    scheduleId: e.schedule_id,
    clientId: client.id,
    clientName: client.name,
    colour: client.colour,
    title: orders.group ? `${orders.title} · ${orders.group}` : orders.title,
    at: e.due_at,
    local: wallClock(e.due_at, zone),
    there: thereOf(e.due_at, client, zone),
    periodLabel: e.period_from && e.period_to ? english.shortRange({ from: e.period_from, to: e.period_to }) : '',
    readers: orders.readers.length,
    state: e.state,
  };
}

function lineOfRun(run: PlannedRun, client: ClientHead, zone: string): SheetLine {
  return {
    key: `${run.scheduleId}-${run.nominal}`,
    editionId: null,
    scheduleId: run.scheduleId,
    clientId: client.id,
    clientName: client.name,
    colour: client.colour,
    title: run.title,
    at: run.at,
    local: wallClock(run.at, zone),
    there: thereOf(run.at, client, zone),
    periodLabel: formatterOf('en-GB', client.currency).shortRange(run.period),
    readers: run.readers,
    state: 'planned',
  };
}

/** What stands on a day's sheet: an edition, or a run of which none is made yet. */
interface Entry {
  at: string;
  state: SheetLine['state'];
  /** Its id. */
  edition: string | null;
  run: RunKey | null;
}

/** What is not as it should be is shown, however many lines a day has. */
const URGENT: readonly string[] = ['held', 'part-sent', 'review', 'sending', 'collecting'];

/** One day of the sheet: all that stands on it, or what needs a person and the first of the rest. */
function dayOf(date: string, entries: readonly Entry[]): { date: string; shown: Entry[]; more: number } {
  const isUrgent = (e: Entry) => Number(URGENT.includes(e.state));
  const shown = [...entries].sort((a, b) => isUrgent(b) - isUrgent(a)).slice(0, DAY_LINES);
  shown.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  return { date, shown, more: entries.length - shown.length };
}

type Clients = ReadonlyMap<string, ClientHead>;

/** What of the plans wants a person: nothing planned, an end that is near. */
async function planNeeds(api: Reading, visibility: Visibility, clients: Clients, now: string): Promise<Cause[]> {
  const gaps = await clientsWithoutRuns(api.store, visibility, now);
  const none = gaps.map(({ id, schedules }) => {
    const client = clients.get(id)!;
    const english = formatterOf('en-GB', client.currency);
    const stopped = schedules.find((s) => s.stopped !== null)?.stopped;
    const [over] = schedules.filter((s) => s.state === 'active');
    const ended = over && (over.last_date === null ? 'No more runs.' : `Ended ${english.date(over.last_date)}.`);
    const otherwise = schedules.length > 0 ? 'Its schedules are paused.' : 'It has no schedule.';
    return causeOfPlan(client, {
      key: `plan-${id}`,
      tone: stopped || over ? 'attention' : 'calm',
      title: `${client.name} has nothing scheduled`,
      reason: stopped ?? ended ?? otherwise,
      action: { label: 'Plan', to: `/clients/${id}/schedules` },
    });
  });
  const ending = (await schedulesEndingBy(api.store, visibility, now, soonAfter(now))).map((s) => {
    const client = clients.get(s.client_id)!;
    const english = formatterOf('en-GB', client.currency);
    return causeOfPlan(client, {
      key: `end-${s.id}`,
      tone: 'calm',
      title: `A schedule of ${client.name} ends on ${english.date(s.last_date!)}`,
      reason: 'Nothing is sent after that.',
      action: { label: 'Extend', to: `/schedules/${s.id}` },
    });
  });
  return [
    ...none,
    ...ending,
    ...(await zoneNeeds(api, visibility, now)),
    ...(await boxNeeds(api, visibility)),
    ...(await unreadNeeds(api, visibility)),
    ...(await groupNeeds(api, visibility, clients, now)),
    ...(await seriesNeeds(api, clients)),
    ...(await readerNeeds(api, visibility, clients)),
  ];
}

/** Readers of schedules to whom nothing goes any more, since they said so or their mails come back: one line for each. */
async function readerNeeds(api: Reading, visibility: Visibility, clients: Clients): Promise<Cause[]> {
  const stopped = (await contactsWhoStopped(api.store, visibility)).filter((c) => clients.has(c.clientId));
  if (stopped.length === 0) return [];
  const ids = [...new Set(stopped.map((c) => c.clientId))];
  const lists = await listsOfAll(api.store, ids);
  const schedules = (await schedulesOfAll(api.store, ids)).filter((s) => s.state !== 'ended');
  const reads = (contact: string, clientId: string) =>
    schedules.filter(
      (s) =>
        s.clientId === clientId &&
        peopleIn(readersOfPlan(s), lists.get(clientId) ?? []).some((r) => 'contact' in r && r.contact === contact),
    ).length;
  return stopped.flatMap(({ clientId, contact }): Cause[] => {
    const uses = reads(contact.id, clientId);
    if (uses === 0) return [];
    const client = clients.get(clientId)!;
    const name = `${contact.firstName} ${contact.lastName}`.trim();
    const places = uses === 1 ? 'a schedule' : `${uses} schedules`;
    return [
      {
        key: `reader-${contact.id}`,
        tone: 'attention',
        title:
          contact.standing === 'declined'
            ? `${client.name}: ${name} unsubscribed`
            : `${client.name}: emails to ${name} bounce`,
        reason: `We no longer email ${contact.email}. Still used in: ${places}. ${
          contact.standing === 'declined'
            ? 'Check with them, then resubscribe them or choose another reader.'
            : 'Correct the address, or choose another reader.'
        }`,
        deadline: null,
        editions: [],
        missed: false,
        clients: [clientId],
        action: { label: 'View contact', to: `/clients/${clientId}/contacts` },
      },
    ];
  });
}

/** Clients that have the tag of a series and no schedule of it: one line for each series. */
async function seriesNeeds(api: Reading, clients: Clients): Promise<Cause[]> {
  const lacking = (await clientsOutsideSeries(api.store)).filter((c) => clients.has(c.client));
  const bySource = grouped(lacking, (c) => c.source_id);
  return [...bySource].map(([source, of]) => ({
    key: `series-${source}`,
    tone: 'attention',
    title: `“${of[0]!.title}” is not scheduled for ${of.length === 1 ? of[0]!.name : `${of.length} clients of ${of[0]!.tag}`}`,
    reason: `This runs for every client tagged ${of[0]!.tag}; ${new Intl.ListFormat('en-GB').format(of.slice(0, 4).map((c) => c.name))} joined later.`,
    deadline: null,
    editions: [],
    missed: false,
    clients: of.map((c) => c.client),
    action: { label: 'Choose readers', to: `/schedules/${source}#series` },
  }));
}

/** The mailbox to which mails come back, while it cannot be read: nobody hears of what came back. */
async function boxNeeds(api: Reading, visibility: Visibility): Promise<Cause[]> {
  const { trouble } = await boxState(api.store);
  if (!trouble || visibility.member.role !== 'owner') return [];
  return [
    {
      key: 'bounce-box',
      tone: 'attention',
      title: 'Bounces aren’t being tracked',
      reason: `${trouble.reason} ${trouble.mend}`,
      deadline: null,
      editions: [],
      missed: false,
      clients: [],
      action: { label: 'View mailbox', to: '/settings/mail#box' },
    },
  ];
}

/** Mails that came back and that nobody could read: one of them may say that a reader gets nothing. */
async function unreadNeeds(api: Reading, visibility: Visibility): Promise<Cause[]> {
  if (visibility.member.role !== 'owner') return [];
  const unread = await unreadMails(api.store);
  if (unread.length === 0) return [];
  return [
    {
      key: 'unread-mails',
      tone: 'attention',
      title: unread.length === 1 ? 'A bounce we couldn’t read' : `${unread.length} bounces we couldn’t read`,
      reason: 'A reader may not be getting a report. Open it to see whom it concerns, then remove it.',
      deadline: null,
      editions: [],
      missed: false,
      clients: [],
      action: { label: 'View bounces', to: '/settings/mail#unread' },
    },
  ];
}

/** Runs that other rules of time zones move: one line for all of them. */
async function zoneNeeds(api: Reading, visibility: Visibility, now: string): Promise<Cause[]> {
  const moves = await zoneMoves(api.store, visibility, now);
  const [first] = moves;
  if (!first) return [];
  const runs = moves.length === 1 ? 'One run moves' : `${moves.length} runs move`;
  return [
    {
      key: 'zones',
      tone: 'attention',
      title: `Time-zone rules changed: ${runs}`,
      reason: 'Original times apply until someone reviews the change.',
      deadline: first.was,
      editions: [],
      missed: false,
      clients: [...new Set(moves.map((m) => m.clientId))],
      action: { label: 'See them', to: '/almanac/zones' },
    },
  ];
}

/** Groups of readers before their next run: values that nobody reads, and values that are new in the data. */
async function groupNeeds(api: Reading, visibility: Visibility, clients: Clients, now: string): Promise<Cause[]> {
  const schedules = await schedulesWithGroups(api.store, visibility);
  if (schedules.length === 0) return [];
  const next = await nextRunTimes(
    api.store,
    schedules.map((s) => s.id),
    now,
  );
  const soon = addMinutes(now, GROUPS_AHEAD);
  const found: Cause[] = [];
  for (const s of schedules) {
    const at = next.get(s.id);
    const client = clients.get(s.clientId);
    if (!client || at === undefined || at > soon) continue;
    const [unread, fresh] = [unreadValues(s), await newValues(api, s.clientId, s.groups!)];
    if (unread.length + fresh.length === 0) continue;
    const list = (values: string[]) => new Intl.ListFormat('en-GB').format(values.slice(0, 5));
    const reason = [
      unread.length > 0 && `No reader for ${list(unread)}.`,
      fresh.length > 0 && `New in the data, not yet in a group: ${list(fresh)}.`,
    ];
    found.push({
      key: `groups-${s.id}`,
      tone: 'attention',
      title: `${client.name}: readers’ groups`,
      reason: reason.filter((r) => r).join(' '),
      deadline: at,
      editions: [],
      missed: false,
      clients: [client.id],
      action: { label: 'Choose readers', to: `/schedules/${s.id}` },
    });
  }
  return found;
}

/** What is still to write and to release for the runs of the next days: one line for each report. */
async function writingNeeds(api: Reading, visibility: Visibility, clients: Clients, now: string): Promise<Cause[]> {
  const until = addMinutes(now, WRITE_AHEAD);
  const line = { tone: 'attention' as const, editions: [], missed: false };
  const lookOf = (r: { schedule_id: string; nominal: string }) => `look=run.${r.schedule_id}.${r.nominal}`;
  const unwritten = (await runsWithoutWords(api.store, visibility, now, until)).map((r): Cause => {
    const client = clients.get(r.client_id)!;
    const english = formatterOf('en-GB', client.currency);
    return {
      ...line,
      key: `write-${r.report_id}`,
      clients: [client.id],
      title: `${client.name}: commentary for ${english.shortRange({ from: r.period_from, to: r.period_to })}`,
      reason: `Not written yet for “${r.title}”. Without it, the page has no commentary.`,
      deadline: r.at,
      write: { report: r.report_id, block: r.block_id, from: r.period_from, to: r.period_to, draft: r.draft ?? '' },
      action: { label: 'Write', to: `/reports/${r.report_id}?${lookOf(r)}&block=${r.block_id}` },
    };
  });
  const edited = (await runsOfEdited(api.store, visibility, now, until)).map((r): Cause => {
    const client = clients.get(r.client_id)!;
    const english = formatterOf('en-GB', client.currency);
    return {
      ...line,
      key: `release-${r.report_id}`,
      clients: [client.id],
      title: `${client.name}: “${r.title}” has unreleased changes`,
      reason: `The version released on ${english.date(r.released_at!.slice(0, 10))} is sent.`,
      deadline: r.at,
      action: { label: 'Review and release', to: `/reports/${r.report_id}?${lookOf(r)}` },
    };
  });
  return [...unwritten, ...edited];
}

/** Everything that needs a person now, one line for each cause, by the deadline it endangers. */
async function causesFor(api: Reading, visibility: Visibility, clients: Clients, now: string): Promise<Cause[]> {
  const stops = [...(await sendingStops(api.store)), ...api.health.troubles()];
  const rows = await editionsToSee(api.store, visibility, addMinutes(now, -NEWS), stops.length > 0);
  const held: Held[] = rows.map((edition) => ({ edition, client: clients.get(edition.client_id)! }));
  const waited = await feedsOfAll(api.store, [...new Set(held.map((h) => h.client.id))]);
  const feeds = grouped(waited, (feed) => feed.client_id);
  const stuck = stops.length > 0 ? held.filter((h) => ['sending', 'ready'].includes(h.edition.state)) : [];
  const waiting = new Set(stuck);
  const ofFeeds = await feedNeeds(api, visibility, clients, now);
  // A feed that holds editions up is one line: what is to be done about it is the feed's.
  const actOf = new Map(ofFeeds.map((c) => [c.key, c.action]));
  const ofEditions = causesOfEditions(
    held.filter((h) => !waiting.has(h) && h.edition.state !== 'ready'),
    feeds,
  ).map((c) => ({ ...c, action: actOf.get(c.key) ?? c.action }));
  const causes = [
    ...stops.map((s) => causeOfStop(s, stuck)),
    ...ofEditions,
    ...ofFeeds,
    ...(await planNeeds(api, visibility, clients, now)),
    ...(await writingNeeds(api, visibility, clients, now)),
  ];
  const once = new Map<string, Cause>();
  for (const cause of causes) if (!once.has(cause.key)) once.set(cause.key, cause);
  return [...once.values()].sort(byUrgency);
}

/** Sheets show what time does by itself, too: they are asked for again as often as this, in minutes. */
const AT_LEAST_EVERY = 15;

export const deskHandlers: ReadHandlers<'GET /api/desk' | 'GET /api/changes'> = {
  'GET /api/changes': async ({ api }) => {
    const turn = Math.floor(Date.parse(api.clock.now()) / (AT_LEAST_EVERY * 60_000));
    const troubles = api.health.troubles().map((t) => t.cause);
    return { mark: [await changeMark(api.store), turn, ...troubles].join(' ') };
  },

  'GET /api/desk': async ({ api, session, query }) => {
    const now = api.clock.now();
    const { zone } = (await agencyOf(api.store))!;
    const visibility: Visibility = { member: session.member, client: query.client, scope: query.scope, working: true };
    const clients: Clients = new Map((await clientsIn(api.store, visibility)).map((c) => [c.id, c]));
    const { date: today, time } = wallClock(now, zone);
    const dates = Array.from({ length: AHEAD_DAYS + 2 }, (_, n) => addDays(today, n - 1));
    const starts = [...dates, addDays(today, AHEAD_DAYS + 1)].map((date) => startOfDay(date, zone));
    const [from, to] = [starts[0]!, starts.at(-1)!];
    const made = await editionTimes(api.store, { visibility, dueFrom: from, dueTo: to }, MOST_LINES);
    const coming = await plannedRuns(api.store, visibility, now, to);
    const entries: Entry[] = [
      ...made.map((e) => ({ at: e.due_at, state: e.state, edition: e.id, run: null })),
      ...coming.map((run) => ({ at: run.at, state: 'planned' as const, edition: null, run })),
    ];
    const days = dates.map((date, n) =>
      dayOf(
        date,
        entries.filter((e) => e.at >= starts[n]! && e.at < starts[n + 1]!),
      ),
    );
    const described = await describeRuns(
      api.store,
      days.flatMap((d) => d.shown.flatMap((e) => e.run ?? [])),
    );
    const runs = new Map(described.map((r) => [`${r.scheduleId} ${r.nominal}`, r]));
    const editions = await editionsByIds(
      api.store,
      days.flatMap((d) => d.shown.flatMap((e) => e.edition ?? [])),
    );
    const write = ({ edition, run }: Entry): SheetLine | [] => {
      const e = edition !== null && editions.get(edition);
      if (e) return lineOf(e, clients.get(e.client_id)!, zone);
      // Made anew in between, or gone: it is on the next sheet.
      if (!run) return [];
      const found = runs.get(`${run.scheduleId} ${run.nominal}`);
      return found ? lineOfRun(found, clients.get(found.clientId)!, zone) : [];
    };
    const needs = (await causesFor(api, visibility, clients, now)).map(({ clients: _, stopsAll: __, ...need }) => need);
    return {
      now,
      zone,
      today,
      time,
      days: days.map(({ date, shown, more }) => ({ date, lines: shown.flatMap(write), more })),
      needs: needs.slice(0, MOST_NEEDS),
      moreNeeds: Math.max(0, needs.length - MOST_NEEDS),
    };
  },
};
