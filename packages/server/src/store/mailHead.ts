import { z } from 'zod';
import { clientById } from './clients.ts';
import type { EditionRow } from './editions.ts';
import { dkimName, keptDkim, mailRules } from './mailRules.ts';
import { agencyOf, memberById } from './members.ts';
import type { MessageRow } from './messages.ts';
import type { Store } from './store.ts';
import { stored } from './stored.ts';

const mailbox = z.object({ name: z.string(), address: z.string() });

/**
 * What a mail says of its sender, and with which key it is signed. It is kept when the mail is first handed over: tried once more, it is
 * the same bytes, whatever was changed between the tries.
 */
const headSchema = z.object({
  from: mailbox,
  replyTo: mailbox.nullable(),
  /** Where it comes back to; empty: to its sender. */
  bounces: z.string(),
  /** The name of the key; null: it is not signed. */
  dkim: z.string().nullable(),
});
export type MailHead = z.infer<typeof headSchema>;
const headIn = stored(headSchema, 'the head of a mail');

/** What the head of a client's mail would say now. */
export async function headNow(db: Store, { client_id }: Pick<EditionRow, 'client_id'>): Promise<MailHead> {
  const agency = (await agencyOf(db))!;
  const client = (await clientById(db, client_id))!;
  const manager = await memberById(db, client.managerId);
  const dkim = await keptDkim(db);
  return {
    from: { name: agency.name, address: agency.mailFrom },
    replyTo: manager && { name: manager.name, address: manager.email },
    bounces: (await mailRules(db)).bounces,
    dkim: dkim && dkimName(dkim),
  };
}

/** The head of a mail: as it was first handed over, else as it would be now. */
export const headOf = async (
  db: Store,
  { head }: Pick<MessageRow, 'head'>,
  edition: Pick<EditionRow, 'client_id'>,
): Promise<MailHead> => (head === null ? headNow(db, edition) : headIn(head));

/** Mails that came back, or were never taken, say what is true now when a person has them tried again. */
export async function forgetHeads(tx: Store, messages: readonly string[]): Promise<void> {
  if (messages.length === 0) return;
  await tx
    .updateTable('message')
    .set({ head: null })
    .where('id', 'in', messages)
    .where((q) =>
      q.not(
        q.exists(
          q
            .selectFrom('delivery')
            .select('delivery.id')
            .whereRef('delivery.message_id', '=', 'message.id')
            .whereRef('delivery.edition_id', '=', 'message.edition_id')
            .where('delivery.state', 'in', ['accepted', 'uncertain', 'sending']),
        ),
      ),
    )
    .execute();
}

/** Keeps the head of a mail that is handed over for the first time. @returns the mail as it is kept */
export async function keepHead(tx: Store, message: MessageRow, edition: EditionRow): Promise<MessageRow> {
  if (message.head !== null) return message;
  const head = JSON.stringify(await headNow(tx, edition));
  await tx.updateTable('message').set({ head }).where('id', '=', message.id).execute();
  return { ...message, head };
}
