import type { Session } from '../access/sessions.ts';
import { record } from '../store/ledger.ts';
import type { LedgerKind } from '../store/ledgerKinds.ts';
import { inTransaction, type Store } from '../store/store.ts';
import type { Api } from './context.ts';

/** Entries of the ledger about a client, or one of its contacts and lists. */
type ClientKind = Extract<
  LedgerKind,
  'brand.changed' | 'client.changed' | 'tags.changed' | `contact${string}` | `list.${string}`
>;

/** A change of a client with its entry in the ledger; editions follow at once. */
export async function changing<T>(
  api: Api,
  { member }: Session,
  action: ClientKind,
  clientId: string,
  change: (tx: Store, at: string) => Promise<T>,
): Promise<T> {
  const at = api.clock.now();
  const result = await inTransaction(api.store, async (tx) => {
    const done = await change(tx, at);
    const id = (done as { id?: string } | undefined)?.id;
    await record(tx, { at, actor: member.id, action, subject: clientId, ...(id && { detail: { contact: id } }) });
    return done;
  });
  api.scheduler.nudge();
  return result;
}
