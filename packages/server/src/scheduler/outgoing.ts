import { returnPathOf } from '@chronicon/core/edition';
import type { OutgoingMail } from '../mail/mime.ts';
import type { EditionRow } from '../store/editions.ts';
import { headOf } from '../store/mailHead.ts';
import { bounceToken, leaveAllToken, leaveToken, tokenKey } from '../store/mailTokens.ts';
import type { DeliveryRow, MessageRow } from '../store/messages.ts';
import { filesIn, linesIn } from '../store/messages.ts';
import { unpacked } from '../store/packed.ts';
import { mailFiles, mailPictures, pdfOf, tablesOf } from './editionFiles.ts';
import type { Tools } from './tools.ts';

/** The mail of a delivery, whole: the very one that is handed over; or what of it is not to be had. */
export async function outgoingOf(
  tools: Pick<Tools, 'store' | 'secrets' | 'files' | 'workers' | 'log'>,
  { edition, message, delivery }: { edition: EditionRow; message: MessageRow; delivery: DeliveryRow },
): Promise<{ ok: true; mail: OutgoingMail } | { ok: false; reason: string }> {
  const { store } = tools;
  const kept = await pdfOf(tools, edition);
  const { html, text, pictures } = unpacked(message.body);
  const shown = await mailPictures(tools, edition, pictures);
  const extra = mailFiles(tools, filesIn(message.files));
  if (!kept.ok || !shown.ok || !extra.ok) {
    return { ok: false, reason: [kept, shown, extra].flatMap((f) => (f.ok ? [] : [f.reason])).join(' ') };
  }
  const { from, replyTo, bounces, dkim } = await headOf(store, message, edition);
  const key = await tokenKey(store, tools.secrets);
  const lines = linesIn(message.lines);
  const isShared = lines.to !== undefined || lines.cc !== undefined;
  const page = isShared
    ? `/unsubscribe/all/${leaveAllToken(key, message.id)}`
    : `/unsubscribe/${leaveToken(key, delivery.id)}`;
  return {
    ok: true,
    mail: {
      messageId: message.message_id,
      from,
      to: { name: delivery.name, address: delivery.email },
      lines,
      ...(bounces !== '' && { returnPath: returnPathOf(bounces, bounceToken(key, delivery.id)) }),
      // One mail for many is the same bytes for each of them.
      ...((isShared || !delivery.reader_id.startsWith('me_')) && {
        unsubscribe: {
          mailto: from.address,
          url: message.home === '' ? null : new URL(page, message.home).href,
          oneClick: !isShared,
        },
      }),
      replyTo: replyTo ?? undefined,
      signedBy: dkim,
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
