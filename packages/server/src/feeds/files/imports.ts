import { rmSync } from 'node:fs';
import { copyFile, mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Reading } from '@chronicon/core/contract';
import { type FileHints, inCurrency, splitMapping } from '@chronicon/core/feeds';
import { markKnown, undoBulk, wasWritten } from '../../facts/bulk.ts';
import { feedById } from '../../store/feeds.ts';
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
import { inTransaction } from '../../store/store.ts';
import { tellOfFacts } from '../factsTold.ts';
import { fileSetupOf } from './fileSetup.ts';
import type { ImportThreads } from './importJob.ts';

import { type ImportRoom, type ImportTools, openImportRoom } from './importRoom.ts';
import { loadImport } from './loadImport.ts';
import { lookAtFile } from './lookAtFile.ts';
import { FileError } from './rows.ts';
import { takeUp } from './takeUp.ts';
import { undoableOf } from './undoable.ts';
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

/** Reads a file once more for each feed of its rows in another currency. */
async function beginSplits(
  { store, clock, pathOf }: ImportRoom,
  i: StoredImport,
  begin: (id: string) => Promise<void>,
): Promise<void> {
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
    await begin(id);
  }
}

export function createImports(tools: ImportTools, threads: ImportThreads): Imports {
  const room = openImportRoom(tools, threads);
  const { store, facts, clock, config, log, inTurn, pathOf } = room;
  const running = new Set<Promise<unknown>>();
  const track = <T>(work: Promise<T>): Promise<T> => {
    running.add(work);
    work.finally(() => running.delete(work)).catch(() => undefined);
    return work;
  };

  const imports: Imports = {
    async take(file) {
      await createImport(store, { ...file, at: clock.now() });
      return track(lookAtFile(room, file.id, null).then((i) => takeUp(room, i, imports.begin)));
    },
    async look(id, chosen) {
      const i = await importById(store, id);
      if (!i || !['asking', 'refused', 'cancelled'].includes(i.state)) {
        throw new FileError('This file is being imported or was already imported.');
      }
      await updateImport(store, id, { state: 'looking', problem: null, mapping: null });
      return track(lookAtFile(room, id, chosen));
    },
    async begin(id) {
      const patch = { state: 'importing', progress: 0, good: 0, bad: 0, problem: null } as const;
      if (!(await moveImport(store, id, 'asking', patch))) return;
      const i = (await importById(store, id))!;
      track(loadImport(room, i)).catch((err) => log.error({ err, import: id }, 'import failed'));
      await beginSplits(room, i, imports.begin);
    },
    async cancel(id) {
      const patch = { state: 'cancelled', problem: 'Stopped. Nothing was imported.' } as const;
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
        const work: Promise<unknown> =
          i.state === 'looking'
            ? lookAtFile(room, i.id, null).then((l) => takeUp(room, l, imports.begin))
            : loadImport(room, i);
        track(work).catch((err) => log.error({ err, import: i.id }, 'import failed'));
      }
    },
    async idle() {
      while (running.size > 0) await Promise.allSettled([...running]);
    },
    async close() {
      room.close();
      await threads.close();
      await imports.idle();
    },
  };
  return imports;
}
