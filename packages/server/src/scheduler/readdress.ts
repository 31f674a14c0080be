import { readFrozen } from '@chronicon/core/page';
import { readerKey, type ScheduleReader } from '@chronicon/core/report';
import { clientsByIds } from '../store/clients.ts';
import { editionsOnTheirWay, ordersOf } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { addMessages, deliveriesOf, moveDelivery } from '../store/messages.ts';
import type { StoreTransaction } from '../store/store.ts';
import { labelOf } from './causes.ts';
import { mailsOf } from './mails.ts';
import type { Tools } from './tools.ts';

/** A reader who is one person. */
export type Person = Exclude<ScheduleReader, { list: string }>;

/** A mail that was on its way when its reader was replaced. */
export interface Readdressed {
  /** Mails that go to who reads now instead. */
  moved: number;
  /** Mails that the reader before was already sent, or may have been: each in words. */
  late: string[];
}

/**
 * Gives what still waits to be handed over to who reads now in place of somebody; in the transaction that changes who reads
 * a schedule. What the mail server has taken, or may have taken, stays as it went and is named: one mail goes to one of the
 * two, never to none.
 */
export async function readdress(
  tools: Pick<Tools, 'files' | 'config'>,
  tx: StoreTransaction,
  scheduleId: string,
  { from, to }: { from: string; to: Person },
  { at, actor }: { at: string; actor: string },
): Promise<Readdressed> {
  const found: Readdressed = { moved: 0, late: [] };
  for (const e of await editionsOnTheirWay(tx, scheduleId)) {
    const deliveries = await deliveriesOf(tx, [e.id]);
    const client = (await clientsByIds(tx, [e.client_id])).get(e.client_id)!;
    const own = deliveries.filter((d) => d.reader_id === from && d.state !== 'withdrawn');
    const hasOther = deliveries.some((d) => d.reader_id === readerKey(to) && d.state !== 'withdrawn');
    for (const d of own) {
      // Tried before, it may be there: a second mail for another person says so, nothing is taken back.
      if ((d.state !== 'queued' && d.state !== 'deferred') || d.doubts > 0) {
        found.late.push(
          `${labelOf(e, client)}: the mail to ${d.email} ${d.state === 'accepted' || d.state === 'bounced' ? 'was already sent' : 'may already have been sent'}`,
        );
        continue;
      }
      const frozen = readFrozen(tools.files.read(e.frozen!).toString('utf8'), `the edition ${e.id}`);
      const { mailing: _, ...orders } = ordersOf(e);
      const mails = await mailsOf(tx, e, { ...orders, readers: [to] }, frozen, tools.config.url);
      if (!mails.ok) {
        found.late.push(`${labelOf(e, client)}: ${mails.reason}`);
        continue;
      }
      const reply = 'Replaced by another reader before it was sent.';
      if (!(await moveDelivery(tx, d, 'withdrawn', { reply, next_at: NEVER }, { at, actor }))) continue;
      if (hasOther) continue;
      await addMessages(tx, e.id, mails.messages, at);
      const detail = { readers: mails.messages.flatMap((m) => m.to.map((t) => t.email)) };
      await record(tx, { at, actor, action: 'edition.readdressed', subject: e.id, detail });
      found.moved++;
    }
  }
  return found;
}
