import { bounceWords, isDeadAddress, type RecipientStatus } from '@chronicon/core/edition';
import { clientById, contactsByIds, setStanding } from '../store/clients.ts';
import { editionById } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { deliveryById, moveDelivery } from '../store/messages.ts';
import { inTransaction } from '../store/store.ts';
import { settleEdition } from './settleEdition.ts';
import type { Tools } from './tools.ts';

/** What became of a mail that came back: `ignored` is what says nothing new, or is no failure. */
export type Taken = 'bounced' | 'ignored';

/**
 * Writes down that a mail came back after the mail server had taken it: its delivery, its edition, and its reader where
 * the address itself is dead. Whoever it concerns sees it on the Desk. The same report twice is one.
 */
export async function takeBounce(
  { store, clock, log }: Pick<Tools, 'store' | 'clock' | 'log'>,
  deliveryId: string,
  statuses: readonly RecipientStatus[],
): Promise<Taken> {
  const failed = statuses.find((s) => s.action === 'failed');
  if (!failed) {
    // Delayed, or somebody who is on leave: nothing has come back yet.
    log.info(
      { delivery: deliveryId, said: statuses[0]?.action ?? 'no report' },
      'a mail that came back says no failure',
    );
    return 'ignored';
  }
  const at = clock.now();
  return inTransaction(store, async (tx): Promise<Taken> => {
    const d = await deliveryById(tx, deliveryId);
    // What is in doubt has come back now: it had been taken.
    if (!d || (d.state !== 'accepted' && d.state !== 'uncertain')) return 'ignored';
    const reply = [bounceWords(failed), failed.said].filter((t) => t !== '').join(' ');
    if (!(await moveDelivery(tx, d, 'bounced', { reply, next_at: NEVER }, { at }))) return 'ignored';
    const e = (await editionById(tx, d.edition_id))!;
    const client = (await clientById(tx, e.client_id))!;
    const [contact] = await contactsByIds(tx, client.id, [d.reader_id]);
    // An address that was corrected meanwhile is another one.
    if (contact && isDeadAddress(failed.status) && contact.email.toLowerCase() === d.email.toLowerCase()) {
      await setStanding(tx, client.id, contact.id, 'bounced', at);
      const detail = { email: d.email, reply };
      await record(tx, { at, actor: 'scheduler', action: 'contact.bounced', subject: contact.id, detail });
    }
    await settleEdition(tx, e.id, at);
    return 'bounced';
  });
}
