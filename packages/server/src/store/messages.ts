import { type DeliveryState, deliveryMayFollow } from '@chronicon/core/edition';
import { type MailFile, type MailLine, mailFile } from '@chronicon/core/report';
import type { Selectable } from 'kysely';
import { z } from 'zod';
import { beginAttempt } from './attempts.ts';
import { NEVER } from './feeds.ts';
import { idFrom } from './ids.ts';
import { type Instance, isFree } from './instances.ts';
import { record } from './ledger.ts';
import { type MailBody, packed } from './packed.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';
import { stored } from './stored.ts';

export type DeliveryRow = Selectable<Tables['delivery']>;
export type MessageRow = Selectable<Tables['message']>;

/** A mail before it is written down, without what it says. */
interface MessageHead {
  messageId: string;
  resend: number;
  contactId: string;
  subject: string;
  fileName: string;
  /** Files that go with it beside the report. */
  files: readonly MailFile[];
  /** Where readers reach this server; empty where they do not. */
  home: string;
  askedBy?: string;
  /** Whom it is for, each in their line; more than one where one mail is for many. */
  to: {
    reader: string;
    email: string;
    name: string;
    line: MailLine;
    /** Why nothing is handed over to them. */
    withheld?: string;
  }[];
}

/** A mail as it was written. */
export interface NewMessage extends MessageHead, MailBody {}

/** A mail as it is kept: packed already, since whoever keeps it has taken the write lock. */
export interface PackedMessage extends MessageHead {
  body: Buffer;
}

export const packMessages = (messages: readonly NewMessage[]): Promise<PackedMessage[]> =>
  Promise.all(
    messages.map(async ({ html, text, pictures, ...head }) => ({
      ...head,
      body: await packed({ html, text, pictures }),
    })),
  );

/** Who stands in To and Cc of a mail for many, as everybody who gets it sees them. */
export type MailLines = Partial<Record<'to' | 'cc', { name: string; address: string }[]>>;

const people = z.array(z.object({ name: z.string(), address: z.string() })).exactOptional();
/** The lines of a mail as they are stored of it. */
export const linesIn = stored<MailLines>(z.object({ to: people, cc: people }), 'to whom a mail goes');
/** The files that go with a mail, as they are stored of it. */
export const filesIn = stored<MailFile[]>(z.array(mailFile), 'the files of a mail');

/** The same for the mail as a whole. */
export const messageRowIdOf = (messageId: string): string => idFrom('ms', messageId);

/** Known before it is written: the mail itself holds it, in the link by which its reader wants no more. */
export const deliveryIdOf = (messageId: string, reader: string): string => idFrom('de', `${messageId} ${reader}`);

const linesOf = (m: MessageHead): MailLines => {
  const of = (line: MailLine) =>
    m.to.filter((t) => t.line === line && !t.withheld).map((t) => ({ name: t.name, address: t.email }));
  return m.to.length > 1 ? { to: of('to'), cc: of('cc') } : {};
};

/** Adds the mails of an edition, each with its deliveries, one for each reader; call inside the transaction that moves the edition. */
export async function addMessages(tx: Store, editionId: string, messages: PackedMessage[], at: string): Promise<void> {
  for (const m of messages) {
    const id = messageRowIdOf(m.messageId);
    await tx
      .insertInto('message')
      .values({
        id,
        edition_id: editionId,
        message_id: m.messageId,
        resend: m.resend,
        contact_id: m.contactId,
        lines: JSON.stringify(linesOf(m)),
        subject: m.subject,
        body: m.body,
        file_name: m.fileName,
        files: JSON.stringify(m.files),
        asked_by: m.askedBy ?? null,
        home: m.home,
        created_at: at,
        head: null,
      })
      .execute();
    for (const { reader, email, name, withheld = null } of m.to) {
      await tx
        .insertInto('delivery')
        .values({
          id: deliveryIdOf(m.messageId, reader),
          message_id: id,
          edition_id: editionId,
          reader_id: reader,
          email,
          name,
          state: withheld === null ? 'queued' : 'withdrawn',
          tries: 0,
          reply: withheld,
          next_at: withheld === null ? at : NEVER,
          doubts: 0,
          lease_owner: null,
          lease_fence: 0,
        })
        .execute();
    }
  }
}

/** Mails of an edition, those of the last round first. */
export const messagesOf = (db: Store, editionId: string): Promise<MessageRow[]> =>
  db
    .selectFrom('message')
    .selectAll()
    .where('edition_id', '=', editionId)
    .orderBy('resend', 'desc')
    .orderBy('contact_id')
    .execute();

export async function deliveriesOf(db: Store, editionIds: readonly string[]): Promise<DeliveryRow[]> {
  if (editionIds.length === 0) return [];
  return db.selectFrom('delivery').selectAll().where('edition_id', 'in', editionIds).orderBy('email').execute();
}

