import { createHash } from 'node:crypto';
import { messageIdOf } from '@chronicon/core/edition';
import type { Frozen } from '@chronicon/core/page';
import { describeMergeFault, type OrderSheet, type ReaderRef } from '@chronicon/core/report';
import { composeMail, mergeContextOf } from '../post/mailText.ts';
import { clientById, contactsByIds } from '../store/clients.ts';
import type { EditionRow } from '../store/editions.ts';
import { agencyOf, memberById } from '../store/members.ts';
import { type NewMessage, nextRound } from '../store/messages.ts';
import type { Store } from '../store/store.ts';

export interface Reader {
  id: string;
  firstName: string;
  name: string;
  email: string;
}

/** Readers as they are now: a contact that was removed meanwhile gets nothing. */
export async function readersOf(db: Store, clientId: string, refs: readonly ReaderRef[]): Promise<Reader[]> {
  const ids = refs.flatMap((r) => ('contact' in r ? [r.contact] : []));
  const contacts = await contactsByIds(db, clientId, ids);
  const members = await Promise.all(refs.flatMap((r) => ('member' in r ? [memberById(db, r.member)] : [])));
  return [
    ...contacts.map((c) => ({ ...c, name: `${c.firstName} ${c.lastName}`.trim() })),
    ...members.flatMap((m) => (m ? [{ ...m, firstName: m.name.split(' ')[0]! }] : [])),
  ];
}

const domainOf = (address: string): string => address.split('@')[1] ?? 'localhost';

export type Mails =
  | { ok: true; messages: NewMessage[] }
  | { ok: false; code: 'no-readers' | 'mail-text'; reason: string };

/** The mails of a drawn edition, one for each reader as they are now. */
export async function mailsOf(db: Store, e: EditionRow, orders: OrderSheet, frozen: Frozen): Promise<Mails> {
  const readers = await readersOf(db, e.client_id, orders.readers);
  if (readers.length === 0) {
    const reason = 'None of its readers is a contact of the client any more. Choose readers in the schedule.';
    return { ok: false, code: 'no-readers', reason };
  }
  const agency = (await agencyOf(db))!;
  const client = (await clientById(db, e.client_id))!;
  const manager = await memberById(db, client.managerId);
  const round = await nextRound(db, e.id);
  const messages: NewMessage[] = [];
  for (const reader of readers) {
    const context = mergeContextOf(frozen, {
      firstName: reader.firstName,
      manager: manager?.name ?? agency.name,
      number: e.number === null ? '–' : String(e.number),
    });
    const composed = composeMail(frozen, orders, context, e.kind === 'test', agency.settings.postalAddress);
    if (!composed.ok) {
      const reason = `The mail for ${reader.name} cannot be written. ${describeMergeFault(composed.fault)}`;
      return { ok: false, code: 'mail-text', reason };
    }
    messages.push({
      ...composed.mail,
      messageId: messageIdOf(e.id, reader.id, round, domainOf(agency.mailFrom)),
      resend: round,
      contactId: reader.id,
      to: { email: reader.email, name: reader.name },
    });
  }
  return { ok: true, messages };
}

/** One text for all that a person sees who lets an edition go: its pages, and each mail with its reader and address. */
export const sightOf = (e: Pick<EditionRow, 'pdf' | 'due_at'>, messages: readonly NewMessage[]): string =>
  createHash('sha256')
    .update(JSON.stringify([e.pdf, messages.map((m) => [m.to, m.subject, m.text, m.fileName])]))
    .digest('base64url');
