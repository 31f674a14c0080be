import { bounceWords, isDeadAddress, type RecipientStatus } from '@chronicon/core/edition';
import { clientById, contactsByIds, setStanding } from '../store/clients.ts';
import { type KeptBounce, keepEarlyBounce, takeEarlyBounce } from '../store/earlyBounces.ts';
import { editionById } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { type DeliveryRow, deliveryById, moveDelivery } from '../store/messages.ts';
import { inTransaction, type StoreTransaction } from '../store/store.ts';
import { settleEdition } from './settleEdition.ts';
import type { Tools } from './tools.ts';

/**
 * What became of a mail that came back: `ignored` is what says nothing new, is no failure, or is about another address;
 * `kept` came before its mail was written down as taken, and counts once it is.
 */
export type Taken = 'bounced' | 'kept' | 'ignored';

const same = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

/** Writes a bounce down at its delivery, and at its reader where the address itself is dead. */
async function writeDown(tx: StoreTransaction, d: DeliveryRow, bounce: KeptBounce, at: string): Promise<boolean> {
  const reply = [bounceWords(bounce), bounce.said].filter((t) => t !== '').join(' ');
  if (!(await moveDelivery(tx, d, 'bounced', { reply, next_at: NEVER }, { at }))) return false;
  const e = (await editionById(tx, d.edition_id))!;
  const client = (await clientById(tx, e.client_id))!;
  const [contact] = await contactsByIds(tx, client.id, [d.reader_id]);
  // An address that was corrected meanwhile is another one.
  if (contact && isDeadAddress(bounce.status) && same(contact.email, d.email)) {
    await setStanding(tx, client.id, contact.id, 'bounced', at);
    const detail = { email: d.email, reply };
    await record(tx, { at, actor: 'scheduler', action: 'contact.bounced', subject: contact.id, detail });
  }
  return true;
}

/**
 * What was kept of a delivery that is written down as taken, or as in doubt, now; in the transaction that does so.
 * A report on another address than the one that it went to is dropped.
 */
export async function takeWhatWasEarly(tx: StoreTransaction, deliveryId: string, at: string): Promise<void> {
  const early = await takeEarlyBounce(tx, deliveryId);
  const d = early && (await deliveryById(tx, deliveryId));
  if (d && same(early.recipient, d.email)) await writeDown(tx, d, early, at);
}

/**
 * Writes down that a mail came back after the mail server had taken it: its delivery, its edition, and its reader where
 * the address itself is dead. Whoever it concerns sees it on the Desk. The same report twice is one. It counts for the
 * address alone that the mail went to: a report on another one says nothing of this reader.
 */
export async function takeBounce(
  { store, clock, log }: Pick<Tools, 'store' | 'clock' | 'log'>,
  deliveryId: string,
  statuses: readonly RecipientStatus[],
): Promise<Taken> {
  const failed = statuses.filter((s) => s.action === 'failed');
  const ignored = (why: string): Taken => {
    log.info({ delivery: deliveryId, why }, 'a mail that came back changes nothing');
    return 'ignored';
  };
  // Delayed, or somebody who is on leave: nothing has come back yet.
  if (failed.length === 0) return ignored(statuses[0]?.action ?? 'no report');
  const at = clock.now();
  return inTransaction(store, async (tx): Promise<Taken> => {
    const d = await deliveryById(tx, deliveryId);
    const own = failed.find((s) => d && same(s.recipient, d.email));
    if (!d || !own) return ignored('about another address');
    switch (d.state) {
      case 'queued':
      case 'sending':
      case 'deferred':
        await keepEarlyBounce(tx, d.id, own, at);
        return 'kept';
      // What is in doubt has come back now: it had been taken.
      case 'accepted':
      case 'uncertain':
        if (!(await writeDown(tx, d, own, at))) return 'ignored';
        await settleEdition(tx, d.edition_id, at);
        return 'bounced';
      default:
        return 'ignored';
    }
  });
}
