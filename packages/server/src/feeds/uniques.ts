import type { Range } from '@chronicon/core/calendar';
import { filterKey, type Knowledge, type Question, type UniqueAsk, uniquesOf } from '@chronicon/core/figures';
import { fetchesOf } from '../facts/coverage.ts';
import type { CoveredShape } from '../facts/coveredShape.ts';
import { datasetsOf } from '../facts/factReader.ts';
import { labelsOf, reportedOf, saveReported } from '../facts/reported.ts';
import { forAWhile, unwatched } from '../platform/asking.ts';
import { feedById } from '../store/feeds.ts';
import { FeedError } from './connector.ts';
import { openFeed, type SyncTools } from './sync.ts';

/** A breakdown of a unique is asked label by label: only of dimensions with few. */
const MOST_LABELS = 30;
/** Of the time that a person waits, the part in which services are asked. */
const SHARE_OF_SERVICES = 0.35;
/** Requests to one feed for one report. */
const MOST_ASKS = 120;

/** The latest instant at which any day of the range was fetched: what was counted before may have been restated. */
async function lastFetched(tools: SyncTools, datasetId: string, range: Range): Promise<string> {
  return (await fetchesOf(tools.facts, datasetId, range)).reduce((last, f) => (f.at > last ? f.at : last), '');
}

/** Those that were never counted, or before the range's days were last fetched. */
async function stale(tools: SyncTools, asks: readonly UniqueAsk<CoveredShape>[]): Promise<UniqueAsk<CoveredShape>[]> {
  const wanted: UniqueAsk<CoveredShape>[] = [];
  for (const ask of asks) {
    const counted = (await reportedOf(tools.facts, ask.dataset.id)).find(
      (r) =>
        r.measure === ask.measure &&
        r.from === ask.range.from &&
        r.to === ask.range.to &&
        filterKey(r.filter) === filterKey(ask.filter),
    );
    if (!counted || counted.at < (await lastFetched(tools, ask.dataset.id, ask.range))) wanted.push(ask);
  }
  return wanted;
}

/**
 * Asks the feeds for the uniques that these questions need and keeps them. A feed that does not answer leaves them
 * out: the figure is not available then, with its reason.
 * @returns how many were asked for
 */
export async function uniquesFor(
  tools: SyncTools,
  clientId: string,
  questions: readonly Question[],
  knowledge: Knowledge,
): Promise<number> {
  const { book } = knowledge;
  const mayNeed = questions.some((q) =>
    (q.op === 'top' ? q.metrics : [q.metric]).some((key) => ['unique', 'derived'].includes(book.lookup(key).kind)),
  );
  if (!mayNeed) return 0;
  const shapes = await datasetsOf(tools.facts, clientId);
  const labels = new Map<string, string[]>();
  for (const q of questions.filter((x) => x.op === 'top')) {
    for (const shape of shapes.filter((s) => s.dimensions.includes(q.dimension))) {
      const found = await labelsOf(tools.facts, shape.id, q.dimension, MOST_LABELS);
      labels.set(`${shape.id} ${q.dimension}`, found.length > MOST_LABELS ? [] : found);
    }
  }
  const asks = uniquesOf(questions, shapes, knowledge, (d, dim) => labels.get(`${d.id} ${dim}`) ?? []).filter(
    // Nothing was counted before measuring began, nor of days that are not there yet.
    (a) => a.range.to >= a.dataset.firstDay && a.dataset.covered.length > 0,
  );
  const byFeed = new Map<string, UniqueAsk<CoveredShape>[]>();
  for (const ask of await stale(tools, asks)) {
    byFeed.set(ask.dataset.feedId, [...(byFeed.get(ask.dataset.feedId) ?? []), ask]);
  }
  // A person does not wait for a slow service: what it counts later is there for the next look.
  const asked = unwatched(() =>
    Promise.all([...byFeed].map(([feedId, wanted]) => askFeed(tools, feedId, wanted.slice(0, MOST_ASKS)))),
  );
  await forAWhile(asked, SHARE_OF_SERVICES);
  return [...byFeed.values()].reduce((n, wanted) => n + Math.min(wanted.length, MOST_ASKS), 0);
}

async function askFeed(tools: SyncTools, feedId: string, asks: readonly UniqueAsk<CoveredShape>[]): Promise<void> {
  const feed = await feedById(tools.store, feedId);
  // A stopped feed may be somebody else's; a removed one is not asked any more.
  if (!feed || feed.state === 'stopped' || feed.state === 'removed') return;
  try {
    const { session, done } = await openFeed(tools, feed, true);
    for (const { dataset, measure, range, filter } of asks) {
      const value = await session.total(dataset.key, measure, range, filter);
      await saveReported(tools.facts, dataset.id, { measure, range, filter, value }, tools.clock.now());
    }
    await done();
  } catch (error) {
    if (!(error instanceof FeedError)) throw error;
    tools.log.warn({ feed: feedId, reason: error.message }, 'uniques could not be asked for');
  }
}
