import { isObjectName } from '@chronicon/core/bounds';
import {
  addDays,
  addMonths,
  type CivilDate,
  civilDateAt,
  monthEnd,
  monthStart,
  type Range,
  weekdayOf,
} from '@chronicon/core/calendar';
import type { RouteName } from '@chronicon/core/contract';
import { keyOfName } from '@chronicon/core/feeds';
import { type Metric, metricBook, type OwnMetric } from '@chronicon/core/figures';
import { z } from 'zod';
import { storedShapes } from '../facts/factStore.ts';
import { readTyped, writeTyped } from '../facts/typedRows.ts';
import { tellOfFacts } from '../feeds/factsTold.ts';
import { englishFor } from '../figures/english.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { type StoredClient, updateMetrics } from '../store/clients.ts';
import { createFeed, feedsOf, NEVER, type StoredFeed, updateFeed } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { inTransaction } from '../store/store.ts';
import { stored } from '../store/stored.ts';
import { theClient, theFeed } from './access.ts';
import type { Api, Handlers } from './context.ts';

/** What is typed in, and for what stretches of time; weeks begin on the client's weekday of then. */
interface TypedSetup {
  grain: 'month' | 'week';
  weekStart: number;
  metrics: string[];
}

const setupIn = stored<TypedSetup>(
  z.object({ grain: z.enum(['month', 'week']), weekStart: z.number(), metrics: z.array(z.string()) }),
  'what is typed into a feed',
);

function setupOf(feed: StoredFeed): TypedSetup {
  if (feed.kind !== 'typed' || feed.setup === null) throw new Refusal(422, 'This feed can’t be edited manually.');
  return setupIn(feed.setup);
}

/** The measure that a typed figure is kept as. */
function measureOf(metric: Metric): { key: string; kind: 'sum' | 'level' } | null {
  const { aggregation: a } = metric;
  return (a.kind === 'sum' || (a.kind === 'level' && !a.net)) && 'measure' in a
    ? { key: a.measure, kind: a.kind }
    : null;
}

const weekBegin = (date: CivilDate, weekStart: number): CivilDate =>
  addDays(date, -((weekdayOf(date) - weekStart + 7) % 7));

/** The stretch that begins on a day; null when none does. */
function stretchFrom(start: CivilDate, { grain, weekStart }: TypedSetup): Range | null {
  if (grain === 'month') return start === monthStart(start) ? { from: start, to: monthEnd(start) } : null;
  return weekdayOf(start) === weekStart ? { from: start, to: addDays(start, 6) } : null;
}

/** Every stretch that begins in a year. */
function stretchesOf(year: number, setup: TypedSetup): Range[] {
  const out: Range[] = [];
  const first = `${year}-01-01`;
  let start = setup.grain === 'month' ? first : weekBegin(addDays(first, 6), setup.weekStart);
  while (start.startsWith(String(year))) {
    const stretch = stretchFrom(start, setup)!;
    out.push(stretch);
    start = setup.grain === 'month' ? addMonths(start, 1) : addDays(start, 7);
  }
  return out;
}

async function checkFree(api: Api, client: StoredClient, measures: readonly string[]): Promise<void> {
  for (const feed of await feedsOf(api.store, client.id)) {
    for (const shape of await storedShapes(api.facts, feed.id)) {
      const taken = shape.measures.findIndex((m) => measures.includes(m));
      if (taken < 0) continue;
      const at = measures.indexOf(shape.measures[taken]!);
      throw atField(`metrics.${at}`, `${feed.name} already has this. Enter a different name.`);
    }
  }
}

