import { newId } from './ids.ts';
import type { Store } from './store.ts';

/** Who did something: a member's id, or the server itself. */
export type Actor = string | 'scheduler';

/** Writes down that something happened; always in the transaction of what it tells. */
export async function record(
  db: Store,
  entry: { at: string; actor: Actor; action: string; subject: string; detail?: Record<string, unknown> },
): Promise<void> {
  await db
    .insertInto('ledger')
    .values({ id: newId('lg'), ...entry, detail: JSON.stringify(entry.detail ?? {}) })
    .execute();
}
