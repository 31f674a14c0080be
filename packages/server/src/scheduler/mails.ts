import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import { GUARD_WORDS } from '@chronicon/core/client';
import { messageIdOf } from '@chronicon/core/edition';
import { composeMail, mailHtml, mailPlain, picturesOf } from '@chronicon/core/mail';
import type { FrozenForMail } from '@chronicon/core/page';
import { describeMergeFault, goneFromMail, type OrderSheet } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { z } from 'zod';
import { clientById } from '../store/clients.ts';
import type { EditionRow } from '../store/editions.ts';
import { leaveAllToken, leaveToken, tokenKey } from '../store/mailTokens.ts';
import { agencyOf, memberById } from '../store/members.ts';
import { deliveryIdOf, messageRowIdOf, type NewMessage, nextRound } from '../store/messages.ts';
import type { Store } from '../store/store.ts';
import { DamagedValue, stored } from '../store/stored.ts';
import { type Addressee, addresseesOf } from './addressees.ts';
import type { Tools } from './tools.ts';

const domainOf = (address: string): string => address.split('@')[1] ?? 'localhost';

/** Stands for all readers where one mail is for all of them. */
const ALL = 'all';

export type Mails =
  | {
      ok: true;
      /** Whom nothing is sent to is among them, withheld with the reason. */
      messages: NewMessage[];
    }
  | { ok: false; code: 'no-readers' | 'mail-text' | 'guard'; reason: string };

/** The mails that readers share: one for each of them, or one for all. */
function shares(
  orders: OrderSheet,
  readers: readonly Addressee[],
): { id: string; firstName: string; of: Addressee[] }[] {
  if (orders.mailing !== 'one') return readers.map((r) => ({ id: r.id, firstName: r.firstName, of: [r] }));
  const to = readers.filter((r) => r.line === 'to' && r.fault === null);
  // A name is said where it is the only one that everybody sees.
  return [{ id: ALL, firstName: to.length === 1 ? to[0]!.firstName : '', of: [...readers] }];
}

/**
 * The page on which a reader has no more of these mails: of their own, or one that asks which of its readers they are where one
 * mail goes to many; null where readers do not reach this server, or it goes to a member alone.
 */
function leaveLink(home: string | null, tokens: string, messageId: string, of: readonly Addressee[]): string | null {
  const contacts = of.filter((r) => !r.id.startsWith('me_'));
  if (home === null || contacts.length === 0) return null;
  const page =
    of.length === 1
      ? leaveToken(tokens, deliveryIdOf(messageId, of[0]!.id))
      : `all/${leaveAllToken(tokens, messageRowIdOf(messageId))}`;
  return new URL(`/unsubscribe/${page}`, home).href;
}

const faultWords = (r: Addressee): string => `${r.name} (${r.email}) ${GUARD_WORDS[r.fault!]}`;

/**
 * All that the mails of an edition are written from beside its pages, as it is now. It is plain data: two readings that are alike
 * make the same mails, so that mails are written before the transaction that sends them, and only compared in it.
 */
export interface MailBasis {
  edition: Pick<EditionRow, 'id' | 'number' | 'kind' | 'mail_note'>;
  orders: OrderSheet;
  readers: Addressee[];
  mailFrom: string;
  postalAddress: string;
  manager: { name: string; email: string } | null;
  round: number;
  tokens: string;
  home: string | null;
}

export async function mailBasis(
  tools: Pick<Tools, 'secrets' | 'config'>,
  db: Store,
  { id, number, kind, mail_note, client_id }: EditionRow,
  orders: OrderSheet,
): Promise<MailBasis> {
  const client = (await clientById(db, client_id))!;
  const agency = (await agencyOf(db))!;
  const manager = await memberById(db, client.managerId);
  return {
    edition: { id, number, kind, mail_note },
    orders,
    readers: await addresseesOf(db, client, orders.readers),
    mailFrom: agency.mailFrom,
    postalAddress: agency.settings.postalAddress,
    manager: manager && { name: manager.name, email: manager.email },
    round: await nextRound(db, id),
    tokens: await tokenKey(db, tools.secrets),
    home: tools.config.url,
  };
}

/** Whether mails that were written from the one are those that would be written from the other. */
export const isSameBasis = (a: MailBasis, b: MailBasis): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Mails that are written before others have a turn. */
const WRITTEN_AT_ONCE = 8;

/**
 * The mails of a drawn edition, for its readers as they are now and as far as the guard lets them through. Others have their turn
 * meanwhile: never call it inside a transaction.
 */
