import type { MailShown } from '@chronicon/core/contract';
import type { MailContent } from '@chronicon/core/mail';
import { readFrozen } from '@chronicon/core/page';
import { pictureType } from '../mail/mailPictures.ts';
import { notFound, Refusal } from '../platform/refusal.ts';
import type { Addressee } from '../scheduler/addressees.ts';
import { mailPictures } from '../scheduler/editionFiles.ts';
import { composeMails, mailBasis } from '../scheduler/mails.ts';
import { settle } from '../scheduler/orders.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import { type EditionRow, ordersOf } from '../store/editions.ts';
import { agencyOf, memberById } from '../store/members.ts';
import { deliveriesOf, filesIn, messagesOf } from '../store/messages.ts';
import { type MailBody, unpacked } from '../store/packed.ts';
import type { Api } from './context.ts';

export type Scheme = 'light' | 'dark';

/** A picture as it stands within a page by itself (RFC 2397). */
const dataUri = (content: Buffer): string => `data:${pictureType(content)};base64,${content.toString('base64')}`;

/** HTML whose pictures stand within it, and which has the night's colours where these are asked for. */
export function whole(html: string, pictures: readonly { cid: string; content: Buffer }[], scheme: Scheme): string {
  const shown = pictures.reduce(
    (text, { cid, content }) => text.replaceAll(`src="cid:${cid}"`, `src="${dataUri(content)}"`),
    html,
  );
  return scheme === 'dark'
    ? shown.replace('@media (prefers-color-scheme:dark)', '@media all')
    : shown.replace('@media (prefers-color-scheme:dark)', '@media not all');
}

/** Whom the mails of a client are from, and where answers go. */
export async function senderOf(api: Api, client: StoredClient): Promise<MailShown['from']> {
  const agency = (await agencyOf(api.store))!;
  const manager = await memberById(api.store, client.managerId);
  return { name: agency.name, address: agency.mailFrom, replyTo: manager?.email ?? null };
}

export const person = ({ id, name, email }: Addressee) => ({ id, name, email });

export const filesWith = (mail: Pick<MailContent, 'fileName' | 'files'>, formats: readonly string[] = []): string[] => [
  mail.fileName,
  ...formats.map((format) => mail.fileName.replace(/pdf$/, format)),
  ...mail.files.map((f) => f.name),
];

/** HTML of a mail of an edition, with its pictures in it. */
async function withPictures(
  api: Api,
  { html, pictures }: Pick<MailBody, 'html' | 'pictures'>,
  e: EditionRow,
  scheme: Scheme,
): Promise<string> {
  const kept = await mailPictures(api, e, pictures);
  return whole(html, kept.ok ? kept.pictures : [], scheme);
}

export async function mailOfEdition(api: Api, e: EditionRow, reader: string, scheme: Scheme): Promise<MailShown> {
  const client = (await clientById(api.store, e.client_id))!;
  const from = await senderOf(api, client);
  const sent = await messagesOf(api.store, e.id);
  if (sent.length > 0) {
    const all = await deliveriesOf(api.store, [e.id]);
    for (const m of sent) {
      const d = all.find((x) => x.message_id === m.id && x.reader_id === reader);
      if (!d) continue;
      // What went does not follow its schedule any more.
      const { formats } = ordersOf(e);
      const files = filesIn(m.files);
      const said = unpacked(m.body);
      return {
        to: { id: reader, name: d.name, email: d.email },
        from,
        subject: m.subject,
        preview: '',
        html: await withPictures(api, said, e, scheme),
        text: said.text,
        files: filesWith({ fileName: m.file_name, files }, formats),
      };
    }
  }
  if (e.frozen === null) throw notFound('mail');
  const frozen = readFrozen(api.files.read(e.frozen).toString('utf8'), `the edition ${e.id}`);
  const { orders } = await settle(api.store, e);
  const mails = await composeMails(await mailBasis(api, api.store, e, orders), frozen);
  if (!mails.ok) throw new Refusal(422, mails.reason);
  const m = mails.messages.find((x) => x.to.some((t) => t.reader === reader));
  if (!m) throw notFound('mail');
  const to = m.to.find((t) => t.reader === reader)!;
  return {
    to: { id: reader, name: to.name, email: to.email },
    from,
    subject: m.subject,
    preview: '',
    html: await withPictures(api, m, e, scheme),
    text: m.text,
    files: filesWith(m, orders.formats),
  };
}
