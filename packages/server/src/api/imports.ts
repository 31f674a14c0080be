import { randomBytes } from 'node:crypto';
import { civilDateAt, fromDayNumber } from '@chronicon/core/calendar';
import type { ImportDetail, ImportRow, NewMetric, RouteName } from '@chronicon/core/contract';
import {
  currencyFault,
  type FileMapping,
  grainOfDates,
  inCurrency,
  isCurrency,
  keyOfName,
  mappingFault,
  readDescription,
  rowReader,
  shapeOf,
  signsFor,
  splitMapping,
} from '@chronicon/core/feeds';
import { DIMENSION_KEYS, metricBook, moneyMeasures, type OwnMeasure, type OwnMetric } from '@chronicon/core/figures';
import { setFamily, storedShapes } from '../facts/factStore.ts';
import { type FileSetup, fileSetupOf } from '../feeds/files/fileSetup.ts';
import { FileError } from '../feeds/files/rows.ts';
import { undoableOf } from '../feeds/files/undoable.ts';
import { baseOf } from '../feeds/registry.ts';
import { englishFor } from '../figures/english.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { clientById, type StoredClient, updateMetrics } from '../store/clients.ts';
import { createFeed, feedById, feedsOf, NEVER, type StoredFeed, updateFeed } from '../store/feeds.ts';
import { importById, importsOf, type StoredImport, updateImport } from '../store/imports.ts';
import { record } from '../store/ledger.ts';
import { memberById } from '../store/members.ts';
import { inTransaction } from '../store/store.ts';
import { theClient, theFeed } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { dropHash } from './uploads.ts';

const PREVIEW_ROWS = 8;
const PREVIEW_FAULTS = 6;

interface ShownRow {
  row: number;
  cells: (string | number)[] | null;
  problem: string | null;
}

export async function describeImport(api: Api, i: StoredImport, undoable: string | null): Promise<ImportRow> {
  return {
    id: i.id,
    feed: i.feedId,
    fileName: i.fileName,
    bytes: i.bytes,
    state: i.state,
    problem: i.problem,
    source: i.source,
    progress: i.progress / 1000,
    good: i.good,
    bad: i.bad,
    range: i.range,
    hasRejects: i.rejects !== null,
    unknown: i.unknown,
    canUndo: i.id === undoable,
    madeBy: i.madeBy ? ((await memberById(api.store, i.madeBy))?.name ?? null) : null,
    at: i.at,
  };
}

/** A mapping in which no column is read as what another feed brings: such a one is a figure of its own. */
function freed(mapping: FileMapping, taken: ReadonlyMap<string, StoredFeed>): FileMapping {
  const used = new Set(Object.values(mapping.columns).flatMap((u) => ('key' in u ? [u.key] : [])));
  const columns = Object.entries(mapping.columns).map(([name, use]) => {
    if (use.as !== 'measure' || !taken.has(use.key)) return [name, use] as const;
    const base = keyOfName(name);
    let key = base;
    for (let n = 2; taken.has(key) || used.has(key); n++) key = `${base}${n}`;
    used.add(key);
    return [name, { ...use, key }] as const;
  });
  return { ...mapping, columns: Object.fromEntries(columns) };
}

/** What a column can be read as, by the client's own names. */
function knownTo(
  client: StoredClient,
  taken: ReadonlyMap<string, StoredFeed>,
  brought: ReadonlyMap<string, StoredFeed>,
): Omit<ImportDetail['known'], 'together'> {
  const { words } = englishFor(client);
  const book = metricBook(client.metrics);
  const added = book.metrics.flatMap(({ key, aggregation: a }) =>
    a.kind === 'sum' || (a.kind === 'level' && !a.net)
      ? [{ key: a.measure, label: book.labelOf(key, words.metrics) }]
      : [],
  );
  return {
    dimensions: DIMENSION_KEYS.filter((key) => key !== 'feed').map((key) => ({
      key,
      label: words.dimensions[key] ?? key,
    })),
    measures: added.filter(({ key }) => !taken.has(key)),
    brought: added.flatMap(({ key, label }) => {
      const feed = brought.get(key);
      return feed ? [{ key, label, feed: feed.name, by: feed.id }] : [];
    }),
  };
}

