import { setImmediate } from 'node:timers/promises';
import type { Logger } from 'pino';
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
  throw new Refusal(409, 'Someone else is changing the same schedules. Review again, then retry.');
}

/** It stopped after some turns: what they came to stays. */
export class StoppedHalfway<T> extends Refusal {
  constructor(
    readonly done: readonly T[],
    of: number,
    override readonly cause: unknown,
  ) {
    const why = cause instanceof Refusal ? cause.message : 'Server error (see the log).';
    super(409, `Stopped after ${done.length} of ${of} steps; those are done. ${why}`);
  }
}

/**
 * Makes many changes, a few to a transaction, so that nobody waits for all of them. A transaction that fails ends it; what was
 * done before stays.
 *
 * @returns what each came to, in their order
 * @throws StoppedHalfway where some were done; what the first transaction throws where none was
 */
export async function inTurns<T>(
  { store, log }: { store: Store; log: Pick<Logger, 'error'> },
  turns: readonly Turn<T>[],
): Promise<T[]> {
  const done: T[] = [];
  for (let i = 0; i < turns.length; i += AT_ONCE) {
    try {
      done.push(...(await together(store, turns.slice(i, i + AT_ONCE))));
    } catch (err) {
      if (done.length === 0) throw err;
      log.error({ err, done: done.length, of: turns.length }, 'many changes stopped halfway');
      throw new StoppedHalfway(done, turns.length, err);
    }
    await setImmediate();
  }
  return done;
}

/** What turns came to that stopped halfway; none for any other error. */
export const doneBefore = <T>(error: unknown): readonly T[] =>
  error instanceof StoppedHalfway ? (error.done as readonly T[]) : [];
