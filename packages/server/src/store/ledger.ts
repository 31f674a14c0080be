import { newId } from './ids.ts';
import type { LedgerDetail, LedgerKind } from './ledgerKinds.ts';
import type { Store } from './store.ts';

/** Who did something: a member's id, or the server itself. */
export type Actor = string | 'scheduler';

/** An entry of one kind, with the details that its kind has (ledgerKinds.ts). */
export interface LedgerEntry<K extends LedgerKind> {
  at: string;
  actor: Actor;
  action: K;
  subject: string;
  detail?: LedgerDetail<K>;
}

/** Writes down that something happened; always in the transaction of what it tells. */
export async function record<K extends LedgerKind>(db: Store, entry: LedgerEntry<K>): Promise<void> {
  await db
    .insertInto('ledger')
    .values({ id: newId('lg'), ...entry, detail: JSON.stringify(entry.detail ?? {}) })
    .execute();
}

/** What was written down of something, the latest first, `most` entries of it. */
export const recordsOf = (db: Store, subject: string, most: number) =>
  db
    .selectFrom('ledger')
    .selectAll()
    .where('subject', '=', subject)
    .orderBy('at', 'desc')
    .orderBy('id', 'desc')
    .limit(most)
    .execute();
