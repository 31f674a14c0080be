import type { Kysely, Transaction } from 'kysely';

/** How often a transaction is begun when others keep getting in its way. */
const TRIES = 5;

/**
 * What a database says when a transaction lost to another one and may be run again: what it read has changed (SQLite), or SQLSTATE 40001
 * and 40P01. A file that is merely locked is waited for where it is opened (sqlite.ts), and not five times as long.
 */
const LOST = /^(SQLITE_BUSY_SNAPSHOT|40001|40P01)$/;

const isLost = (error: unknown): boolean => LOST.test(String((error as { code?: unknown } | null)?.code ?? ''));

let isRehearsed = false;

/**
 * From now on each transaction of this process runs twice: once to be rolled back, once for good. What it changes outside of the database
 * comes twice then, and the test beside it fails. For tests alone.
 */
export function rehearseTransactions(): void {
  isRehearsed = true;
}

/** Ends a transaction that was only rehearsed. */
class Rehearsed extends Error {}

/**
 * All of `work` or nothing of it; within a transaction that there is already, as a part of it.
 *
 * `work` may run more than once: another writer can get in its way. So it reads and writes through `tx` alone, gives back what it found,
 * and changes nothing outside: no variable, no file, no mail, no request. `scripts/checkTransactions.mjs` holds the code to that.
 * @throws whatever `work` throws, once it was rolled back; and what the database says when it loses {@link TRIES} times
 */
export async function runTransaction<Tables, T>(
  db: Kysely<Tables>,
  work: (tx: Transaction<Tables>) => Promise<T>,
): Promise<T> {
  if (db.isTransaction) return work(db as Transaction<Tables>);
  for (let tries = 1; ; tries++) {
    try {
      if (isRehearsed && tries === 1) await rehearse(db, work);
      return await db.transaction().execute(work);
    } catch (error) {
      if (tries === TRIES || !isLost(error)) throw error;
    }
  }
}

async function rehearse<Tables, T>(db: Kysely<Tables>, work: (tx: Transaction<Tables>) => Promise<T>): Promise<void> {
  try {
    await db.transaction().execute(async (tx) => {
      await work(tx);
      throw new Rehearsed();
    });
  } catch (error) {
    if (!(error instanceof Rehearsed)) throw error;
  }
}
