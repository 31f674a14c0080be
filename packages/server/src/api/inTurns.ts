import { setImmediate } from 'node:timers/promises';
import { Refusal } from '../platform/refusal.ts';
import { ChangedMeanwhile } from '../scheduler/changedMeanwhile.ts';
import { inTransaction, type Store, type StoreTransaction } from '../store/store.ts';

/**
 * One change of many. What takes long is made ready before; the transaction compares it with what is there, throws
 * {@link ChangedMeanwhile} where it no longer fits, and writes.
 */
export interface Turn<T> {
  ready?(): Promise<void>;
  run(tx: StoreTransaction): Promise<T>;
}

/** Changes of one transaction: others read and write between two of them. */
const AT_ONCE = 4;
const MOST_GOES = 3;

async function together<T>(db: Store, turns: readonly Turn<T>[]): Promise<T[]> {
  for (let go = 0; go < MOST_GOES; go++) {
    for (const turn of turns) await turn.ready?.();
    try {
      return await inTransaction(db, async (tx) => {
        const done: T[] = [];
        for (const turn of turns) done.push(await turn.run(tx));
        return done;
      });
    } catch (error) {
      if (!(error instanceof ChangedMeanwhile)) throw error;
    }
  }
  throw new Refusal(409, 'Something kept changing meanwhile. What was done until then can be undone; look once more.');
}

/**
 * Makes many changes, a few to a transaction, so that nobody waits for all of them. A transaction that fails ends it; what was
 * done before stays.
 *
 * @returns what each came to, in their order
 */
export async function inTurns<T>(db: Store, turns: readonly Turn<T>[]): Promise<T[]> {
  const done: T[] = [];
  for (let i = 0; i < turns.length; i += AT_ONCE) {
    done.push(...(await together(db, turns.slice(i, i + AT_ONCE))));
    await setImmediate();
  }
  return done;
}