async function detailOf(api: Api, i: StoredImport): Promise<ImportDetail> {
  const undoable = i.feedId ? undoableOf(await importsOf(api.store, i.clientId), i.feedId) : null;
  const { inspection } = i.looked ?? {};
  const client = (await clientById(api.store, i.clientId))!;
  const taken = await takenMeasures(api, client.id, i.feedId);
  const feed = i.feedId === null ? null : await feedById(api.store, i.feedId);
  const isTogether = feed !== null && fileSetupOf(feed)?.family !== undefined;
  return {
    ...(await describeImport(api, i, undoable)),
    reading: i.reading ?? { format: 'text', encoding: 'utf-8', separator: ',', sheet: null, sheets: [] },
    inspection: inspection
      ? {
          columns: inspection.columns,
          mapping: isTogether ? (i.mapping ?? inspection.mapping) : freed(i.mapping ?? inspection.mapping, taken),
          doubts: inspection.doubts,
          dateStyles: inspection.dateStyles,
          // A file that was looked at by a version of before was not asked.
          hasTotals: (inspection.totals ?? []).length > 0,
          notices: inspection.notices,
          days: inspection.days ?? null,
          ownSigns: signsFor(client.currency),
        }
      : null,
    known: { ...knownTo(client, taken, await takenMeasures(api, client.id, null)), together: isTogether },
  };
}

/** A file of a client that may be seen. */
async function theImport(api: Api, clientId: string, id: string): Promise<StoredImport> {
  const found = await importById(api.store, id);
  if (!found || found.clientId !== clientId) throw notFound('file');
  return found;
}

/** Refusals of reading a file, where the person is. */
async function inWords<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof FileError) throw new Refusal(422, error.message);
    throw error;
  }
}

/** Measures that another feed of the client brings: one figure out of two places is counted together, or is two. */
async function takenMeasures(api: Api, clientId: string, own: string | null): Promise<Map<string, StoredFeed>> {
  const taken = new Map<string, StoredFeed>();
  for (const feed of await feedsOf(api.store, clientId)) {
    if (feed.id === own) continue;
    for (const shape of await storedShapes(api.facts, feed.id)) {
      for (const measure of shape.measures) taken.set(measure, feed);
    }
  }
  return taken;
}

/** Files that are counted together with other files, and with no service. */
const FILES = 'files';

/** A dataset of a feed of files among those of a kind of service; its name is its own. */
const familyOf = (kind: string, feedId: string): string => `${kind}.${feedId}`;

/**
 * The feeds that bring what a file brings too: the kind of service that they are of, and which of them are of files. Null where
 * the file has its figures alone.
 * @throws Refusal at the column where nobody said that both count, or where they cannot be counted together
 */
function besideOf(
  mapping: FileMapping,
  taken: ReadonlyMap<string, StoredFeed>,
  together: boolean,
): { kind: string; files: StoredFeed[] } | null {
  const others = Object.entries(mapping.columns).flatMap(([column, use]) => {
    const feed = use.as === 'measure' ? taken.get(use.key) : undefined;
    return feed ? [{ column, feed }] : [];
  });
  const [first] = others;
  if (!first) return null;
  const at = (message: string) => atField(`columns.${first.column}`, `${first.feed.name} already has this. ${message}`);
  if (!together) throw at('Choose to add both together, or import it as a new metric.');
  if (grainOfDates(mapping.dates) !== 'day') throw at('Weekly or monthly data can’t be combined with daily data.');
  if (others.some(({ feed }) => feed.kind === 'typed')) throw at('It is entered manually, by week or month.');
  const kinds = new Set(others.flatMap(({ feed }) => (feed.kind === 'file' ? [] : [baseOf(feed.kind)])));
  if (kinds.size > 1)
    throw at('Another of its metrics comes from a different kind of service: import one of them as a new metric.');
  const files = others.flatMap(({ feed }) => (feed.kind === 'file' ? [feed] : []));
  const before = files.flatMap((f) => fileSetupOf(f)?.family?.split('.')[0] ?? []);
  return { kind: [...kinds][0] ?? before[0] ?? FILES, files };
}

/** Lets a feed of files be counted together with others that bring the same. */
async function countTogether(api: Api, feed: StoredFeed): Promise<void> {
  const setup = fileSetupOf((await feedById(api.store, feed.id))!)!;
  if (setup.family) return;
  const family = familyOf(FILES, feed.id);
  await updateFeed(api.store, feed.id, { setup: JSON.stringify({ ...setup, family }) });
  await setFamily(api.facts, feed.id, family);
}

const GRAINS = { day: 'single days', week: 'whole weeks', month: 'whole months' } as const;

