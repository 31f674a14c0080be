import { type DeliveryState, deliveryMayFollow } from '@chronicon/core/edition';
import type { Selectable } from 'kysely';
import { newId } from './ids.ts';
import { record } from './ledger.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';

export type DeliveryRow = Selectable<Tables['delivery']>;
export type MessageRow = Selectable<Tables['message']>;

export interface NewMessage {
  messageId: string;
  resend: number;
  contactId: string;
  subject: string;
  html: string;
  text: string;
  fileName: string;
  to: { email: string; name: string };
}

/** Adds the mails of an edition, each with its delivery; call inside the transaction that moves the edition. */
export async function addMessages(tx: Store, editionId: string, messages: NewMessage[], at: string): Promise<void> {
  for (const m of messages) {
    const id = newId('ms');
    await tx
      .insertInto('message')
      .values({
        id,
        edition_id: editionId,
        message_id: m.messageId,
        resend: m.resend,
        contact_id: m.contactId,
        subject: m.subject,
        html: m.html,
        text: m.text,
        file_name: m.fileName,
      })
      .execute();
    await tx
      .insertInto('delivery')
      .values({
        id: newId('de'),
        message_id: id,
        edition_id: editionId,
        email: m.to.email,
        name: m.to.name,
        state: 'queued',
        tries: 0,
        reply: null,
        next_at: at,
      })
      .execute();
  }
}

export async function deliveriesOf(db: Store, editionIds: readonly string[]): Promise<DeliveryRow[]> {
  if (editionIds.length === 0) return [];
  return db.selectFrom('delivery').selectAll().where('edition_id', 'in', editionIds).orderBy('email').execute();
}

export async function messageById(db: Store, id: string): Promise<MessageRow> {
  return db.selectFrom('message').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
}

/** Moves a delivery with its ledger entry, in one transaction; false when it had moved meanwhile. */
export async function moveDelivery(
  db: Store,
  delivery: Pick<DeliveryRow, 'id' | 'state' | 'edition_id' | 'email'>,
  to: DeliveryState,
  patch: Partial<Pick<DeliveryRow, 'tries' | 'reply' | 'next_at'>>,
  at: string,
): Promise<boolean> {
  if (!deliveryMayFollow(delivery.state, to)) {
    throw new Error(`a delivery does not go from ${delivery.state} to ${to}`);
  }
  return inTransaction(db, async (tx) => {
    const result = await tx
      .updateTable('delivery')
      .set({ state: to, ...patch })
      .where('id', '=', delivery.id)
      .where('state', '=', delivery.state)
      .executeTakeFirst();
    if (result.numUpdatedRows !== 1n) return false;
    await record(tx, {
      at,
      actor: 'clockwork',
      action: `delivery.${to}`,
      subject: delivery.edition_id,
      detail: { email: delivery.email, ...(patch.reply && { reply: patch.reply }) },
    });
    return true;
  });
}
