import { addMinutes, lengthOf } from '@chronicon/core/calendar';
import { pauseBefore } from '@chronicon/core/feeds';
import type { Logger } from 'pino';
import type { Secrets } from '../access/secrets.ts';
import type { Clock } from '../clock.ts';
import type { Config } from '../config.ts';
import { coveredDayNumbers, type DatasetSpec, type FactDb, replaceDays, saveDataset } from '../facts/factStore.ts';
import { feedById, type StoredFeed, updateFeed } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import type { Store } from '../store/store.ts';
import { FeedError, type FeedKind, type FeedSession } from './connector.ts';
import { feedKinds } from './registry.ts';
import { slicesToFetch } from './slices.ts';

export interface SyncTools {
  store: Store;
  facts: FactDb;
  secrets: Secrets;
  clock: Clock;
  config: Config;
  log: Logger;
}

/** Hours between syncs of a feed in good order; editions ask besides, whenever they lack days. */
const EVERY_MINUTES = 6 * 60;

export function sessionOf(
  tools: Pick<SyncTools, 'config'>,
  kind: string,
  account: string,
  token: string,
): [FeedKind, FeedSession] {
  const found = feedKinds(tools.config).find((k) => k.kind.kind === kind);
  if (!found) throw new FeedError('down', `There is no service of the kind ${kind}.`);
  if (found.address === null) throw new FeedError('down', 'This server was given no address for the service.');
  return [found.kind, found.kind.open({ address: found.address, account, token, timeout: tools.config.timeout })];
}

/** When a feed that failed is asked again: when the service says, or after a growing pause. */
function nextTry(error: FeedError, failures: number, now: string): string {
  return addMinutes(now, pauseBefore(failures, error.retryAfter, Math.random()));
}

async function load(tools: SyncTools, feed: StoredFeed): Promise<void> {
  const { facts, store, clock } = tools;
  const [kind, session] = sessionOf(tools, feed.kind, feed.account, tools.secrets.open(feed.secret));
  const { completeThrough, datasets } = await session.catalogue();
  const work: { spec: DatasetSpec; id: string; slices: ReturnType<typeof slicesToFetch> }[] = [];
  for (const [position, spec] of datasets.entries()) {
    const id = await saveDataset(facts, { feedId: feed.id, clientId: feed.client_id, position }, spec);
    const covered = await coveredDayNumbers(facts, id);
    work.push({ spec, id, slices: slicesToFetch(spec.firstDay, completeThrough, covered, kind.restates) });
  }
  const of = work.reduce((n, w) => n + w.slices.reduce((m, s) => m + lengthOf(s), 0), 0);
  let done = 0;
  await updateFeed(store, feed.id, { progress_done: 0, progress_of: of });
  // All datasets of a month before the month before it: the newest report can be drawn first.
  const queue = work.flatMap((w) => w.slices.map((range) => ({ ...w, range })));
  queue.sort((a, b) => (a.range.from < b.range.from ? 1 : a.range.from > b.range.from ? -1 : 0));
  for (const { spec, id, range } of queue) {
    const rows = await session.rows(spec, range);
    await replaceDays(facts, id, spec, range, rows, clock.now());
    done += lengthOf(range);
    await updateFeed(store, feed.id, { progress_done: done });
  }
}

async function syncOnce(tools: SyncTools, feedId: string): Promise<void> {
  const { store, clock, log } = tools;
  const feed = await feedById(store, feedId);
  if (!feed) return;
  if (feed.state === 'new') await updateFeed(store, feed.id, { state: 'loading' });
  try {
    await load(tools, feed);
    const at = clock.now();
    await updateFeed(store, feed.id, {
      state: 'fresh',
      trouble: null,
      failures: 0,
      last_success: at,
      next_sync: addMinutes(at, EVERY_MINUTES),
    });
    if (feed.state === 'troubled') {
      await record(store, { at, actor: 'clockwork', action: 'feed.recovered', subject: feed.id });
    }
  } catch (error) {
    if (!(error instanceof FeedError)) log.error({ err: error, feed: feed.id }, 'sync failed');
    const failure =
      error instanceof FeedError ? error : new FeedError('down', 'Something went wrong on our side; see the log.');
    const at = clock.now();
    const failures = feed.failures + 1;
    const next = nextTry(failure, failures, at);
    await updateFeed(store, feed.id, {
      state: 'troubled',
      trouble: `${failure.message} What was fetched before is kept.`,
      failures,
      next_sync: next,
    });
    await record(store, {
      at,
      actor: 'clockwork',
      action: 'feed.troubled',
      subject: feed.id,
      detail: { reason: failure.message, next },
    });
  }
}

/** Keeps feeds up to date; one sync of a feed at a time, and who asks meanwhile waits for that one. */
export interface Syncs {
  /** Resolves when the feed has been asked, well or badly: its row tells. */
  run(feedId: string): Promise<void>;
  idle(): Promise<void>;
}

export function createSyncs(tools: SyncTools): Syncs {
  const running = new Map<string, Promise<void>>();
  return {
    run(feedId) {
      const present = running.get(feedId);
      if (present) return present;
      const work = syncOnce(tools, feedId).finally(() => running.delete(feedId));
      running.set(feedId, work);
      return work;
    },
    async idle() {
      while (running.size > 0) await Promise.all(running.values());
    },
  };
}
