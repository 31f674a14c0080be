import { returnPathOf } from '@chronicon/core/edition';
import type { MailFile } from '@chronicon/core/report';
import type { OutgoingMail } from '../mail/mime.ts';
import { clientById } from '../store/clients.ts';
import type { EditionRow } from '../store/editions.ts';
import { mailRules, tokenKey, tokenOfDelivery, tokenOfMessage } from '../store/mailRules.ts';
import { agencyOf, memberById } from '../store/members.ts';
import type { DeliveryRow, MailLines, MessageRow } from '../store/messages.ts';
import { unpacked } from '../store/packed.ts';
import { mailFiles, mailPictures, pdfOf, tablesOf } from './editionFiles.ts';
import type { Tools } from './tools.ts';

/** The mail of a delivery, whole: the very one that is handed over; or what of it is not to be had. */
export async function outgoingOf(
  tools: Pick<Tools, 'store' | 'files' | 'workers' | 'log'>,
  { edition, message, delivery }: { edition: EditionRow; message: MessageRow; delivery: DeliveryRow },
): Promise<{ ok: true; mail: OutgoingMail } | { ok: false; reason: string }> {
  const { store } = tools;
  const kept = await pdfOf(tools, edition);
  const { html, text } = unpacked(message.body);
  const shown = await mailPictures(tools, edition, html);
  const extra = mailFiles(tools, JSON.parse(message.files) as MailFile[]);
  if (!kept.ok || !shown.ok || !extra.ok) {
    return { ok: false, reason: [kept, shown, extra].flatMap((f) => (f.ok ? [] : [f.reason])).join(' ') };
  }
  const agency = (await agencyOf(store))!;
  const client = (await clientById(store, edition.client_id))!;
  const manager = await memberById(store, client.managerId);
  const { bounces } = await mailRules(store);
  const key = await tokenKey(store);
  const token = tokenOfDelivery(key, delivery.id);
  const lines = JSON.parse(message.lines) as MailLines;
  const isShared = lines.to !== undefined || lines.cc !== undefined;
  const page = isShared ? `/unsubscribe/all/${tokenOfMessage(key, message.id)}` : `/unsubscribe/${token}`;
  return {
    ok: true,
    mail: {
      messageId: message.message_id,
      from: { name: agency.name, address: agency.mailFrom },
      to: { name: delivery.name, address: delivery.email },
      lines,
      ...(bounces !== '' && { returnPath: returnPathOf(bounces, token) }),
      // One mail for many is the same bytes for each of them.
      ...((isShared || !delivery.reader_id.startsWith('me_')) && {
        unsubscribe: {
          mailto: agency.mailFrom,
          url: message.home === '' ? null : new URL(page, message.home).href,
          oneClick: !isShared,
        },
      }),
      replyTo: manager ? { name: manager.name, address: manager.email } : undefined,
      subject: message.subject,
      html,
      text,
      attachments: [
        { fileName: message.file_name, type: 'application/pdf', content: kept.pdf },
        ...(await tablesOf(tools, edition, message.file_name)),
        ...extra.attachments,
      ],
      pictures: shown.pictures,
      date: new Date(message.created_at || edition.created_at),
    },
  };
}
