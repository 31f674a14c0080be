import type { Logger } from 'pino';
import { askFacts, type FactDb } from '../facts/factStore.ts';
import { type Fault, faultOf } from '../store/faults.ts';
import type { Files } from '../store/files.ts';
import type { Secrets } from '../store/secrets.ts';
import { deleteSetting } from '../store/settings.ts';
import type { Store } from '../store/store.ts';

/** What the server stands on, as it was last looked at: kept in memory, since what is wrong may be the disk. */
export interface Health {
  /** Writes a file, asks both databases and the key. */
  look(): Promise<void>;
  /** A fault that somebody met; it stands until a look finds all well. */
  met(fault: Fault): void;
  troubles(): readonly Fault[];
}

export function createHealth(tools: {
  store: Store;
  facts: FactDb;
  files: Files;
  secrets: Secrets;
  log: Logger;
}): Health {
  const { store, facts, files, secrets, log } = tools;
  let troubles: Fault[] = [];
  const found = async (work: () => unknown): Promise<Fault | null> => {
    try {
      await work();
      return null;
    } catch (error) {
      const fault = faultOf(error);
      if (!fault) log.error({ err: error }, 'a look at the server’s health failed');
      // Another server may hold a database for a moment: that is no trouble.
      return fault?.cause === 'busy' ? null : fault;
    }
  };
  return {
    async look() {
      const faults = [
        await found(() => files.probe()),
        // There is none of that name: what counts is that it may be written.
        await found(() => deleteSetting(store, 'health')),
        await found(() => askFacts(facts)),
        secrets.trouble(),
      ].flatMap((f) => f ?? []);
      const now = [...new Map(faults.map((f) => [f.cause, f])).values()];
      for (const f of now.filter((n) => !troubles.some((t) => t.cause === n.cause)))
        log.error({ cause: f.cause }, f.reason);
      for (const f of troubles.filter((t) => !now.some((n) => n.cause === t.cause)))
        log.info({ cause: f.cause }, 'mended');
      troubles = now;
    },
    met(fault) {
      if (!troubles.some((t) => t.cause === fault.cause)) troubles = [...troubles, fault];
    },
    troubles: () => troubles,
  };
}
