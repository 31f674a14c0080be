import { GUARD_WORDS } from '@chronicon/core/client';
import { type DeliveryDetail, STATE_LABELS } from '@chronicon/core/contract';
import { mayFollow, messageIdOf } from '@chronicon/core/edition';
import { readFrozen } from '@chronicon/core/page';
import { atField, Refusal } from '../platform/refusal.ts';
import { addresseesOf } from '../scheduler/addressees.ts';
import { mailsOf } from '../scheduler/mails.ts';
import { attemptsOf } from '../store/attempts.ts';
import { clientById } from '../store/clients.ts';
import { type EditionRow, moveEdition, ordersOf } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, memberNames } from '../store/members.ts';
import { addMessages, deliveriesOf, messagesOf, type NewMessage, nextRound } from '../store/messages.ts';
import { unpacked } from '../store/packed.ts';
import { inTransaction, type Store } from '../store/store.ts';
import type { Api } from './context.ts';
import { checkWorking } from './working.ts';

/** Deliveries of an edition with all that was tried, the newest round first. */
export async function detailsOf(api: Api, e: EditionRow): Promise<DeliveryDetail[]> {
  const messages = new Map((await messagesOf(api.store, e.id)).map((m) => [m.id, m]));
  const deliveries = await deliveriesOf(api.store, [e.id]);
  const attempts = await attemptsOf(
    api.store,
    deliveries.map((d) => d.id),
  );
  const members = await memberNames(api.store);
  return deliveries
    .map((d): DeliveryDetail => {
      const m = messages.get(d.message_id)!;
      return {
        id: d.id,
        reader: d.reader_id,
        name: d.name,
        email: d.email,
        state: d.state,
        reply: d.reply,
        nextTry: ['deferred', 'uncertain'].includes(d.state) && d.next_at !== NEVER ? d.next_at : null,
        messageId: m.message_id,
        subject: m.subject,
        round: m.resend,
        askedBy: m.asked_by === null ? null : (members.get(m.asked_by) ?? 'somebody who left'),
        attempts: attempts
          .filter((a) => a.delivery_id === d.id)
          .map((a) => ({ at: a.began_at, endedAt: a.ended_at, email: a.email, outcome: a.outcome, reply: a.reply })),
        mayResend: maySendAgain(e),
      };
    })
    .sort((a, b) => b.round - a.round || (a.name < b.name ? -1 : 1));
}

/** What was sent can go once more; while it is on its way, what waits is tried by itself. */
const maySendAgain = (e: EditionRow): boolean =>
  mayFollow(e.state, 'sending') && e.state !== 'held' && e.state !== 'ready';

/** The mail of an edition for somebody who had none, with the same figures: greeted by their own name. */
async function freshMail(api: Api, tx: Store, e: EditionRow, reader: string): Promise<NewMessage> {
  const frozen = readFrozen(api.files.read(e.frozen!).toString('utf8'), `the edition ${e.id}`);
  const { mailing: _, ...orders } = ordersOf(e);
  const readers = [reader.startsWith('me_') ? { member: reader } : { contact: reader }];
  const mails = await mailsOf(tx, e, { ...orders, readers }, frozen, api.config.url);
  if (!mails.ok) throw new Refusal(422, mails.reason);
  return mails.messages[0]!;
}

/** Writes an edition's mails once more for those who are named: as they went, under ids of their own. */
export async function resend(
  api: Api,
  e: EditionRow,
  ids: readonly string[] | null,
  memberId: string,
): Promise<number> {
  const client = (await clientById(api.store, e.client_id))!;
  checkWorking(client);
  if (!maySendAgain(e)) throw new Refusal(409, `This edition is “${STATE_LABELS[e.state]}”: it has not been sent yet.`);
  const at = api.clock.now();
  return inTransaction(api.store, async (tx) => {
    const sent = await messagesOf(tx, e.id);
    const all = await deliveriesOf(tx, [e.id]);
    const had = new Set(all.filter((d) => d.state !== 'withdrawn').map((d) => d.reader_id));
    const wanted = ids === null ? [...had] : [...new Set(ids)];
    const people = await addresseesOf(
      tx,
      client,
      wanted.map((id) => (id.startsWith('me_') ? { member: id } : { contact: id })),
    );
    const lost = wanted.find((id) => !people.some((p) => p.id === id));
    if (lost !== undefined && ids !== null) throw atField('readers', 'Choose contacts of this client, or members.');
    const held = people.find((p) => p.fault !== null);
    if (held && ids !== null) throw atField('readers', `${held.name} (${held.email}) ${GUARD_WORDS[held.fault!]}`);
    const going = people.filter((p) => p.fault === null);
    if (going.length === 0) throw atField('readers', 'There is nobody left to whom it may go.');
    const round = await nextRound(tx, e.id);
    const agency = (await agencyOf(tx))!;
    const domain = agency.mailFrom.split('@')[1] ?? 'localhost';
    const messages: NewMessage[] = [];
    for (const p of going) {
      const known = { resend: round, contactId: p.id, askedBy: memberId };
      const messageId = messageIdOf(e.id, p.id, round, domain);
      const to = [{ reader: p.id, email: p.email, name: p.name, line: 'to' as const }];
      const own = all.find((d) => d.reader_id === p.id && d.state !== 'withdrawn');
      const like = sent.find((m) => m.id === own?.message_id);
      if (like) {
        // As it went to them.
        const { subject, file_name: fileName, home } = like;
        const files = JSON.parse(like.files) as NewMessage['files'];
        messages.push({ ...known, messageId, to, subject, ...unpacked(like.body), fileName, home, files });
      } else messages.push({ ...(await freshMail(api, tx, e, p.id)), ...known, messageId, to });
    }
    if (!(await moveEdition(tx, e, 'sending', { next_at: null, reason: null }, { at, actor: memberId }))) {
      throw new Refusal(409, 'It has moved on meanwhile. Load the page again.');
    }
    await addMessages(tx, e.id, messages, at);
    const detail = { readers: going.map((p) => p.email) };
    await record(tx, { at, actor: memberId, action: 'edition.resent', subject: e.id, detail });
    return messages.length;
  });
}
