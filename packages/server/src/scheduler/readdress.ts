import { readFrozen } from '@chronicon/core/page';
import { readerKey, type ScheduleReader } from '@chronicon/core/report';
import { clientsByIds } from '../store/clients.ts';
import { type EditionRow, editionsOnTheirWay, ordersOf } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import {
  addMessages,
  type DeliveryRow,
  deliveriesOf,
  moveDelivery,
  type PackedMessage,
  packMessages,
} from '../store/messages.ts';
import type { Store, StoreTransaction } from '../store/store.ts';
import { labelOf } from './causes.ts';
import { ChangedMeanwhile } from './changedMeanwhile.ts';
import { composeMails, isSameBasis, type MailBasis, type Mails, mailBasis } from './mails.ts';
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

/** Whether a delivery waits to be handed over and was never tried: what was tried before may be there. */
const waits = (d: DeliveryRow): boolean => (d.state === 'queued' || d.state === 'deferred') && d.doubts === 0;

/** From what the mail of an edition is written for one person. */
const basisFor = (
  tools: Pick<Tools, 'secrets' | 'config'>,
  db: Store,
  e: EditionRow,
  to: Person,
): Promise<MailBasis> => {
  const { mailing: _, ...orders } = ordersOf(e);
  return mailBasis(tools, db, e, { ...orders, readers: [to] });
};

/** The mails of a person who reads from now on, by edition; written before the transaction that sends them. */
export type MailsInstead = Map<string, { basis: MailBasis; mails: Mails; packed: PackedMessage[] }>;

/** Writes for somebody what the editions of a schedule say that are on their way to who read it before. */
export async function writeInstead(
  tools: Pick<Tools, 'store' | 'secrets' | 'files' | 'config'>,
  scheduleId: string,
  { from, to }: { from: string; to: Person },
): Promise<MailsInstead> {
  const { store, files } = tools;
  const made: MailsInstead = new Map();
  for (const e of await editionsOnTheirWay(store, scheduleId)) {
    const own = (await deliveriesOf(store, [e.id])).filter((d) => d.reader_id === from);
    if (!own.some(waits)) continue;
    const basis = await basisFor(tools, store, e, to);
    const frozen = readFrozen(files.read(e.frozen!).toString('utf8'), `the edition ${e.id}`);
    const mails = await composeMails(basis, frozen);
    made.set(e.id, { basis, mails, packed: mails.ok ? await packMessages(mails.messages) : [] });
  }
  return made;
}

/**
 * Gives what still waits to be handed over to who reads now in place of somebody; in the transaction that changes who reads
 * a schedule. What the mail server has taken, or may have taken, stays as it went and is named: one mail goes to one of the
 * two, never to none.
 * @throws ChangedMeanwhile where the mails that were written would be others by now
 */
export async function readdress(
  tools: Pick<Tools, 'secrets' | 'config'>,
  tx: StoreTransaction,
  scheduleId: string,
  { from, to, written }: { from: string; to: Person; written: MailsInstead },
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
      if (!waits(d)) {
        found.late.push(
          `${labelOf(e, client)}: the email to ${d.email} ${d.state === 'accepted' || d.state === 'bounced' ? 'was already sent' : 'may already have been sent'}`,
        );
        continue;
      }
      const made = written.get(e.id);
      if (!made || !isSameBasis(made.basis, await basisFor(tools, tx, e, to))) throw new ChangedMeanwhile();
      const { mails, packed } = made;
      if (!mails.ok) {
        found.late.push(`${labelOf(e, client)}: ${mails.reason}`);
        continue;
      }
      const reply = 'Replaced by another reader before it was sent.';
      if (!(await moveDelivery(tx, d, 'withdrawn', { reply, next_at: NEVER }, { at, actor }))) continue;
      if (hasOther) continue;
      await addMessages(tx, e.id, packed, at);
      const detail = { readers: mails.messages.flatMap((m) => m.to.map((t) => t.email)) };
      await record(tx, { at, actor, action: 'edition.readdressed', subject: e.id, detail });
      found.moved++;
    }
  }
  return found;
}
