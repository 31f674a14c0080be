import { GUARD_WORDS } from '@chronicon/core/client';
import { type DeliveryDetail, STATE_LABELS } from '@chronicon/core/contract';
import { mayFollow, messageIdOf } from '@chronicon/core/edition';
import { readFrozen } from '@chronicon/core/page';
import { atField, Refusal } from '../platform/refusal.ts';
import { type Addressee, addresseesOf } from '../scheduler/addressees.ts';
import { composeMails, type MailBasis, mailBasis } from '../scheduler/mails.ts';
import { attemptsOf } from '../store/attempts.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import { type EditionRow, moveEdition, ordersOf } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, memberNames } from '../store/members.ts';
import {
  addMessages,
  deliveriesOf,
  filesIn,
  messagesOf,
  nextRound,
  type PackedMessage,
  packMessages,
} from '../store/messages.ts';
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
        askedBy: m.asked_by === null ? null : (members.get(m.asked_by) ?? 'a former reader'),
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

/** Who gets an edition once more, and from what their mails are made: what they had, or one of their own. */
interface Plan {
  round: number;
  domain: string;
  going: Addressee[];
  /** The mail that each of them had, by reader. */
  had: Record<string, string>;
  /** What the mails of those are written from who had none, by reader. */
  fresh: Record<string, MailBasis>;
}

/** @throws Refusal for readers who are none, and those to whom nothing may go */
async function planOf(
  api: Api,
  db: Store,
  e: EditionRow,
  client: StoredClient,
  ids: readonly string[] | null,
): Promise<Plan> {
  const all = (await deliveriesOf(db, [e.id])).filter((d) => d.state !== 'withdrawn');
  const refOf = (id: string) => (id.startsWith('me_') ? { member: id } : { contact: id });
  const wanted = [...new Set(ids ?? all.map((d) => d.reader_id))];
  const people = await addresseesOf(db, client, wanted.map(refOf));
  const lost = wanted.find((id) => !people.some((p) => p.id === id));
  if (lost !== undefined && ids !== null) throw atField('readers', 'Choose contacts of this client, or members.');
  const held = people.find((p) => p.fault !== null);
  if (held && ids !== null) throw atField('readers', `${held.name} (${held.email}) ${GUARD_WORDS[held.fault!]}`);
  const going = people.filter((p) => p.fault === null);
  if (going.length === 0) throw atField('readers', 'No eligible recipients left.');
  const { mailing: _, ...orders } = ordersOf(e);
  const had: Plan['had'] = {};
  const fresh: Plan['fresh'] = {};
  for (const { id } of going) {
    const own = all.find((d) => d.reader_id === id);
    if (own) had[id] = own.message_id;
    else fresh[id] = await mailBasis(api, db, e, { ...orders, readers: [refOf(id)] });
  }
  const agency = (await agencyOf(db))!;
  return { round: await nextRound(db, e.id), domain: agency.mailFrom.split('@')[1] ?? 'localhost', going, had, fresh };
}

/** The mails of a plan, ready to be written down. @throws Refusal where one cannot be written */
async function mailsOfPlan(api: Api, e: EditionRow, plan: Plan, askedBy: string): Promise<PackedMessage[]> {
  const sent = new Map((await messagesOf(api.store, e.id)).map((m) => [m.id, m]));
  const frozen =
    Object.keys(plan.fresh).length > 0
      ? readFrozen(api.files.read(e.frozen!).toString('utf8'), `the edition ${e.id}`)
      : null;
  const made: PackedMessage[] = [];
  for (const p of plan.going) {
    const known = {
      resend: plan.round,
      contactId: p.id,
      askedBy,
      messageId: messageIdOf(e.id, p.id, plan.round, plan.domain),
      to: [{ reader: p.id, email: p.email, name: p.name, line: 'to' as const }],
    };
    const like = sent.get(plan.had[p.id] ?? '');
    if (like) {
      // As it went to them.
      const { subject, body, file_name: fileName, home } = like;
      const files = filesIn(like.files);
      made.push({ ...known, subject, body: Buffer.from(body), fileName, home, files });
      continue;
    }
    // With the same figures, and greeted by their own name.
    const mails = await composeMails(plan.fresh[p.id]!, frozen!);
    if (!mails.ok) throw new Refusal(422, mails.reason);
    const [packed] = await packMessages(mails.messages.slice(0, 1));
    made.push({ ...packed!, ...known });
  }
  return made;
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
  if (!maySendAgain(e)) throw new Refusal(409, `This edition is “${STATE_LABELS[e.state]}”: it hasn’t been sent yet.`);
  const plan = await planOf(api, api.store, e, client, ids);
  const messages = await mailsOfPlan(api, e, plan, memberId);
  const at = api.clock.now();
  return inTransaction(api.store, async (tx) => {
    const now = await planOf(api, tx, e, (await clientById(tx, e.client_id))!, ids);
    const moved = 'Its status has changed. Reload the page.';
    if (JSON.stringify(now) !== JSON.stringify(plan)) throw new Refusal(409, moved);
    if (!(await moveEdition(tx, e, 'sending', { next_at: null, reason: null }, { at, actor: memberId })))
      throw new Refusal(409, moved);
    await addMessages(tx, e.id, messages, at);
    const detail = { readers: plan.going.map((p) => p.email) };
    await record(tx, { at, actor: memberId, action: 'edition.resent', subject: e.id, detail });
    return messages.length;
  });
}