/** A feed is of days, of weeks or of months. @throws Refusal at the feed */
async function checkGrain(api: Api, feed: string | null, { dates }: FileMapping): Promise<void> {
  const grain = grainOfDates(dates);
  const other = feed === null ? undefined : (await storedShapes(api.facts, feed)).find((s) => s.grain !== grain);
  if (!other) return;
  throw atField(
    'feed',
    `The feed has data by ${GRAINS[other.grain]}, this file by ${GRAINS[grain]}. Choose a new feed.`,
  );
}

function checkMetrics(client: StoredClient, mapping: FileMapping, given: readonly NewMetric[]): OwnMetric[] {
  const book = metricBook(client.metrics);
  const read = new Set(
    book.metrics.flatMap(({ aggregation: a }) =>
      a.kind === 'ratio'
        ? [a.num, a.den]
        : a.kind === 'weighted'
          ? [a.measure, a.weight]
          : 'measure' in a
            ? [a.measure]
            : [],
    ),
  );
  const wanted = shapeOf(mapping).measures.filter((m) => !read.has(m));
  return wanted.map((key) => {
    const metric = given.find((m) => m.key === key);
    if (!metric) throw atField(`metrics.${key}`, 'Enter a name and unit for this metric.');
    if (book.has(key)) throw atField(`metrics.${key}`, 'A metric with this key already exists. Choose another.');
    const { label, unit, polarity } = metric;
    const measure = measureOf(metric, mapping);
    return { key, label, unit, polarity, formula: '', definition: '', measure };
  });
}

/** @throws Refusal at the metric for rates without a column that weighs them */
function measureOf({ key, kind, weight }: NewMetric, mapping: FileMapping): OwnMeasure {
  if (kind !== 'weighted') return { key, kind };
  if (weight === undefined || weight === key || !shapeOf(mapping).measures.includes(weight)) {
    throw atField(`metrics.${key}`, 'Choose the weight column.');
  }
  return { key, kind, weight };
}

/**
 * Rates and averages are never added up (SEMANTICS §4): they come with their weight, as a level where the date is all
 * that they are known by, or not at all.
 * @throws Refusal at the column
 */
function checkRates(client: StoredClient, i: StoredImport, mapping: FileMapping, given: readonly NewMetric[]): void {
  const { dimensions } = shapeOf(mapping);
  for (const { name, rates } of i.looked!.inspection.columns) {
    const use = mapping.columns[name];
    if (!rates || use?.as !== 'measure') continue;
    const own = given.find((m) => m.key === use.key);
    const known = metricBook(client.metrics).metrics.map((m) => m.aggregation);
    const kind = own?.kind ?? known.find((a) => 'measure' in a && a.measure === use.key)?.kind ?? 'weighted';
    if (kind === 'sum' && !own?.noRates) {
      throw atField(
        `columns.${name}`,
        'Looks like rates or averages, which can’t be summed. Choose a weight column, exclude it, or confirm it’s a sum.',
      );
    }
    if (kind === 'level' && dimensions.length > 0) {
      throw atField(`columns.${name}`, '“Latest value” needs one row per date.');
    }
  }
}

const folderOf = (client: StoredClient, name: string, id: string): string =>
  `${client.name} ${name}`
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 60)
    .concat(`-${id.slice(-4)}`);

/** The feed that a file goes into; a new one when none was chosen. */
async function feedFor(api: Api, client: StoredClient, chosen: string | null, name: string): Promise<StoredFeed> {
  if (chosen !== null) {
    const feed = await feedById(api.store, chosen);
    if (feed?.client_id !== client.id || feed.kind !== 'file') throw atField('feed', 'Choose a file feed.');
    return feed;
  }
  if (name === '') throw atField('name', 'Enter a feed name.');
  const same = (await feedsOf(api.store, client.id)).some((f) => f.name === name);
  if (same) throw atField('name', 'A feed with this name already exists.');
  const at = api.clock.now();
  const row = { state: 'fresh', next_sync: NEVER } as const;
  return createFeed(api.store, { clientId: client.id, kind: 'file', name, at, row });
}

/** A mapping that says which currencies have feeds of their own: all that the file was seen to name. */
function withSplits(mapping: FileMapping, i: StoredImport, currency: string): FileMapping {
  const { splitInto: before = [], ...rest } = mapping;
  if (mapping.otherCurrency !== 'split') return rest;
  const named = (i.looked?.inspection.columns ?? []).flatMap((c) =>
    mapping.columns[c.name]?.as === 'currency' ? (c.currencies ?? []) : [],
  );
  return { ...rest, splitInto: [...new Set([...before, ...named.filter((c) => !isCurrency(c, currency))])] };
}

