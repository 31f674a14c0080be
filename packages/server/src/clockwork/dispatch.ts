import { addMinutes } from '@chronicon/core/calendar';
import { messageIdOf, outcomeOf, pauseAfter } from '@chronicon/core/edition';
import { describeMergeFault } from '@chronicon/core/report';
import { composeMail, mergeContextOf } from '../post/mailText.ts';
import type { Frozen } from '../press/draw.ts';
import { clientById, contactsByIds } from '../store/clients.ts';
import { type EditionRow, moveEdition, ordersOf, postpone, type ReaderRef } from '../store/editions.ts';
import { agencyOf, memberById } from '../store/members.ts';
import {
  addMessages,
  type DeliveryRow,
  deliveriesOf,
  messageById,
  moveDelivery,
  type NewMessage,
} from '../store/messages.ts';
import { inTransaction } from '../store/store.ts';
import type { Tools } from './tools.ts';

interface Reader {
  id: string;
  firstName: string;
  name: string;
  email: string;
}

/** Readers as they are now: a contact that was removed meanwhile gets nothing. */
async function readersOf(tools: Tools, clientId: string, refs: ReaderRef[]): Promise<Reader[]> {
  const ids = refs.flatMap((r) => ('contact' in r ? [r.contact] : []));
  const contacts = await contactsByIds(tools.store, clientId, ids);
  const members = await Promise.all(refs.flatMap((r) => ('member' in r ? [memberById(tools.store, r.member)] : [])));
  return [
    ...contacts.map((c) => ({ ...c, name: `${c.firstName} ${c.lastName}`.trim() })),
    ...members.flatMap((m) => (m ? [{ ...m, firstName: m.name.split(' ')[0]! }] : [])),
  ];
}

const domainOf = (address: string): string => address.split('@')[1] ?? 'localhost';

async function hold(tools: Tools, e: EditionRow, reason: string): Promise<void> {
  const by = { at: tools.clock.now(), actor: 'clockwork' };
  await moveEdition(tools.store, e, 'held', { reason, next_at: null }, by);
}

/** Writes the mails of a cleared edition, one for each reader; from then on it is on its way. */
export async function writeMessages(tools: Tools, e: EditionRow): Promise<void> {
  const { store, files, clock, crash } = tools;
  const orders = ordersOf(e);
  const readers = await readersOf(tools, e.client_id, orders.readers);
  if (readers.length === 0) {
    await hold(tools, e, 'None of its readers is a contact of the client any more. Choose readers in the schedule.');
    return;
  }
  const frozen = JSON.parse(files.read(e.frozen!).toString('utf8')) as Frozen;
  const agency = (await agencyOf(store))!;
  const client = (await clientById(store, e.client_id))!;
  const manager = await memberById(store, client.managerId);
  const messages: NewMessage[] = [];
  for (const reader of readers) {
    const context = mergeContextOf(frozen, {
      firstName: reader.firstName,
      manager: manager?.name ?? agency.name,
      number: e.number === null ? 'test' : String(e.number),
    });
    const composed = composeMail(frozen, orders, context);
    if (!composed.ok) {
      await hold(tools, e, `The mail for ${reader.name} cannot be written. ${describeMergeFault(composed.fault)}`);
      return;
    }
    messages.push({
      ...composed.mail,
      messageId: messageIdOf(e.id, reader.id, 0, domainOf(agency.mailFrom)),
      resend: 0,
      contactId: reader.id,
      to: { email: reader.email, name: reader.name },
    });
  }
  const now = clock.now();
  crash('post.before-messages');
  await inTransaction(store, async (tx) => {
    const moved = await moveEdition(tx, e, 'sending', { next_at: now }, { at: now, actor: 'clockwork' });
    if (moved) await addMessages(tx, e.id, messages, now);
  });
  crash('post.after-messages');
}

async function sendOne(tools: Tools, e: EditionRow, d: DeliveryRow): Promise<void> {
  const { store, mailer, files, clock, crash } = tools;
  const tries = d.tries + 1;
  crash('send.before-claim');
  // A delivery found in `sending` is one that a process died over: it goes again, under the same Message-ID.
  if (!(await moveDelivery(store, d, 'sending', { tries }, clock.now()))) return;
  crash('send.after-claim');
  const message = await messageById(store, d.message_id);
  const agency = (await agencyOf(store))!;
  const handed = await mailer.send({
    messageId: message.message_id,
    from: { name: agency.name, address: agency.mailFrom },
    to: { name: d.name, address: d.email },
    subject: message.subject,
    html: message.html,
    text: message.text,
    attachment: { fileName: message.file_name, content: files.read(e.pdf!) },
    date: new Date(clock.now()),
  });
  crash('send.after-accepted-by-server');
  const now = clock.now();
  const claimed = { ...d, state: 'sending' as const };
  const pause = handed.kind === 'deferred' ? pauseAfter(tries) : null;
  if (handed.kind === 'deferred' && pause !== null) {
    await moveDelivery(store, claimed, 'deferred', { reply: handed.reply, next_at: addMinutes(now, pause) }, now);
  } else {
    const state = handed.kind === 'accepted' ? 'accepted' : 'refused';
    await moveDelivery(store, claimed, state, { reply: handed.reply, next_at: now }, now);
  }
  crash('send.after-accepted-in-store');
}

/** Sends what is due of an edition's deliveries, and settles the edition once none is under way. */
export async function send(tools: Tools, e: EditionRow): Promise<void> {
  const { store, clock, crash } = tools;
  for (const d of await deliveriesOf(store, [e.id])) {
    const due = d.state === 'sending' || ((d.state === 'queued' || d.state === 'deferred') && d.next_at <= clock.now());
    if (due) await sendOne(tools, e, d);
  }
  const deliveries = await deliveriesOf(store, [e.id]);
  const outcome = outcomeOf(deliveries.map((d) => d.state));
  if (outcome === null) {
    const waiting = deliveries.filter((d) => d.state === 'deferred' || d.state === 'queued');
    const next = waiting.map((d) => d.next_at).sort()[0] ?? clock.now();
    const last = waiting.find((d) => d.reply !== null)?.reply;
    await postpone(store, e.id, next, last ? `Not yet taken by the mail server: ${last} It is tried again.` : null);
    return;
  }
  crash('finish.before-move');
  const refused = deliveries.filter((d) => d.state === 'refused');
  const reason =
    refused.length === 0
      ? null
      : `Refused for ${refused.map((d) => `${d.email} (${d.reply ?? 'no reply'})`).join(', ')}.`;
  await moveEdition(store, e, outcome, { reason, next_at: null }, { at: clock.now(), actor: 'clockwork' });
  crash('finish.after-move');
}
