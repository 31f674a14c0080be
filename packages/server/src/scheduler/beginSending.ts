import { addMinutes } from '@chronicon/core/calendar';
import type { HoldCode } from '@chronicon/core/edition';
import { approvalById } from '../store/approvals.ts';
import { type EditionRow, moveEdition } from '../store/editions.ts';
import type { Lease } from '../store/instances.ts';
import { addMessages, type NewMessage } from '../store/messages.ts';
import type { StoredSchedule } from '../store/schedules.ts';
import { inTransaction, type StoreTransaction } from '../store/store.ts';
import { forMailOf, pdfOf } from './editionFiles.ts';
import { asApproved, mailsOf } from './mails.ts';
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

/**
 * Writes the mails of an edition that is ready, one for each reader as they are now; from then on it is on
 * its way. The same transaction compares all that it is made of with what it was drawn from: what has changed is drawn
 * again first.
 */
export async function beginSending(tools: Tools, e: EditionRow, lease: Lease): Promise<void> {
  const { store, clock, crash } = tools;
  const by = () => ({ at: clock.now(), actor: 'scheduler', lease });
  const hold = (tx: StoreTransaction, code: HoldCode, reason: string) =>
    moveEdition(tx, e, 'held', { code, reason, next_at: null }, by());
  const files0 = await pdfOf(tools, e);
  if (!files0.ok) {
    await inTransaction(store, (tx) => hold(tx, 'file', files0.reason));
    return;
  }
  const frozen = forMailOf(tools, e);
  crash('mail.before-messages');
  await inTransaction(store, async (tx) => {
    const now = clock.now();
    const settled = await settle(tx, e);
    const { orders, schedule } = settled;
    if (schedule && schedule.state !== 'active' && e.approval_id === null) {
      if (schedule.state === 'paused') await hold(tx, 'paused', 'Its schedule is paused.');
      else await moveEdition(tx, e, 'skipped', { reason: 'Its schedule has ended.', next_at: null }, by());
      return;
    }
    // What a person signed off goes as it was; anything else follows what it is made of to the last.
    if (e.approval_id === null && (await madeOfNow(tools, tx, e, settled)) !== e.made_of) {
      await moveEdition(tx, e, 'collecting', { next_at: now, stale: 0 }, by());
      return;
    }
    if (e.kind === 'scheduled' && e.approval_id === null && now > addMinutes(e.due_at, LATE_MINUTES)) {
      await hold(tx, 'late', 'It is more than a day late. Look at it, then send it or leave it out.');
      return;
    }
    const mails = await mailsOf(tx, e, orders, frozen, tools.config.url);
    if (!mails.ok) {
      await hold(tx, mails.code, mails.reason);
      return;
    }
    const approved =
      e.approval_id === null
        ? mails.messages
        : asApproved(e, (await approvalById(tx, e.approval_id)).hashes, mails.messages);
    if (approved === null) {
      await hold(tx, 'changed', 'It changed after it was sent off, before a mail was written. Look at it once more.');
      return;
    }
    const going = await stillAddressed(tx, schedule, e, approved);
    if (going.every((m) => m.to.every((t) => t.withheld))) {
      await hold(tx, 'no-readers', 'Whom it was to go to was taken out. Choose readers, or leave it out.');
      return;
    }
    if (await moveEdition(tx, e, 'sending', { next_at: null }, by())) {
      await addMessages(tx, e.id, going, dateOfMails(e, now));
    }
  });
  crash('mail.after-messages');
}
