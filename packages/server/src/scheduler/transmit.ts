import { addMinutes } from '@chronicon/core/calendar';
import { GUARD_WORDS } from '@chronicon/core/client';
import { type HoldCode, pauseAfter, pauseInDoubt } from '@chronicon/core/edition';
import type { Handed } from '../mail/outcome.ts';
import { endAttempt } from '../store/attempts.ts';
import { clientById } from '../store/clients.ts';
import { type EditionRow, editionById, moveEdition } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { keepHead } from '../store/mailHead.ts';
import { claimDelivery, type DeliveryRow, type MessageRow, messageById, moveDelivery } from '../store/messages.ts';
import { scheduleById } from '../store/schedules.ts';
import { resumeSending, stopSending } from '../store/sendingStops.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { addresseesOf } from './addressees.ts';
import { takeWhatWasEarly } from './bounces.ts';
import { readersNow } from './ordersOfRun.ts';
import { settleEdition } from './settleEdition.ts';
import type { Tools } from './tools.ts';

/** Where a delivery goes, or why it goes nowhere. */
type Way = { to: { email: string; name: string } } | { withdrawn: string } | { refused: string };

/**
 * Whether a delivery is still to be made, and to which address: read in the transaction that takes it up. The guard looks
 * at the address as it is now, whatever was let go before.
 */
async function wayOf(tx: Store, e: EditionRow, d: DeliveryRow, message: MessageRow): Promise<Way> {
  // What somebody asked for by name hangs on no schedule any more; the guard looks at it all the same.
  const asked = message.asked_by !== null;
  const schedule = e.schedule_id === null || asked ? null : await scheduleById(tx, e.schedule_id);
  const gone = { withdrawn: 'Removed before it was sent.' };
  // Taking a reader out acts until each mail is handed over, signed or not (SEMANTICS §10).
  if (schedule?.state === 'ended') return gone;
  if (schedule && e.nominal !== null && !(await readersNow(tx, schedule, e.reader_group)).has(d.reader_id)) return gone;
  const client = (await clientById(tx, e.client_id))!;
  const ref = d.reader_id.startsWith('me_') ? { member: d.reader_id } : { contact: d.reader_id };
  const [reader] = await addresseesOf(tx, client, [ref]);
  if (!reader) return gone;
  if (reader.fault === 'outside') return { refused: `${reader.email} ${GUARD_WORDS.outside} Nothing was sent.` };
  if (reader.fault !== null) return { withdrawn: `${reader.name} ${GUARD_WORDS[reader.fault]}` };
  return { to: { email: reader.email, name: reader.name } };
}

/** A delivery that this server has taken up, with all that it belongs to. */
export interface Claimed {
  delivery: DeliveryRow;
  message: MessageRow;
  edition: EditionRow;
}

/** Takes a delivery up, its address read anew; null where it is not to be made, or somebody else is at it. */
export async function claim(tools: Tools, d: DeliveryRow): Promise<Claimed | null> {
  const { store, clock, instance: self } = tools;
  return inTransaction(store, async (tx) => {
    const at = clock.now();
    const edition = await editionById(tx, d.edition_id);
    if (edition?.state !== 'sending') return null;
    const message = await messageById(tx, d.message_id);
    const way = await wayOf(tx, edition, d, message);
    if ('to' in way) {
      const delivery = await claimDelivery(tx, d, way.to, self, at);
      return delivery && { delivery, message: await keepHead(tx, message, edition), edition };
    }
    // What may have got there already is never called refused.
    const state = 'refused' in way && d.state !== 'uncertain' ? 'refused' : 'withdrawn';
    const reply = 'refused' in way ? way.refused : way.withdrawn;
    if (await moveDelivery(tx, d, state, { reply, next_at: NEVER }, { at })) await settleEdition(tx, edition.id, at);
    return null;
  });
}

/** Writes down what became of a try; a server that takes nothing stops all sending, and no reader is to blame. */
export async function writeDown(tools: Tools, { delivery: d }: Claimed, handed: Handed): Promise<void> {
  const { store, clock } = tools;
  const at = clock.now();
  const by = { at };
  await inTransaction(store, async (tx) => {
    const uncounted = { tries: d.tries - 1, next_at: at };
    switch (handed.kind) {
      case 'accepted':
        await moveDelivery(tx, d, 'accepted', { reply: handed.reply, next_at: NEVER }, by);
        await takeWhatWasEarly(tx, d.id, at);
        break;
      case 'refused':
        await moveDelivery(tx, d, 'refused', { reply: handed.reply, next_at: NEVER }, by);
        break;
      case 'deferred': {
        const pause = pauseAfter(d.tries, Math.random());
        if (pause === null) await moveDelivery(tx, d, 'refused', { reply: handed.reply, next_at: NEVER }, by);
        else await moveDelivery(tx, d, 'deferred', { reply: handed.reply, next_at: addMinutes(at, pause) }, by);
        break;
      }
      case 'uncertain': {
        const doubts = d.doubts + 1;
        const pause = pauseInDoubt(doubts, Math.random());
        const next_at = pause === null ? NEVER : addMinutes(at, pause);
        await moveDelivery(tx, d, 'uncertain', { reply: handed.reply, next_at, doubts }, by);
        await takeWhatWasEarly(tx, d.id, at);
        break;
      }
      case 'aborted':
        await moveDelivery(tx, d, 'queued', uncounted, by);
        break;
      case 'server':
        await moveDelivery(tx, d, 'queued', { ...uncounted, reply: handed.reason }, by);
        await stopSending(tx, { cause: 'mail-server', reason: handed.reason, mend: handed.mend, at, retry: true });
        break;
    }
    const reply = 'reply' in handed ? handed.reply : handed.kind === 'server' ? handed.reason : null;
    await endAttempt(tx, d.id, { outcome: handed.kind, reply }, at);
    // Any answer about a reader or a mail shows that the server is there.
    if (handed.kind === 'accepted' || ('reply' in handed && /^\d{3}/.test(handed.reply))) {
      await resumeSending(tx, 'mail-server', { at, actor: 'scheduler' });
    }
    await settleEdition(tx, d.edition_id, at);
  });
}

/** Puts a delivery back that was taken up and not handed over, and holds its edition until a person has looked at it. */
export async function holdUnsent(
  { store, clock }: Tools,
  { delivery: d, edition }: Pick<Claimed, 'delivery' | 'edition'>,
  hold: { code: HoldCode; reason: string },
): Promise<void> {
  const at = clock.now();
  await inTransaction(store, async (tx) => {
    if (d.state === 'sending') {
      await moveDelivery(tx, d, 'queued', { tries: d.tries - 1, next_at: at }, { at });
      await endAttempt(tx, d.id, { outcome: 'aborted', reply: hold.reason }, at);
    }
    const e = await editionById(tx, edition.id);
    if (e?.state === 'sending') {
      await moveEdition(tx, e, 'held', { ...hold, next_at: null }, { at, actor: 'scheduler' });
    }
  });
}
