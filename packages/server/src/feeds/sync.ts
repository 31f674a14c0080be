import { addMinutes, lengthOf, type Range } from '@chronicon/core/calendar';
import { changesOf, describeDifferences, differencesFrom, type Fingerprint, pauseBefore } from '@chronicon/core/feeds';
import pLimit from 'p-limit';
import { coveredDayNumbers, type DatasetSpec, replaceDays, saveDataset, storedShapes } from '../facts/factStore.ts';
import type { Precedence } from '../platform/precedence.ts';
import { clientById } from '../store/clients.ts';
import { connectionById } from '../store/connections.ts';
import { faultOf } from '../store/faults.ts';
import { feedById, fingerprintIn, NEVER, type StoredFeed, updateFeed } from '../store/feeds.ts';
import { underLease } from '../store/leaseOf.ts';
import { record } from '../store/ledger.ts';
import { inTransaction } from '../store/store.ts';
import { FeedError, type FeedSession } from './connector.ts';
import { factsChanged, tellOfFacts } from './factsTold.ts';
import { baseOf, isService, kindOf } from './registry.ts';
import type { Services } from './services.ts';
import { slicesToFetch } from './slices.ts';
import type { FeedTools } from './tools.ts';

export interface SyncTools extends FeedTools {
  services: Services;
  precedence: Precedence;
}

/** Hours between syncs of a feed in good order; editions ask besides, whenever they lack days. */
const EVERY_MINUTES = 6 * 60;

/** Milliseconds to wait for another server that fetches the same feed. */
const OTHERS_WAIT = 120_000;

/** Opens the account of a feed. @throws FeedError when its connection is gone or not served here */
export async function openFeed(
  tools: Pick<SyncTools, 'store' | 'services'>,
  feed: StoredFeed,
  urgent: boolean,
): Promise<{ session: FeedSession; done(): Promise<void> }> {
  const connection = feed.connection_id ? await connectionById(tools.store, feed.connection_id) : null;
  if (!connection) throw new FeedError('refused', 'Its connection was removed. Connect it again.');
  const { service, done } = await tools.services.open(connection, urgent);
  return { session: service.of(feed.account), done };
}

/** The account as it was confirmed; that of a feed of before is held against the client, once. */
async function checkAccount(tools: SyncTools, feed: StoredFeed, found: Fingerprint): Promise<void> {
  const confirmed = feed.fingerprint === null ? null : fingerprintIn(feed.fingerprint);
  const differences = confirmed
    ? changesOf(confirmed, found)
    : differencesFrom((await clientById(tools.store, feed.client_id))!, found);
  if (differences.length === 0) {
    if (!confirmed) await updateFeed(tools.store, feed.id, { fingerprint: JSON.stringify(found) });
    return;
  }
  await updateFeed(tools.store, feed.id, { seen: JSON.stringify(found) });
  const what = confirmed ? 'The account has changed' : 'The account doesn’t match the client';
  throw new FeedError('swapped', `${what}: ${describeDifferences(differences)}.`);
}

/** Holds the catalogue against what was there before: a measure that is gone would read as nothing. */
async function checkCatalogue(tools: SyncTools, feed: StoredFeed, specs: readonly DatasetSpec[]): Promise<void> {
  for (const old of await storedShapes(tools.facts, feed.id)) {
    const now = specs.find((s) => s.key === old.key);
    if (!now) throw new FeedError('changed', `The service no longer provides ${old.name}.`);
    const gone = [
      ...old.measures.filter((m) => !now.measures.includes(m)),
      ...old.dimensions.filter((d) => !now.dimensions.includes(d)),
    ];
    if (gone.length > 0) {
      throw new FeedError('changed', `The service no longer provides ${gone.join(', ')} in ${old.name}.`);
    }
  }
}

interface Slice {
  spec: DatasetSpec;
  datasetId: string;
  range: Range;
}

/** What there is to fetch, newest first: all datasets of a month before the month before it. */
async function planSlices(tools: SyncTools, feed: StoredFeed, session: FeedSession): Promise<Slice[]> {
  const { completeThrough, datasets } = await session.catalogue();
  await checkCatalogue(tools, feed, datasets);
  const { restates } = kindOf(feed.kind);
  const slices: Slice[] = [];
  for (const [position, spec] of datasets.entries()) {
    await tools.precedence.turn();
    const family = `${baseOf(feed.kind)}.${spec.key}`;
    const owner = { feedId: feed.id, clientId: feed.client_id, position, feedName: feed.name, family };
    const datasetId = await saveDataset(tools.facts, owner, spec);
    const covered = await coveredDayNumbers(tools.facts, datasetId);
    const ranges = slicesToFetch(spec.firstDay, completeThrough, covered, restates);
    slices.push(...ranges.map((range) => ({ spec, datasetId, range })));
  }
  return slices.sort((a, b) => (a.range.from < b.range.from ? 1 : a.range.from > b.range.from ? -1 : 0));
}

