import { addMinutes } from '@chronicon/core/calendar';
import { pauseAfter, pauseInDoubt } from '@chronicon/core/edition';
import type { Handed } from '../post/outcome.ts';
import { clientById } from '../store/clients.ts';
import { type EditionRow, editionById, moveEdition } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import type { Instance } from '../store/instances.ts';
import { agencyOf, memberById } from '../store/members.ts';
import { claimDelivery, type DeliveryRow, type MessageRow, messageById, moveDelivery } from '../store/messages.ts';
import { scheduleById } from '../store/schedules.ts';
import { resumeSending, stopSending } from '../store/sendingStops.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { mailPictures, pdfOf } from './editionFiles.ts';
import { readersOf } from './mails.ts';
import { settleEdition } from './settleEdition.ts';
import type { Tools } from './tools.ts';

/** Whether a delivery is still to be made, and to which address: read in the transaction that takes it up. */
async function addressee(
  tx: Store,
  e: EditionRow,
  message: MessageRow,
): Promise<{ email: string; name: string } | null> {
  const schedule = e.schedule_id === null ? null : await scheduleById(tx, e.schedule_id);
  // A run follows its schedule until each mail is handed over; one that a person sent goes to whom they saw.
  if (schedule?.state === 'ended') return null;
  if (schedule && e.seen === null && !schedule.readers.includes(message.contact_id)) return null;
  const member = message.contact_id.startsWith('me_') ? await memberById(tx, message.contact_id) : null;
  if (member) return { email: member.email, name: member.name };
  const [reader] = await readersOf(tx, e.client_id, [{ contact: message.contact_id }]);
  return reader ? { email: reader.email, name: reader.name } : null;
}

interface Claimed {
  delivery: DeliveryRow;
  message: MessageRow;
  edition: EditionRow;
}

async function claim(tools: Tools, d: DeliveryRow, self: Instance): Promise<Claimed | null> {
  const { store, clock } = tools;
  return inTransaction(store, async (tx) => {
    const at = clock.now();
    const edition = await editionById(tx, d.edition_id);
    if (edition?.state !== 'sending') return null;
    const message = await messageById(tx, d.message_id);
    const to = await addressee(tx, edition, message);
    if (to) {
      const delivery = await claimDelivery(tx, d, to, self, clock.machine(), at);
      return delivery && { delivery, message, edition };
    }
    const reply = 'Taken out before it was handed over.';
    if (await moveDelivery(tx, d, 'withdrawn', { reply, next_at: NEVER }, { at }))
      await settleEdition(tx, edition.id, at);
    return null;
  });
}

/** Writes down what became of a try; a server that takes nothing stops all sending, and no reader is to blame. */
async function writeDown(tools: Tools, { delivery: d }: Claimed, handed: Handed): Promise<void> {
  const { store, clock } = tools;
  const at = clock.now();
  const by = { at };
  await inTransaction(store, async (tx) => {
    const uncounted = { tries: d.tries - 1, next_at: at };
    switch (handed.kind) {
      case 'accepted':
        await moveDelivery(tx, d, 'accepted', { reply: handed.reply, next_at: NEVER }, by);
        break;
      case 'refused':
        await moveDelivery(tx, d, 'refused', { reply: handed.reply, next_at: NEVER }, by);
        break;
      case 'deferred': {
        const pause = pauseAfter(d.tries);
        if (pause === null) await moveDelivery(tx, d, 'refused', { reply: handed.reply, next_at: NEVER }, by);
        else await moveDelivery(tx, d, 'deferred', { reply: handed.reply, next_at: addMinutes(at, pause) }, by);
        break;
      }
      case 'uncertain': {
        const doubts = d.doubts + 1;
        const pause = pauseInDoubt(doubts);
        const next_at = pause === null ? NEVER : addMinutes(at, pause);
        await moveDelivery(tx, d, 'uncertain', { reply: handed.reply, next_at, doubts }, by);
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
    // Any answer about a reader or a mail shows that the server is there.
    if (handed.kind === 'accepted' || ('reply' in handed && /^\d{3}/.test(handed.reply))) {
      await resumeSending(tx, 'mail-server', { at, actor: 'clockwork' });
    }
    await settleEdition(tx, d.edition_id, at);
  });
}

/** Hands one mail over: taken up, its address read anew, one conversation with the mail server, written down. */
export async function handOver(tools: Tools, d: DeliveryRow, self: Instance, signal: AbortSignal): Promise<void> {
  const { store, mailer, clock, crash } = tools;
  crash('send.before-claim');
  const claimed = await claim(tools, d, self);
  if (!claimed) return;
  crash('send.after-claim');
  const { delivery, message, edition } = claimed;
  const kept = await pdfOf(tools, edition);
  const shown = mailPictures(tools, message.html);
  if (!kept.ok || !shown.ok) {
    const reason = !kept.ok ? kept.reason : !shown.ok ? shown.reason : '';
    const at = clock.now();
    await inTransaction(store, async (tx) => {
      await moveDelivery(tx, delivery, 'queued', { tries: delivery.tries - 1, next_at: at }, { at });
      const patch = { code: 'file' as const, reason, next_at: null };
      await moveEdition(tx, edition, 'held', patch, { at, actor: 'clockwork' });
    });
    return;
  }
  const agency = (await agencyOf(store))!;
  const client = (await clientById(store, edition.client_id))!;
  const manager = await memberById(store, client.managerId);
  const handed = await mailer.send(
    {
      messageId: message.message_id,
      from: { name: agency.name, address: agency.mailFrom },
      to: { name: delivery.name, address: delivery.email },
      replyTo: manager ? { name: manager.name, address: manager.email } : undefined,
      subject: message.subject,
      html: message.html,
      text: message.text,
      attachment: { fileName: message.file_name, content: kept.pdf },
      pictures: shown.pictures,
      date: new Date(message.created_at || edition.created_at),
    },
    signal,
  );
  crash('send.after-accepted-by-server');
  await writeDown(tools, claimed, handed);
  crash('send.after-accepted-in-store');
}
