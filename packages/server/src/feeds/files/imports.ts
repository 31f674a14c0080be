import { existsSync, rmSync } from 'node:fs';
import { copyFile, mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { civilDateAt } from '@chronicon/core/calendar';
import type { Reading } from '@chronicon/core/contract';
import {
  currencyFault,
  type FileHints,
  type FileMapping,
  type Inspection,
  inCurrency,
  mappingFault,
  splitMapping,
} from '@chronicon/core/feeds';
import { metricBook, moneyMeasures } from '@chronicon/core/figures';
import pLimit from 'p-limit';
import type { Logger } from 'pino';
import { forgetUndo, markKnown, undoBulk, wasWritten } from '../../facts/bulk.ts';
import type { FactDb } from '../../facts/factStore.ts';
import type { Clock } from '../../platform/clock.ts';
import type { Config } from '../../platform/config.ts';
import { clientById } from '../../store/clients.ts';
import { feedById, feedsOf, type StoredFeed, updateFeed } from '../../store/feeds.ts';
import {
  createImport,
  importById,
  importsIn,
  importsOf,
  moveImport,
  newImportId,
  removeImport,
  type StoredImport,
  updateImport,
} from '../../store/imports.ts';
import { record } from '../../store/ledger.ts';
import { inTransaction, type Store } from '../../store/store.ts';
import { tellOfFacts } from '../factsTold.ts';
import type { ImportJob, ImportNews, ImportThreads } from './importJob.ts';
import type { Loaded } from './load.ts';
import type { FileLook } from './look.ts';
import { FileError } from './rows.ts';

export interface ImportTools {
  store: Store;
  facts: FactDb;
  clock: Clock;
  config: Config;
  log: Logger;
}

/** How a feed of files is kept: how its files are read, and the folder in which they are looked for. */
export interface FileSetup {
  mapping: FileMapping;
  folder: string;
  /** The feeds of its rows in other currencies, by the currency as the file names it. */
  splits?: Record<string, string>;
  /** With which feeds it is counted together; left out for one that stands alone. */
  family?: string;
}

export const fileSetupOf = (feed: StoredFeed): FileSetup | null =>
  feed.kind === 'file' && feed.setup !== null ? (JSON.parse(feed.setup) as FileSetup) : null;

/** Files read at a time. */
const AT_ONCE = 1;
/** Imports of a feed that can be taken back. */
const UNDOABLE = 10;

const BROKEN = 'Something went wrong on our side; see the server’s log. Nothing was imported.';

const hasColumns = ({ columns }: FileMapping, found: Inspection['columns']): boolean =>
  found.length === Object.keys(columns).length && found.every((c) => Object.hasOwn(columns, c.name));

/** What was found out of a file, read as the files before it. */
const asBefore = (found: Inspection, mapping: FileMapping): Inspection => ({
  ...found,
  columns: found.columns.map((c) => ({ ...c, use: mapping.columns[c.name]! })),
  mapping,
  doubts: [],
});

/** `now`, or just after the last import of a feed that was done: their order outlives a clock that was put back. */
function after(imports: readonly StoredImport[], feedId: string, now: string): string {
  const done = imports
    .filter((i) => i.feedId === feedId && i.state === 'done')
    .map((i) => Date.parse(i.doneAt ?? i.at));
  return new Date(Math.max(Date.parse(now), ...done.map((t) => t + 1))).toISOString();
}

/**
 * Which import of a feed can be taken back: the one that was done last, whenever its file was brought. None while
 * another is under way, which builds on it.
 */
export function undoableOf(imports: readonly StoredImport[], feedId: string): string | null {
  const own = imports.filter((i) => i.feedId === feedId);
  if (own.some((i) => i.state === 'importing')) return null;
  const counted = (i: StoredImport) => i.doneAt ?? i.at;
  const done = own.filter((i) => i.state === 'done');
  return done.reduce<StoredImport | null>((a, b) => (a && counted(a) >= counted(b) ? a : b), null)?.id ?? null;
}

export interface NewFile {
  id: string;
  clientId: string;
  feedId: string | null;
  fileName: string;
  /** Below the data folder; written and closed. */
  path: string;
  bytes: number;
  hints: FileHints | null;
  source: StoredImport['source'];
  madeBy: string | null;
}

/** Looks at files, imports them, takes imports back. Each file is read in a thread of its own. */
export interface Imports {
  /** Takes a file in; resolves when it was looked at. With a feed that knows its kind, it is imported, too. */
  take(file: NewFile): Promise<StoredImport>;
  /** Looks again. @throws FileError when it is past that */
  look(id: string, chosen: Pick<Reading, 'encoding' | 'separator' | 'sheet'> | null): Promise<StoredImport>;
  /** Begins to import what is asking; its row tells how it goes. */
  begin(id: string): Promise<void>;
  cancel(id: string): Promise<boolean>;
  undo(id: string, actor: string): Promise<boolean>;
  /** Takes the days of rows that were set aside for known. False when there are none. */
  countAside(id: string, actor: string): Promise<boolean>;
  discard(id: string): Promise<void>;
  /** Takes up what a crash interrupted. */
  resume(): Promise<void>;
  idle(): Promise<void>;
  close(): Promise<void>;
}

export function createImports(tools: ImportTools, threads: ImportThreads): Imports {
  const { store, facts, clock, config, log } = tools;
  const everybody = pLimit(AT_ONCE);
  const ofClient = new Map<string, ReturnType<typeof pLimit>>();
  /** Clients take turns: one with a hundred files holds up its own, and nobody else's. */
  const inTurn = <T>(clientId: string, work: () => Promise<T>): Promise<T> => {
    const own = ofClient.get(clientId) ?? pLimit(1);
    ofClient.set(clientId, own);
    return own(() => everybody(work)).finally(() => {
      if (own.activeCount + own.pendingCount === 0) ofClient.delete(clientId);
    });
  };
  const running = new Set<Promise<unknown>>();
  let closed = false;

  const track = <T>(work: Promise<T>): Promise<T> => {
    running.add(work);
    work.finally(() => running.delete(work)).catch(() => undefined);
    return work;
  };

  const pathOf = (i: Pick<StoredImport, 'path'>) => join(config.data, i.path);

  const words = (error: unknown, id: string): string => {
    if (error instanceof FileError) return error.message;
    log.error({ err: error, import: id }, 'import failed');
    return BROKEN;
  };

  /** The feed of files of a client whose files have the very same columns. */
  async function feedLike(clientId: string, { columns }: Inspection) {
    for (const feed of await feedsOf(store, clientId)) {
      const setup = fileSetupOf(feed);
      // The rows of another currency come with those of the client's own.
      if (setup && !setup.mapping.onlyCurrency && hasColumns(setup.mapping, columns)) return { id: feed.id, setup };
    }
    return null;
  }

  async function lookAt(id: string, chosen: Parameters<Imports['look']>[1]): Promise<StoredImport> {
    const i = (await importById(store, id))!;
    const client = (await clientById(store, i.clientId))!;
    const feed = i.feedId ? await feedById(store, i.feedId) : null;
    const before = i.mapping ?? (feed ? (fileSetupOf(feed)?.mapping ?? null) : null);
    try {
      const ask = { chosen, hints: i.hints, before, zone: client.zone, currency: client.currency };
      const { reading, inspection, head } = await inTurn(i.clientId, () =>
        threads.run<FileLook>(id, { kind: 'look', path: pathOf(i), ask }),
      );
      const like = feed ? null : await feedLike(i.clientId, inspection);
      const known = like ? asBefore(inspection, like.setup.mapping) : inspection;
      await moveImport(store, id, 'looking', {
        state: 'asking',
        reading,
        looked: { inspection: known, head },
        mapping: known.mapping,
        problem: null,
        ...(like && { feedId: like.id }),
      });
    } catch (error) {
      if (!closed) await moveImport(store, id, 'looking', { state: 'refused', problem: words(error, id) });
    }
    return (await importById(store, id))!;
  }

  async function load(i: StoredImport): Promise<void> {
    const feed = (await feedById(store, i.feedId!))!;
    const client = (await clientById(store, i.clientId))!;
    const { metrics } = metricBook(client.metrics);
    const counts = metrics.flatMap(({ aggregation: a, unit }) =>
      unit === 'count' && (a.kind === 'sum' || a.kind === 'level') ? [a.measure] : [],
    );
    const rejects = join('imports', `${i.id}.rejects.csv`);
    const job: ImportJob = {
      kind: 'load',
      data: config.data,
      order: {
        importId: i.id,
        path: pathOf(i),
        rejects: join(config.data, rejects),
        reading: i.reading!,
        headerAt: i.looked!.inspection.headerAt,
        names: i.looked!.inspection.columns.map((c) => c.name),
        wide: i.looked!.inspection.wide ?? null,
        mapping: i.mapping!,
        counts,
        currency: client.currency,
        money: [...moneyMeasures(client.metrics)],
        weights: Object.fromEntries(
          metrics.flatMap(({ aggregation: a }) => (a.kind === 'weighted' ? [[a.measure, a.weight]] : [])),
        ),
        today: civilDateAt(clock.now(), client.zone),
        zone: client.zone,
        feed: { id: feed.id, clientId: client.id, name: feed.name, family: fileSetupOf(feed)?.family ?? '' },
        at: clock.now(),
      },
    };
    const tell = (news: ImportNews) => {
      if (news.kind !== 'progress') return;
      const { thousandths: progress, good, bad } = news.progress;
      moveImport(store, i.id, 'importing', { progress, good, bad }).catch((err) => log.error({ err }, 'no progress'));
    };
    try {
      const loaded = await inTurn(i.clientId, () => threads.run<Loaded>(i.id, job, tell));
      const { range, good, bad } = loaded;
      const kept = {
        range,
        good,
        bad,
        progress: 1000,
        rejects: loaded.hasRejects ? rejects : null,
        problem: null,
        unknown: loaded.unknown,
      };
      const at = clock.now();
      const doneAt = after(await importsOf(store, i.clientId), feed.id, at);
      const isDone = await inTransaction(store, async (tx) => {
        if (!(await moveImport(tx, i.id, 'importing', { ...kept, state: 'done', doneAt }))) return false;
        await updateFeed(tx, feed.id, { state: 'fresh', trouble: null, last_success: at });
        await tellOfFacts(tx, facts, i.clientId, at);
        await record(tx, {
          at,
          actor: i.madeBy ?? 'scheduler',
          action: 'import.done',
          subject: feed.id,
          detail: { file: i.fileName, good, bad, ...range },
        });
        return true;
      });
      if (!isDone) return;
      const old = (await importsOf(store, i.clientId)).filter((x) => x.feedId === feed.id && x.state === 'done');
      await forgetUndo(
        facts,
        old.slice(UNDOABLE).map((x) => x.id),
      );
    } catch (error) {
      if (closed) return;
      const problem = words(error, i.id);
      const kept = existsSync(join(config.data, rejects)) ? rejects : null;
      const moved = await moveImport(store, i.id, 'importing', { state: 'refused', problem, rejects: kept });
      if (!moved || i.source === 'dropped') return;
      const trouble = `${i.fileName}: ${problem} What was imported before is kept.`;
      await updateFeed(store, feed.id, { state: 'troubled', trouble });
    }
  }

  /** Whether a file can be imported with nobody looking: its feed knows every column, and nothing is in doubt. */
  async function knowsAll(i: StoredImport): Promise<boolean> {
    const feed = i.feedId ? await feedById(store, i.feedId) : null;
    const setup = feed && fileSetupOf(feed);
    if (!setup || !i.looked || i.state !== 'asking') return false;
    const { columns, doubts } = i.looked.inspection;
    if (!hasColumns(setup.mapping, columns) || doubts.length > 0 || mappingFault(i.mapping!) !== null) return false;
    const client = (await clientById(store, i.clientId))!;
    const money = moneyMeasures(client.metrics);
    return currencyFault(columns, i.mapping!, client.currency, (key) => money.has(key)) === null;
  }

  /** Reads a file once more for each feed of its rows in another currency. */
  async function beginSplits(i: StoredImport): Promise<void> {
    const feed = i.feedId === null ? null : await feedById(store, i.feedId);
    const setup = feed && fileSetupOf(feed);
    if (i.mapping?.otherCurrency !== 'split' || !setup?.splits) return;
    for (const [currency, feedId] of Object.entries(setup.splits)) {
      if (!i.mapping.splitInto?.includes(currency)) continue;
      const id = newImportId();
      const path = join('imports', id);
      const { clientId, bytes, hints, source, madeBy, reading, looked } = i;
      await copyFile(pathOf(i), pathOf({ path }));
      await createImport(store, {
        ...{ id, clientId, feedId, path, bytes, hints, source, madeBy },
        fileName: inCurrency(i.fileName, currency),
        at: clock.now(),
      });
      const { mapping } = splitMapping(i.mapping, currency);
      await updateImport(store, id, { state: 'asking', reading, looked, mapping });
      await imports.begin(id);
    }
  }

  async function takeUp(i: StoredImport): Promise<StoredImport> {
    if (i.source === 'dropped') return i;
    const feed = i.feedId ? await feedById(store, i.feedId) : null;
    if (await knowsAll(i)) {
      await imports.begin(i.id);
    } else if (feed) {
      const why = i.problem ?? 'its columns are not those of the files before, or something in it has to be asked.';
      await updateFeed(store, feed.id, { state: 'troubled', trouble: `${i.fileName} waits: ${why} Look at it.` });
    }
    return (await importById(store, i.id))!;
  }

  const imports: Imports = {
    async take(file) {
      await createImport(store, { ...file, at: clock.now() });
      return track(lookAt(file.id, null).then(takeUp));
    },
    async look(id, chosen) {
      const i = await importById(store, id);
      if (!i || !['asking', 'refused', 'cancelled'].includes(i.state)) {
        throw new FileError('This file is being read, or was imported already.');
      }
      await updateImport(store, id, { state: 'looking', problem: null, mapping: null });
      return track(lookAt(id, chosen));
    },
    async begin(id) {
      const patch = { state: 'importing', progress: 0, good: 0, bad: 0, problem: null } as const;
      if (!(await moveImport(store, id, 'asking', patch))) return;
      const i = (await importById(store, id))!;
      track(load(i)).catch((err) => log.error({ err, import: id }, 'import failed'));
      await beginSplits(i);
    },
    async cancel(id) {
      const patch = { state: 'cancelled', problem: 'It was stopped. Nothing of it was imported.' } as const;
      if (!(await moveImport(store, id, 'importing', patch))) return false;
      await threads.stop(id);
      // It may have been written in the very moment.
      if (await wasWritten(facts, id)) await undoBulk(facts, id);
      return true;
    },
    async countAside(id, actor) {
      const asked = await importById(store, id);
      if (!asked) return false;
      // Looked at in its turn: somebody else may have pressed a moment before.
      return inTurn(asked.clientId, async () => {
        const i = await importById(store, id);
        if (i?.state !== 'done' || i.feedId === null || i.unknown.length === 0) return false;
        const { clientId, feedId, fileName, unknown } = i;
        // Of days that a later file has brought, this one says nothing any more.
        if (undoableOf(await importsOf(store, clientId), feedId) !== id) return false;
        if (!(await markKnown(facts, id, unknown, clock.now()))) return false;
        const at = clock.now();
        await inTransaction(store, async (tx) => {
          await updateImport(tx, id, { unknown: [] });
          await tellOfFacts(tx, facts, clientId, at);
          await record(tx, { at, actor, action: 'import.aside', subject: feedId, detail: { file: fileName } });
        });
        return true;
      });
    },
    async undo(id, actor) {
      const i = await importById(store, id);
      if (!i || i.feedId === null) return false;
      const { clientId, feedId, fileName } = i;
      // In turn with the client's other files: none is built upon it meanwhile.
      return inTurn(clientId, async () => {
        if (undoableOf(await importsOf(store, clientId), feedId) !== id) return false;
        // Where the server ended in between, nothing of it is left in the facts any more: the rest is done now.
        await undoBulk(facts, id);
        const at = clock.now();
        return inTransaction(store, async (tx) => {
          if (!(await moveImport(tx, id, 'done', { state: 'undone' }))) return false;
          await tellOfFacts(tx, facts, clientId, at);
          await record(tx, { at, actor, action: 'import.undone', subject: feedId, detail: { file: fileName } });
          return true;
        });
      });
    },
    async discard(id) {
      const i = await importById(store, id);
      if (!i || !['asking', 'refused', 'cancelled'].includes(i.state)) return;
      await removeImport(store, id);
      rmSync(pathOf(i), { force: true });
    },
    async resume() {
      await mkdir(join(config.data, 'imports'), { recursive: true });
      for (const i of await importsIn(store, ['looking', 'importing'])) {
        const work: Promise<unknown> = i.state === 'looking' ? lookAt(i.id, null).then(takeUp) : load(i);
        track(work).catch((err) => log.error({ err, import: i.id }, 'import failed'));
      }
    },
    async idle() {
      while (running.size > 0) await Promise.allSettled([...running]);
    },
    async close() {
      closed = true;
      await threads.close();
      await imports.idle();
    },
  };
  return imports;
}