/** All deliveries of one mail. */
export const deliveriesOfMessage = (db: Store, messageId: string): Promise<DeliveryRow[]> =>
  db
    .selectFrom('delivery')
    .selectAll()
    // Deliveries are found by their edition.
    .where('edition_id', '=', (q) => q.selectFrom('message').select('edition_id').where('id', '=', messageId))
    .where('message_id', '=', messageId)
    .execute();

/** Of each mail of an edition, which round it is of. */
export async function roundsOf(db: Store, editionId: string): Promise<Map<string, number>> {
  const rows = await db.selectFrom('message').select(['id', 'resend']).where('edition_id', '=', editionId).execute();
  return new Map(rows.map((m) => [m.id, m.resend]));
}

/** The number of a next round of mails of an edition: 0 for the first. */
export async function nextRound(db: Store, editionId: string): Promise<number> {
  const row = await db
    .selectFrom('message')
    .select((q) => q.fn.max('resend').as('last'))
    .where('edition_id', '=', editionId)
    .executeTakeFirst();
  return row?.last === null || row?.last === undefined ? 0 : Number(row.last) + 1;
}

export async function messageById(db: Store, id: string): Promise<MessageRow> {
  return db.selectFrom('message').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
}

export const deliveryById = async (db: Store, id: string): Promise<DeliveryRow | null> =>
  (await db.selectFrom('delivery').selectAll().where('id', '=', id).executeTakeFirst()) ?? null;

/** Deliveries that want trying by `now` and that nobody alive is trying, the longest due first. */
export async function deliveriesDue(db: Store, now: string, self: Instance, limit: number): Promise<DeliveryRow[]> {
  return (
    db
      .selectFrom('delivery')
      .selectAll()
      .where('state', 'in', ['queued', 'deferred', 'uncertain', 'sending'])
      .where('next_at', '<=', now)
      .where(isFree('delivery', self))
      // What was held meanwhile waits with its edition.
      .where((q) =>
        q.exists(
          q
            .selectFrom('edition')
            .select('edition.id')
            .whereRef('edition.id', '=', 'delivery.edition_id')
            .where('edition.state', '=', 'sending'),
        ),
      )
      .orderBy('next_at')
      .orderBy('id')
      .limit(limit)
      .execute()
  );
}

/** Takes up a delivery to hand it over: its row with the new number and one try more; null when it is not free. */
export async function claimDelivery(
  db: Store,
  delivery: DeliveryRow,
  to: { email: string; name: string },
  self: Instance,
  at: string,
): Promise<DeliveryRow | null> {
  return inTransaction(db, async (tx) => {
    const row = await tx
      .updateTable('delivery')
      .set((q) => ({
        state: 'sending',
        tries: q('tries', '+', 1),
        ...to,
        lease_owner: self.id,
        lease_fence: q('lease_fence', '+', 1),
      }))
      .where('id', '=', delivery.id)
      .where('state', '=', delivery.state)
      .where('lease_fence', '=', delivery.lease_fence)
      .where(isFree('delivery', self))
      .returningAll()
      .executeTakeFirst();
    if (!row) return null;
    await beginAttempt(tx, row.id, row.email, at);
    await record(tx, {
      at,
      actor: 'scheduler',
      action: 'delivery.sending',
      subject: row.edition_id,
      detail: { email: row.email },
    });
    return row;
  });
}

/**
 * Moves a delivery with its ledger entry, in one transaction; whoever held it lets go. False when it had moved
 * meanwhile, or somebody else had taken it up.
 */
export async function moveDelivery(
  db: Store,
  delivery: Pick<DeliveryRow, 'id' | 'state' | 'edition_id' | 'email' | 'lease_fence'>,
  to: DeliveryState,
  patch: Partial<Pick<DeliveryRow, 'tries' | 'reply' | 'next_at' | 'doubts'>>,
  by: { at: string; actor?: string },
): Promise<boolean> {
  if (!deliveryMayFollow(delivery.state, to)) {
    throw new Error(`a delivery does not go from ${delivery.state} to ${to}`);
  }
  return inTransaction(db, async (tx) => {
    const result = await tx
      .updateTable('delivery')
      .set({ state: to, lease_owner: null, ...patch })
      .where('id', '=', delivery.id)
      .where('state', '=', delivery.state)
      .where('lease_fence', '=', delivery.lease_fence)
      .executeTakeFirst();
    if (result.numUpdatedRows !== 1n) return false;
    await record(tx, {
      at: by.at,
      actor: by.actor ?? 'scheduler',
      action: `delivery.${to}`,
      subject: delivery.edition_id,
      detail: { email: delivery.email, ...(patch.reply && { reply: patch.reply }) },
    });
    return true;
  });
}