/** What a figure of the file is called in a feed of another currency: money of it is no money of the client's. */
function metricIn(
  key: string,
  was: string,
  currency: string,
  own: OwnMetric | undefined,
  client: StoredClient,
  keys: ReadonlyMap<string, string>,
): OwnMetric {
  const book = metricBook(client.metrics);
  const standard = book.metrics.find(({ aggregation: a }) => 'measure' in a && a.measure === was);
  const { words } = englishFor(client);
  const label = own?.label ?? (standard ? book.labelOf(standard.key, words.metrics) : was);
  const unit = own?.unit ?? standard?.unit ?? 'count';
  const ownKey = (measure: string) => [...keys].find(([, before]) => before === measure)?.[0] ?? measure;
  const reads = own?.measure;
  const isLevel = standard?.aggregation.kind === 'level';
  return {
    key,
    label: inCurrency(label.slice(0, 50), currency),
    unit: unit === 'money' ? 'decimal' : unit,
    polarity: own?.polarity ?? standard?.polarity ?? 'neutral',
    formula: '',
    definition: '',
    measure:
      reads?.kind === 'weighted'
        ? { key, kind: 'weighted', weight: ownKey(reads.weight) }
        : { key, kind: reads?.kind ?? (isLevel ? 'level' : 'sum') },
  };
}

/** The feeds of a file's rows in other currencies, those of before and new ones, with the metrics that they bring; null for none. */
async function splitFeeds(
  api: Api,
  client: StoredClient,
  feed: StoredFeed,
  mapping: FileMapping,
  added: readonly OwnMetric[],
): Promise<{ feeds: Record<string, string>; metrics: OwnMetric[] } | null> {
  if (!mapping.splitInto?.length) return null;
  const feeds: Record<string, string> = { ...fileSetupOf(feed)?.splits };
  const metrics: OwnMetric[] = [];
  for (const currency of mapping.splitInto) {
    const { mapping: own, was } = splitMapping(mapping, currency);
    const known = Object.hasOwn(feeds, currency) ? await feedById(api.store, feeds[currency]!) : null;
    const found = known ?? (await feedFor(api, client, null, inCurrency(feed.name.slice(0, 50), currency)));
    const folder = fileSetupOf(found)?.folder ?? folderOf(client, found.name, found.id);
    await updateFeed(api.store, found.id, { setup: JSON.stringify({ mapping: own, folder } satisfies FileSetup) });
    feeds[currency] = found.id;
    for (const [key, before] of was) {
      if (client.metrics.own.some((m) => m.key === key)) continue;
      const like = [...added, ...client.metrics.own].find((m) => m.key === before);
      metrics.push(metricIn(key, before, currency, like, client, was));
    }
  }
  return { feeds, metrics };
}

