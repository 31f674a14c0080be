import { factsRevision, factsRevisions } from '../facts/factReader.ts';
import type { FactDb } from '../facts/factStore.ts';
import { allClientIds } from '../store/clients.ts';
import { factsTold, factsToldOf, keepFactsTold } from '../store/factsTold.ts';
import { markStale } from '../store/following.ts';
import { inTransaction, type Store, type StoreTransaction } from '../store/store.ts';

/**
 * Facts and operations are two databases. Figures are written to the first; then the second marks the editions that use them. It keeps
 * the revision of the facts that it last marked them for, so that a server that crashed in between catches up when it starts again.
 */
interface Tools {
  store: Store;
  facts: FactDb;
}

/** Stands for clients of versions before, which kept no such mark. */
const BEFORE = 'before';

/** Whether a client's facts have changed since its editions were told of them. */
export const factsChanged = async ({ store, facts }: Tools, clientId: string): Promise<boolean> =>
  (await factsToldOf(store, clientId)) !== (await factsRevision(facts, clientId));

/** Has all that is made of a client's figures looked at again; in the transaction that says what has changed. */
export async function tellOfFacts(tx: StoreTransaction, facts: FactDb, clientId: string, at: string): Promise<void> {
  await keepFactsTold(tx, clientId, await factsRevision(facts, clientId));
  await markStale(tx, { clientId }, at);
}

/** Clients of one transaction: a folder whose facts were put back from a copy has all of them behind. */
const TOLD_AT_ONCE = 500;

/** Tells of what was written before the server ended, and nobody was told of. @returns the clients */
export async function tellOfWhatWasWritten({ store, facts }: Tools, at: string): Promise<string[]> {
  const known = await factsTold(store);
  const clients = await allClientIds(store);
  const now = await factsRevisions(facts);
  await inTransaction(store, async (tx) => {
    for (const [id, revision] of known) if (revision === BEFORE) await keepFactsTold(tx, id, now.get(id) ?? '');
  });
  const behind = clients.filter((id) => ![BEFORE, now.get(id) ?? ''].includes(known.get(id) ?? ''));
  for (let i = 0; i < behind.length; i += TOLD_AT_ONCE)
    await inTransaction(store, async (tx) => {
      for (const id of behind.slice(i, i + TOLD_AT_ONCE)) {
        await keepFactsTold(tx, id, now.get(id) ?? '');
        await markStale(tx, { clientId: id }, at);
      }
    });
  return behind;
}
