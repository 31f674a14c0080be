import { join } from 'node:path';
import pLimit from 'p-limit';
import type { Logger } from 'pino';
import type { FactDb } from '../../facts/factStore.ts';
import type { Clock } from '../../platform/clock.ts';
import type { Config } from '../../platform/config.ts';
import type { StoredImport } from '../../store/imports.ts';
import type { Store } from '../../store/store.ts';
import type { ImportThreads } from './importJob.ts';
import { FileError } from './rows.ts';

/** Files read at a time. */
const AT_ONCE = 1;

const BROKEN = 'Import failed due to a server error (see the log). Nothing was imported.';

export interface ImportTools {
  store: Store;
  facts: FactDb;
  clock: Clock;
  config: Config;
  log: Logger;
}

/** What everything that is done with files has in common. */
export interface ImportRoom extends ImportTools {
  threads: ImportThreads;
  /** Clients take turns: one with a hundred files holds up its own, and nobody else's. */
  inTurn<T>(clientId: string, work: () => Promise<T>): Promise<T>;
  pathOf(i: Pick<StoredImport, 'path'>): string;
  /** What went wrong with an import, as a sentence for the person who brought the file. */
  words(error: unknown, id: string): string;
  /** Whether the server is ending: what is stopped by that has not failed. */
  isClosed(): boolean;
  close(): void;
}

export function openImportRoom(tools: ImportTools, threads: ImportThreads): ImportRoom {
  const everybody = pLimit(AT_ONCE);
  const ofClient = new Map<string, ReturnType<typeof pLimit>>();
  let closed = false;
  return {
    ...tools,
    threads,
    inTurn(clientId, work) {
      const own = ofClient.get(clientId) ?? pLimit(1);
      ofClient.set(clientId, own);
      return own(() => everybody(work)).finally(() => {
        if (own.activeCount + own.pendingCount === 0) ofClient.delete(clientId);
      });
    },
    pathOf: (i) => join(tools.config.data, i.path),
    words(error, id) {
      if (error instanceof FileError) return error.message;
      tools.log.error({ err: error, import: id }, 'import failed');
      return BROKEN;
    },
    isClosed: () => closed,
    close() {
      closed = true;
    },
  };
}