export const importHandlers: Handlers<Extract<RouteName, `${string}/imports${string}` | `${string}/drop-key`>> = {
  'GET /api/clients/:client/imports': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    const all = await importsOf(api.store, params.client);
    return Promise.all(all.map((i) => describeImport(api, i, i.feedId ? undoableOf(all, i.feedId) : null)));
  },

  'GET /api/clients/:client/imports/:import': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return detailOf(api, await theImport(api, params.client, params.import));
  },

  'PUT /api/clients/:client/imports/:import/description': async ({ api, session, params, body }) => {
    await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    const hints = readDescription(body);
    if (!hints) throw new Refusal(422, 'Not a schema file: use CSV on the Web or Table Schema.');
    await updateImport(api.store, i.id, { hints });
    return detailOf(api, await inWords(api.imports.look(i.id, null)));
  },

  'POST /api/clients/:client/imports/:import/look': async ({ api, session, params, body }) => {
    await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    return detailOf(api, await inWords(api.imports.look(i.id, body)));
  },

  'POST /api/clients/:client/imports/:import/preview': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    const fault = mappingFault(body.mapping);
    if (fault || !i.looked) return { fault, columns: [], rows: [] };
    const { inspection, head } = i.looked;
    const names = inspection.columns.map((c) => c.name);
    const money = moneyMeasures(client.metrics);
    for (const m of body.money ?? []) money.add(m);
    const today = civilDateAt(api.clock.now(), client.zone);
    const reader = rowReader(names, body.mapping, {
      today,
      zone: client.zone,
      counts: () => false,
      currency: client.currency,
      isMoney: (m) => money.has(m),
    });
    const shown: ShownRow[] = head.slice(inspection.headerAt >= 0 ? 1 : 0).map((r) => {
      const problem = r.fault ?? reader.read(r.cells, r.currencies);
      if (problem !== null) return { row: r.number, cells: null, problem };
      return { row: r.number, cells: [fromDayNumber(reader.day), ...reader.labels, ...reader.values], problem: null };
    });
    // After the first rows, those that will be set aside tell more than more of the same.
    const rows = [
      ...shown.slice(0, PREVIEW_ROWS),
      ...shown
        .slice(PREVIEW_ROWS)
        .filter((r) => r.problem !== null)
        .slice(0, PREVIEW_FAULTS),
    ];
    return {
      fault: null,
      columns: ['day', ...reader.dimensions, ...reader.measures],
      rows,
    };
  },

  'POST /api/clients/:client/imports/:import/begin': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    if (i.state !== 'asking' || !i.looked)
      throw new Refusal(422, 'This file is being imported or was already imported.');
    const mapping = withSplits(body.mapping, i, client.currency);
    const fault = mappingFault(mapping);
    if (fault) throw atField(fault.column === '' ? 'mapping' : `columns.${fault.column}`, fault.message);
    const names = i.looked.inspection.columns.map((c) => c.name);
    const unknown = Object.keys(mapping.columns).find((c) => !names.includes(c));
    if (unknown !== undefined) throw atField('mapping', `The file has no column “${unknown}”.`);
    const taken = await takenMeasures(api, client.id, body.feed);
    const beside = besideOf(mapping, taken, body.together);
    await checkGrain(api, body.feed, mapping);
    checkRates(client, i, mapping, body.metrics);
    const money = moneyMeasures(client.metrics);
    for (const m of body.metrics) if (m.unit === 'money') money.add(m.key);
    const mixed = currencyFault(i.looked.inspection.columns, mapping, client.currency, (key) => money.has(key));
    if (mixed) throw atField(`columns.${mixed.column}`, mixed.message);
    const added = checkMetrics(client, mapping, body.metrics);
    const feed = await inTransaction(api.store, async (tx) => {
      const found = await feedFor({ ...api, store: tx }, client, body.feed, body.name);
      const folder = fileSetupOf(found)?.folder ?? folderOf(client, found.name, found.id);
      const split = await splitFeeds({ ...api, store: tx }, client, found, mapping, added);
      const family = beside ? familyOf(beside.kind, found.id) : fileSetupOf(found)?.family;
      const setup: FileSetup = { mapping, folder, ...(split && { splits: split.feeds }), ...(family && { family }) };
      await updateFeed(tx, found.id, { setup: JSON.stringify(setup) });
      const metrics = [...added, ...(split?.metrics ?? [])];
      if (metrics.length > 0) {
        const own = [...client.metrics.own, ...metrics];
        await updateMetrics(tx, client.id, { ...client.metrics, own }, api.clock.now());
      }
      await updateImport(tx, i.id, { mapping, feedId: found.id });
      return found;
    });
    for (const other of beside?.files ?? []) await countTogether(api, other);
    await api.imports.begin(i.id);
    await record(api.store, {
      at: api.clock.now(),
      actor: session.member.id,
      action: 'import.begun',
      subject: feed.id,
      detail: { file: i.fileName },
    });
    return describeImport(api, (await importById(api.store, i.id))!, null);
  },

  'POST /api/clients/:client/imports/:import/aside': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    if (!(await api.imports.countAside(i.id, session.member.id))) {
      throw new Refusal(422, 'Nothing to resolve: a later file was imported or no rows were skipped.');
    }
    return { done: true };
  },

  'POST /api/clients/:client/imports/:import/cancel': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    if (!(await api.imports.cancel(i.id))) throw new Refusal(422, 'Already finished.');
    return { done: true };
  },

  'POST /api/clients/:client/imports/:import/undo': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    if (!(await api.imports.undo(i.id, session.member.id))) {
      throw new Refusal(422, 'Only a feed’s latest import can be undone.');
    }
    return { done: true };
  },

  'DELETE /api/clients/:client/imports/:import': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    const i = await theImport(api, params.client, params.import);
    await api.imports.discard(i.id);
    return { done: true };
  },

  'POST /api/clients/:client/feeds/:feed/drop-key': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    const setup = fileSetupOf(feed);
    if (!setup) throw new Refusal(422, 'Only file feeds have an upload URL.');
    const key = randomBytes(24).toString('base64url');
    await updateFeed(api.store, feed.id, { drop_key: dropHash(key) });
    await record(api.store, {
      at: api.clock.now(),
      actor: session.member.id,
      action: 'feed.drop-key',
      subject: feed.id,
    });
    return { path: `/api/drop/${key}`, folder: setup.folder };
  },
};
