import { MOST_CLIENT_MAIL_BYTES, ownOf } from '@chronicon/core/bounds';
import { type MailFile, MOST_MAIL_FILE_BYTES } from '@chronicon/core/report';
import { mimeOf, plainFileName } from '../mail/mime.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { outgoingOf } from '../scheduler/outgoing.ts';
import { editionById } from '../store/editions.ts';
import { addMailFile, mailFileBytes } from '../store/mailFiles.ts';
import { dkimKey } from '../store/mailRules.ts';
import type { Member } from '../store/members.ts';
import { deliveryById, messageById } from '../store/messages.ts';
import { theEdition } from './access.ts';
import type { Api } from './context.ts';

/** What mail programs open without asking who wrote it: the last part of a file's name, and what it is. */
const TYPES: Record<string, string> = {
  pdf: 'application/pdf',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  docx: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  pptx: 'application/vnd.openxmlformats-officedocument.presentationml.presentation',
  csv: 'text/csv',
  txt: 'text/plain',
  ics: 'text/calendar',
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
};

/** Keeps a file that goes with mails of a client. @throws Refusal at `file` in words for whoever brought it */
export async function takeMailFile(api: Api, clientId: string, data: Buffer, said: string): Promise<MailFile> {
  const name = plainFileName(said)
    .replace(/[:*?"<>|]+/g, ' ')
    .trim();
  const type = ownOf(TYPES, name.slice(name.lastIndexOf('.') + 1).toLowerCase());
  if (!type || !/\.[a-z]+$/i.test(name)) {
    throw atField('file', `Unsupported type. Allowed: ${Object.keys(TYPES).join(', ')}.`);
  }
  if (name.length > 120) throw atField('file', 'File names have at most 120 characters.');
  if (!Buffer.isBuffer(data) || data.length === 0) throw atField('file', 'This file is empty.');
  if (data.length > MOST_MAIL_FILE_BYTES) throw atField('file', 'This file is larger than 5 MB. Link to it instead.');
  if ((await mailFileBytes(api.store, clientId)) + data.length > MOST_CLIENT_MAIL_BYTES) {
    const most = Math.round(MOST_CLIENT_MAIL_BYTES / 1_000_000);
    throw atField('file', `No room: a client’s email files can have ${most} MB in total.`);
  }
  const file: MailFile = { file: await api.files.keep(data), name, type, size: data.length };
  await addMailFile(api.store, clientId, file, api.clock.now());
  return file;
}

/** The very mail of a delivery as a file of RFC 5322, as it is handed over. */
export async function mailFileOf(api: Api, member: Member, id: string): Promise<{ name: string; mime: Buffer }> {
  const delivery = await deliveryById(api.store, id);
  const edition = delivery && (await editionById(api.store, delivery.edition_id));
  if (!delivery || !edition) throw notFound('mail');
  await theEdition(api.store, member, edition.id);
  const message = await messageById(api.store, delivery.message_id);
  const made = await outgoingOf(api, { edition, message, delivery });
  if (!made.ok) throw new Refusal(409, made.reason);
  const name = message.file_name.replace(/\.pdf$/, '');
  return {
    name: `${name} – ${delivery.name || 'mail'}.eml`.replace(/[\\/:*?"<>|]/g, ' '),
    mime: await mimeOf(made.mail, await dkimKey(api.store, api.secrets, made.mail.signedBy)),
  };
}
