import type { RecipientStatus } from '@chronicon/core/edition';
import type { Store } from './store.ts';

/** A report that a mail came back. */
export type KeptBounce = Pick<RecipientStatus, 'recipient' | 'status' | 'said'>;

/** Keeps a report on a mail that is not written down as taken yet. The first of several stands. */
export async function keepEarlyBounce(tx: Store, deliveryId: string, bounce: KeptBounce, at: string): Promise<void> {
  const { recipient, status, said } = bounce;
  await tx
    .insertInto('early_bounce')
    .values({ delivery_id: deliveryId, recipient, status, said, at })
    .onConflict((c) => c.doNothing())
    .execute();
}

/** Takes out what was kept of a delivery, in the transaction that writes down what became of it; null where nothing was. */
export async function takeEarlyBounce(tx: Store, deliveryId: string): Promise<KeptBounce | null> {
  const row = await tx
    .deleteFrom('early_bounce')
    .where('delivery_id', '=', deliveryId)
    .returning(['recipient', 'status', 'said'])
    .executeTakeFirst();
  return row ?? null;
}