export async function composeMails(basis: MailBasis, frozen: FrozenForMail): Promise<Mails> {
  const { edition, orders, readers: all, manager, mailFrom, postalAddress, round, tokens, home } = basis;
  const asked = all.filter((r) => r.fault === 'outside');
  if (asked.length > 0) {
    const reason = `${asked.map(faultWords).join(' ')} Approve it under Contacts, or choose other readers.`;
    return { ok: false, code: 'guard', reason };
  }
  if (all.every((r) => r.fault !== null)) {
    const reason = all.length > 0 ? all.map(faultWords).join(' ') : 'No recipients. Add readers to the schedule.';
    return { ok: false, code: 'no-readers', reason };
  }
  if (orders.mail && goneFromMail(frozen.order.document, orders.mail).length > 0) {
    const reason =
      'Its email shows a block that is no longer on the included pages. Choose another one in the schedule, under “Email”.';
    return { ok: false, code: 'mail-text', reason };
  }
  const { words } = formatterOf(frozen.order.language, frozen.order.currency);
  const number = edition.number === null ? '–' : String(edition.number);
  const messages: NewMessage[] = [];
  for (const { id, firstName, of } of shares(orders, all)) {
    if (messages.length % WRITTEN_AT_ONCE === WRITTEN_AT_ONCE - 1) await setImmediate();
    const messageId = messageIdOf(edition.id, id, round, domainOf(mailFrom));
    const composed = composeMail(
      frozen,
      { ...orders, note: edition.mail_note },
      { firstName, manager, number },
      { isTest: edition.kind === 'test', postalAddress, unsubscribe: leaveLink(home, tokens, messageId, of) },
    );
    if (!composed.ok) {
      const reason = `The email for ${of.map((r) => r.name).join(', ')} can’t be written. ${describeMergeFault(composed.fault)}`;
      return { ok: false, code: 'mail-text', reason };
    }
    const { mail } = composed;
    messages.push({
      subject: mail.subject,
      html: mailHtml(mail),
      text: mailPlain(mail, words),
      pictures: picturesOf(mail).map((p) => p.cid),
      fileName: mail.fileName,
      files: mail.files,
      messageId,
      home: home ?? '',
      resend: round,
      contactId: id,
      to: of.map((r) => {
        const { id: reader, email, name, line } = r;
        return { reader, email, name, line, ...(r.fault !== null && { withheld: faultWords(r) }) };
      }),
    });
  }
  return { ok: true, messages };
}

const hash = (value: unknown): string => createHash('sha256').update(JSON.stringify(value)).digest('base64url');

/** What a mail says and carries; its HTML says the same as its text, and its pictures are of the edition's own figures. */
const saidBy = ({ subject, text, fileName, files }: NewMessage): unknown[] => [
  subject,
  text,
  fileName,
  ...(files.length > 0 ? [files.map((f) => [f.file, f.name])] : []),
];

/** One text for all that a person sees who lets an edition go: its pages, and each mail with its readers and addresses. */
export const reviewHash = (e: Pick<EditionRow, 'pdf'>, messages: readonly NewMessage[]): string =>
  hash([e.pdf, messages.map((m) => [m.to, ...saidBy(m)])]);

const wordsOf = (m: NewMessage): string => hash(saidBy(m));

/** What a person let go, as it is kept: its pages, and of each mail whom it is for and what it says. */
export const approvedHashes = (e: Pick<EditionRow, 'pdf'>, messages: readonly NewMessage[]): string =>
  JSON.stringify([e.pdf, messages.map((m) => [m.contactId, wordsOf(m), m.to.map((t) => t.reader)])]);

const approvedIn = stored(
  z.tuple([z.string().nullable(), z.array(z.tuple([z.string(), z.string(), z.array(z.string())]))]),
  'what someone approved',
);

/** Null for what an older version kept: it said only whether anything is another. */
function readApproved(hashes: string): ReturnType<typeof approvedIn> | null {
  try {
    return approvedIn(hashes);
  } catch (error) {
    if (error instanceof DamagedValue) return null;
    throw error;
  }
}

/**
 * Of the mails as they would be written now, those that a person let go, to whom they let them go: who became a reader
 * since gets nothing, a corrected address is the one that counts. Null where pages or words are no longer what was seen.
 */
export function asApproved(
  e: Pick<EditionRow, 'pdf'>,
  hashes: string,
  messages: readonly NewMessage[],
): NewMessage[] | null {
  const kept = readApproved(hashes);
  if (kept?.[0] !== e.pdf) return null;
  const letGo = new Map(kept[1].map(([id, words, readers]) => [id, { words, readers }]));
  const known = messages.filter((m) => letGo.has(m.contactId));
  if (known.some((m) => letGo.get(m.contactId)!.words !== wordsOf(m))) return null;
  return known.flatMap((m) => {
    const to = m.to.filter((t) => letGo.get(m.contactId)!.readers.includes(t.reader));
    return to.length > 0 ? { ...m, to } : [];
  });
}
