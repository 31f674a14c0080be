import { addMinutes } from '@chronicon/core/calendar';
import { because, type HoldCode } from '@chronicon/core/edition';
import { approvalById } from '../store/approvals.ts';
import { type EditionRow, moveEdition } from '../store/editions.ts';
import type { Lease } from '../store/instances.ts';
import { addMessages, type NewMessage, type PackedMessage, packMessages } from '../store/messages.ts';
import type { StoredSchedule } from '../store/schedules.ts';
import { inTransaction, type StoreTransaction } from '../store/store.ts';
import { forMailOf, pdfOf } from './editionFiles.ts';
import { asApproved, composeMails, isSameBasis, type MailBasis, type Mails, mailBasis } from './mails.ts';
import { madeOfNow, settle } from './orders.ts';
import { readersNow } from './ordersOfRun.ts';
import type { Tools } from './tools.ts';

/** More than this late, in minutes, an edition that is ready waits for a person. */
export const LATE_MINUTES = 24 * 60;

/** Minutes after its time within which the mails of a run carry that time: a copy that repeats them says the same. */
const ON_TIME_MINUTES = 60;

const dateOfMails = (e: EditionRow, now: string): string =>
  e.kind === 'scheduled' && e.approval_id === null && now <= addMinutes(e.due_at, ON_TIME_MINUTES) ? e.due_at : now;

/** Of mails, those to readers whom the schedule still addresses: taking a reader out acts whatever was signed. */
async function stillAddressed(
  tx: StoreTransaction,
  schedule: StoredSchedule | null,
  e: EditionRow,
  messages: readonly NewMessage[],
): Promise<NewMessage[]> {
  if (!schedule || e.nominal === null) return [...messages];
  const readers = await readersNow(tx, schedule, e.reader_group);
  return messages.flatMap((m) => {
    const to = m.to.filter((t) => readers.has(t.reader));
    return to.length > 0 ? { ...m, to } : [];
  });
}

/** Mails that were written before the transaction that sends them. */
interface Written {
  basis: MailBasis;
  mails: Mails;
  packed: Map<string, PackedMessage>;
}

async function writeMails(tools: Tools, e: EditionRow): Promise<Written> {
  const { orders } = await settle(tools.store, e);
  const basis = await mailBasis(tools, tools.store, e, orders);
  const mails = await composeMails(basis, forMailOf(tools, e));
  const all = mails.ok ? await packMessages(mails.messages) : [];
  return { basis, mails, packed: new Map(all.map((m) => [m.messageId, m])) };
}

/** How many times the mails are written before the edition waits for the next beat, if what they say keeps changing. */
const MOST_GOES = 3;

/**
 * Writes the mails of an edition that is ready, one for each reader as they are now; from then on it is on its way. They are
 * written before the transaction that sends them; this one compares all that they and the edition are made of with what is
 * there now. Mails that would be others are written again, pages that would be others are drawn again first.
 */
export async function beginSending(tools: Tools, e: EditionRow, lease: Lease): Promise<void> {
  const files = await pdfOf(tools, e);
  if (!files.ok) {
    const patch = { code: 'file' as const, reason: files.reason, next_at: null };
    await moveEdition(tools.store, e, 'held', patch, { at: tools.clock.now(), actor: 'scheduler', lease });
    return;
  }
  // One that keeps changing has its turn again at the next beat.
  for (let go = 0; go < MOST_GOES; go++) if (await sendWritten(tools, e, lease, await writeMails(tools, e))) return;
}

/** @returns false where the mails would be others by now, and nothing was done */
async function sendWritten(tools: Tools, e: EditionRow, lease: Lease, written: Written): Promise<boolean> {
  const { store, clock, crash } = tools;
  const by = () => ({ at: clock.now(), actor: 'scheduler', lease });
  const hold = async (tx: StoreTransaction, why: { code: HoldCode; reason: string }): Promise<true> => {
    await moveEdition(tx, e, 'held', { ...why, next_at: null }, by());
    return true;
  };
  crash('mail.before-messages');
  const isDone = await inTransaction(store, async (tx): Promise<boolean> => {
    const now = clock.now();
    const settled = await settle(tx, e);
    const { orders, schedule } = settled;
    if (schedule && schedule.state !== 'active' && e.approval_id === null) {
      if (schedule.state === 'paused') return hold(tx, because('paused'));
      await moveEdition(tx, e, 'skipped', { reason: 'Its schedule has ended.', next_at: null }, by());
      return true;
    }
    // What a person signed off goes as it was; anything else follows what it is made of to the last.
    if (e.approval_id === null && (await madeOfNow(tools, tx, e, settled)) !== e.made_of) {
      await moveEdition(tx, e, 'collecting', { next_at: now, stale: 0 }, by());
      return true;
    }
    if (e.kind === 'scheduled' && e.approval_id === null && now > addMinutes(e.due_at, LATE_MINUTES)) {
      return hold(tx, because('late'));
    }
    if (!isSameBasis(written.basis, await mailBasis(tools, tx, e, orders))) return false;
    const { mails } = written;
    if (!mails.ok) return hold(tx, { code: mails.code, reason: mails.reason });
    const approved =
      e.approval_id === null
        ? mails.messages
        : asApproved(e, (await approvalById(tx, e.approval_id)).hashes, mails.messages);
    if (approved === null) {
      return hold(tx, because('changed'));
    }
    const going = await stillAddressed(tx, schedule, e, approved);
    if (going.every((m) => m.to.every((t) => t.withheld))) {
      return hold(tx, because('no-readers'));
    }
    if (await moveEdition(tx, e, 'sending', { next_at: null }, by())) {
      const kept = going.map((m) => ({ ...written.packed.get(m.messageId)!, to: m.to }));
      await addMessages(tx, e.id, kept, dateOfMails(e, now));
    }
    return true;
  });
  crash('mail.after-messages');
  return isDone;
}