async function load(tools: SyncTools, feed: StoredFeed, urgent: boolean): Promise<void> {
  const { facts, store, clock } = tools;
  const { session, done: close } = await openFeed(tools, feed, urgent);
  try {
    await checkAccount(tools, feed, await session.account());
    const slices = await planSlices(tools, feed, session);
    const of = slices.reduce((n, s) => n + lengthOf(s.range), 0);
    let done = 0;
    // Progress is for people who watch a first load; a row a slice would cost more than the slice.
    const tell = of > 60;
    await updateFeed(store, feed.id, { progress_done: 0, progress_of: of });
    for (const { spec, datasetId, range } of slices) {
      const rows = await session.rows(spec, range);
      await tools.precedence.turn();
      tools.crash('sync.before-slice');
      await replaceDays(facts, datasetId, spec, range, rows, clock.now());
      tools.crash('sync.after-slice');
      done += lengthOf(range);
      if (tell) await updateFeed(store, feed.id, { progress_done: done });
    }
    await updateFeed(store, feed.id, { progress_done: of });
  } finally {
    await close();
  }
}

/** Marks a feed as wrong, with why and when it is tried again: not at all, where a person has to look first. */
async function fail(tools: SyncTools, feed: StoredFeed, error: unknown): Promise<void> {
  const { store, clock, log } = tools;
  const ours = error instanceof FeedError ? null : faultOf(error);
  if (!(error instanceof FeedError)) log.error({ err: error, feed: feed.id }, 'sync failed');
  const words = ours ? `${ours.reason} ${ours.mend}` : 'Server error (see the log).';
  const failure = error instanceof FeedError ? error : new FeedError('down', words);
  const at = clock.now();
  const stopped = failure.kind === 'swapped';
  const failures = feed.failures + 1;
  const next = stopped ? NEVER : addMinutes(at, pauseBefore(failures, failure.retryAfter, Math.random()));
  await updateFeed(store, feed.id, {
    state: stopped ? 'stopped' : 'troubled',
    trouble: `${failure.message} ${stopped ? 'Nothing was imported.' : 'Earlier data is kept.'}`,
    fault: failure.kind,
    failures,
    next_sync: next,
  });
  await record(store, {
    at,
    actor: 'scheduler',
    action: stopped ? 'feed.stopped' : 'feed.troubled',
    subject: feed.id,
    detail: { reason: failure.message, next: stopped ? null : next },
  });
}

async function succeed(tools: SyncTools, feed: StoredFeed): Promise<void> {
  const { store, facts, clock } = tools;
  const at = clock.now();
  const changed = await factsChanged(tools, feed.client_id);
  tools.crash('sync.before-told');
  await inTransaction(store, async (tx) => {
    // Whatever waits for this feed, or was drawn from it, is looked at again at once.
    if (changed || feed.trouble !== null) await tellOfFacts(tx, facts, feed.client_id, at);
    await updateFeed(tx, feed.id, {
      state: 'fresh',
      trouble: null,
      fault: null,
      seen: null,
      failures: 0,
      last_success: at,
      next_sync: addMinutes(at, EVERY_MINUTES * (1 + Math.random() / 20)),
    });
    if (feed.state === 'troubled') {
      await record(tx, { at, actor: 'scheduler', action: 'feed.recovered', subject: feed.id });
    }
  });
}

async function syncOnce(tools: SyncTools, feedId: string, urgent: boolean): Promise<void> {
  const feed = await feedById(tools.store, feedId);
  if (!feed || !isService(feed.kind) || feed.state === 'removed') return;
  if (feed.state === 'new') await updateFeed(tools.store, feed.id, { state: 'loading' });
  try {
    await load(tools, feed, urgent);
    await succeed(tools, feed);
  } catch (error) {
    await fail(tools, feed, error);
  }
}

/** Keeps feeds up to date; one sync of a feed at a time, and who asks meanwhile waits for that one. */
export interface Syncs {
  /**
   * Resolves when the feed has been asked, well or badly: its row tells. A stopped one is looked at, and goes on by
   * itself when its account is what was confirmed.
   * @param urgent for an edition or a person: may use the last part of the service's quota
   */
  run(feedId: string, urgent?: boolean): Promise<void>;
  idle(): Promise<void>;
}

export function createSyncs(tools: SyncTools): Syncs {
  const running = new Map<string, Promise<void>>();
  const limits = new Map<string, ReturnType<typeof pLimit>>();
  const limitOf = (kind: string) => {
    const found = limits.get(kind) ?? pLimit(isService(kind) ? kindOf(kind).atOnce : 1);
    limits.set(kind, found);
    return found;
  };
  const work = async (feedId: string, urgent: boolean) => {
    const feed = await feedById(tools.store, feedId);
    if (!feed) return;
    await limitOf(feed.kind)(() =>
      underLease(tools, 'feed', feedId, OTHERS_WAIT, async () => {
        // Another server on this folder may have asked it meanwhile: what came, or did not, is there for both.
        const now = await feedById(tools.store, feedId);
        if (now?.next_sync === feed.next_sync) await syncOnce(tools, feedId, urgent);
      }),
    );
  };
  return {
    run(feedId, urgent = false) {
      const present = running.get(feedId);
      if (present) return present;
      const started = work(feedId, urgent).finally(() => running.delete(feedId));
      running.set(feedId, started);
      return started;
    },
    async idle() {
      while (running.size > 0) await Promise.all(running.values());
    },
  };
}