export const typedHandlers: Handlers<Extract<RouteName, `${string}/typed` | `${string}/grid`>> = {
  'POST /api/clients/:client/typed': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const book = metricBook(client.metrics);
    if ((await feedsOf(api.store, client.id)).some((f) => f.name === body.name)) {
      throw atField('name', 'A feed with this name already exists.');
    }
    const added: OwnMetric[] = [];
    const keys: string[] = [];
    const measures: string[] = [];
    body.metrics.forEach((m, i) => {
      if (m.metric !== undefined) {
        const measure = book.has(m.metric) ? measureOf(book.of(m.metric)) : null;
        if (!measure) throw atField(`metrics.${i}`, 'This metric is calculated from others, so it can’t be entered.');
        if (keys.includes(m.metric)) throw atField(`metrics.${i}`, 'Duplicate.');
        keys.push(m.metric);
        measures.push(measure.key);
        return;
      }
      if (m.label === '') throw atField(`metrics.${i}`, 'Enter a name.');
      const base = keyOfName(m.label).replace(/^[^a-z]/, (c) => c.toLowerCase());
      let key = base.length < 2 ? `${base}Typed` : base;
      for (let n = 2; book.has(key) || keys.includes(key) || isObjectName(key); n++) key = `${base}${n}`;
      const { label, unit, polarity, kind } = m;
      added.push({ key, label, unit, polarity, formula: '', definition: '', measure: { key, kind } });
      keys.push(key);
      measures.push(key);
    });
    await checkFree(api, client, measures);
    const at = api.clock.now();
    const setup: TypedSetup = { grain: body.grain, weekStart: client.weekStart, metrics: keys };
    const feed = await inTransaction(api.store, async (tx) => {
      if (added.length > 0) {
        await updateMetrics(
          tx,
          client.id,
          { ...client.metrics, own: [...client.metrics.own, ...added] },
          api.clock.now(),
        );
      }
      const row = { state: 'fresh', next_sync: NEVER } as const;
      return createFeed(tx, { clientId: client.id, kind: 'typed', name: body.name, setup, at, row });
    });
    await record(api.store, { at, actor: session.member.id, action: 'feed.connected', subject: feed.id });
    return { feed: feed.id };
  },

  'GET /api/clients/:client/feeds/:feed/grid': async ({ api, session, params, query }) => {
    const client = await theClient(api.store, session.member, params.client);
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    const setup = setupOf(feed);
    const book = metricBook(client.metrics);
    const english = englishFor(client);
    const today = civilDateAt(api.clock.now(), client.zone);
    const year = query.year ?? Number(today.slice(0, 4));
    const metrics = setup.metrics.filter((key) => book.has(key)).map((key) => book.of(key));
    const stored = await readTyped(api.facts, feed.id);
    return {
      grain: setup.grain,
      year,
      columns: metrics.map((m) => ({
        metric: m.key,
        label: book.labelOf(m.key, english.words.metrics),
        unit: m.unit,
      })),
      rows: stretchesOf(year, setup).map(({ from, to }) => ({
        start: from,
        label: english.range({ from, to }),
        over: to < today,
        values: metrics.map((m) => stored.get(from)?.[measureOf(m)?.key ?? ''] ?? null),
      })),
    };
  },

  'PUT /api/clients/:client/feeds/:feed/grid': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    const setup = setupOf(feed);
    const book = metricBook(client.metrics);
    const today = civilDateAt(api.clock.now(), client.zone);
    const changes = body.cells.map((cell, i) => {
      const stretch = stretchFrom(cell.start, setup);
      if (!stretch) throw atField(`cells.${i}`, `No ${setup.grain} starts on ${cell.start}.`);
      if (stretch.to >= today) throw atField(`cells.${i}`, `This ${setup.grain} isn’t over yet.`);
      const metric = setup.metrics.includes(cell.metric) && book.has(cell.metric) ? book.of(cell.metric) : null;
      const measure = metric && measureOf(metric);
      if (!metric || !measure) throw atField(`cells.${i}`, 'This metric isn’t part of this feed.');
      if (metric.unit === 'count' && cell.value !== null && cell.value < 0) {
        throw atField(`cells.${i}`, `${metric.label ?? metric.key} is a count: it can’t be below zero.`);
      }
      return { stretch, measure, value: cell.value };
    });
    const at = api.clock.now();
    const measures = setup.metrics.flatMap((key) => (book.has(key) ? (measureOf(book.of(key)) ?? []) : []));
    await writeTyped(api.facts, { feed, grain: setup.grain, measures, changes, at });
    await inTransaction(api.store, async (tx) => {
      await updateFeed(tx, feed.id, { last_success: at });
      await tellOfFacts(tx, api.facts, client.id, at);
      const detail = { cells: body.cells };
      await record(tx, { at, actor: session.member.id, action: 'feed.typed', subject: feed.id, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },
};
