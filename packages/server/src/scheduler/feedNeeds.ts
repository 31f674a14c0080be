import { civilDateAt } from '@chronicon/core/calendar';
import { planReads } from '@chronicon/core/figures';
import { chooseParts } from '@chronicon/core/report';
import type { CoveredShape } from '../facts/coveredShape.ts';
import { datasetsOf } from '../facts/factReader.ts';
import { scheduleQuestions } from '../render/scheduleQuestions.ts';
import { resumeSchedule, stopSchedule } from '../store/changeSchedule.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import type { StoredFeed } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { reportById } from '../store/reports.ts';
import { type StoredSchedule, schedulesOf, stoppedBy } from '../store/schedules.ts';
import { inTransaction } from '../store/store.ts';
import { holdPaused, releasePaused } from './follow.ts';
import type { Tools } from './tools.ts';

type Needs = Pick<Tools, 'store' | 'facts' | 'clock'>;

const feedsOfShape = (shape: CoveredShape): string[] => (shape.members ?? [shape]).map((m) => m.feedId);

/** The feeds that the pages and the mail of a schedule read. */
async function feedsRead(tools: Needs, client: StoredClient, s: StoredSchedule): Promise<Set<string>> {
  const release = (await reportById(tools.store, s.reportId))?.release;
  if (!release) return new Set();
  const today = civilDateAt(tools.clock.now(), client.zone);
  const pages = chooseParts(release.document, s) ?? release.document;
  const { questions, knowledge } = await scheduleQuestions(tools.store, client, pages, s, today);
  const shapes = await datasetsOf(tools.facts, client.id);
  return new Set(planReads(questions, shapes, knowledge).flatMap((need) => feedsOfShape(need.dataset)));
}

/** The active schedules of a client that would have nothing new to send without a feed. */
export async function schedulesNeeding(tools: Needs, feed: StoredFeed): Promise<StoredSchedule[]> {
  const client = (await clientById(tools.store, feed.client_id))!;
  const needing: StoredSchedule[] = [];
  for (const s of await schedulesOf(tools.store, client.id)) {
    if (s.state === 'active' && (await feedsRead(tools, client, s)).has(feed.id)) needing.push(s);
  }
  return needing;
}

/** Stops the schedules that need a feed which is taken away, with the reason. @returns what their reports are called */
export async function stopSchedulesFor(tools: Needs, feed: StoredFeed, actor: string): Promise<string[]> {
  const at = tools.clock.now();
  const needing = await schedulesNeeding(tools, feed);
  const reason = `The report needs the feed “${feed.name}”, which was removed.`;
  await inTransaction(tools.store, async (tx) => {
    for (const s of needing) {
      await stopSchedule(tx, s.id, { reason, feedId: feed.id }, at);
      await holdPaused(tx, s.id, reason, { at, actor, name: '' });
      await record(tx, { at, actor, action: 'schedule.stopped', subject: s.id, detail: { reason } });
    }
  });
  return titlesOf(tools, needing);
}

/** Lets the schedules go on that were stopped for a feed which is there again. */
export async function resumeSchedulesFor(tools: Needs, feed: StoredFeed, actor: string): Promise<string[]> {
  const at = tools.clock.now();
  const stopped = await stoppedBy(tools.store, feed.id);
  await inTransaction(tools.store, async (tx) => {
    for (const s of stopped) {
      await resumeSchedule(tx, s.id, at);
      await releasePaused(tx, s.id, { at, actor, name: '' });
      await record(tx, { at, actor, action: 'schedule.resumed', subject: s.id });
    }
  });
  return titlesOf(tools, stopped);
}

export const titlesOf = async (tools: Pick<Tools, 'store'>, schedules: readonly StoredSchedule[]): Promise<string[]> =>
  Promise.all(schedules.map(async (s) => (await reportById(tools.store, s.reportId))?.title ?? ''));
