import { buffer } from 'node:stream/consumers';
import DKIM from 'nodemailer/lib/dkim';
import MailComposer from 'nodemailer/lib/mail-composer';
import type MimeNode from 'nodemailer/lib/mime-node';
import { encode, wrap } from 'nodemailer/lib/qp';
import type { DkimKey } from '../platform/mailServer.ts';

interface Mailbox {
  name: string;
  address: string;
}

export interface Unsubscribe {
  /** Asked for by mail, at this address. */
  mailto: string;
  /** A page of this server; null where readers do not reach it. */
  url: string | null;
  /** Whether one press in the mail program is enough: where the address is of this reader alone. */
  oneClick: boolean;
}

export interface OutgoingMail {
  messageId: string;
  from: Mailbox;
  /** Who gets it now. */
  to: Mailbox;
  /** Who stands in To and Cc where it is one mail for many; everybody sees the same. */
  lines?: { to?: readonly Mailbox[]; cc?: readonly Mailbox[] } | undefined;
  replyTo?: Mailbox | undefined;
  subject: string;
  html: string;
  text: string;
  attachments?: readonly { fileName: string; type: string; content: Buffer }[] | undefined;
  /** Pictures that stand in it, by what its HTML calls them (RFC 2392). */
  pictures?: readonly { cid: string; type: string; content: Buffer }[] | undefined;
  /** Where it comes back to, of its own (RFC 5321 §4.4); left out: its sender. */
  returnPath?: string | undefined;
  /** How a reader has no more of them (RFC 2369, RFC 8058). */
  unsubscribe?: Unsubscribe | undefined;
  /** The name of the key that it was first signed with; null: it was not; left out: it is signed with the key of now. */
  signedBy?: string | null | undefined;
  /** When the mail was written: the same each time that it is handed over. */
  date: Date;
}

/** A file's name without folders, ends of lines, and marks that turn what stands beside them (UAX 9). */
export const plainFileName = (name: string): string =>
  name
    .split(/[\\/]/)
    .pop()!
    .replace(/[\p{Cc}\p{Cf}]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** To and Cc. Where all of many stand in Bcc, To names nobody (RFC 5322 §3.4, an empty group). */
function addressed({ to, lines }: OutgoingMail) {
  if (!lines?.to && !lines?.cc) return { to };
  const { to: seen = [], cc = [] } = lines;
  return { to: seen.length > 0 ? [...seen] : 'Undisclosed recipients:;', cc: [...cc] };
}

/** Fields that are signed where they are there: all that a reader sees, and how to have no more (RFC 8058 §4). */
const SIGNED =
  'From:Sender:Reply-To:Subject:Date:Message-ID:To:Cc:MIME-Version:Content-Type:Auto-Submitted:List-Unsubscribe:List-Unsubscribe-Post';

/** Header fields that say how to have no more of them. */
function unsubscribeFields({ unsubscribe: u }: OutgoingMail): Record<string, string> {
  if (!u) return {};
  const ways = [...(u.url === null ? [] : [`<${u.url}>`]), `<mailto:${u.mailto}?subject=unsubscribe>`];
  return {
    'List-Unsubscribe': ways.join(', '),
    ...(u.url !== null && u.oneClick && { 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' }),
  };
}

async function signed(mime: Buffer, { domain, selector, privateKey }: DkimKey): Promise<Buffer> {
  const dkim = new DKIM({ domainName: domain, keySelector: selector, privateKey, headerFieldNames: SIGNED });
  return buffer(dkim.sign(mime));
}

/** A mail as bytes: the same mail gives the same bytes, however often it is handed over. */
export async function mimeOf(mail: OutgoingMail, dkim: DkimKey | null = null): Promise<Buffer> {
  const mime = composed(mail);
  return dkim ? signed(mime, dkim) : mime;
}

/** Characters of an encoded line (RFC 2045 §6.8). */
const LINE = 76;

/** By the contents themselves: an edition's readers get the same files. */
const known = new WeakMap<Buffer, Buffer>();

/** Contents as base64 in lines, without an end of the last one. */
function encoded(content: Buffer): Buffer {
  const before = known.get(content);
  if (before) return before;
  const plain = Buffer.from(content.toString('base64'), 'latin1');
  const lines = Math.ceil(plain.length / LINE);
  const out = Buffer.alloc(plain.length + Math.max(0, lines - 1) * 2, '\r\n');
  for (let i = 0; i < lines; i++) plain.copy(out, i * (LINE + 2), i * LINE, (i + 1) * LINE);
  known.set(content, out);
  return out;
}

const CRLF = '\r\n';
/** Lines end as they do on the wire (RFC 5322 §2.3). */
const onTheWire = (text: string): string => text.replace(/\r\n|\r|\n/g, CRLF);

/** Header fields of the library, whose lines end with CRLF; what ends one in any other way is no end there. */
const headOf = (part: MimeNode): string => part.buildHeaders().replace(/\r(?!\n)|(?<!\r)\n/g, ' ') + CRLF + CRLF;

/** A part's content as its header field says that it is encoded. */
function bodyOf({ content }: MimeNode, encoding: string | false): Buffer {
  if (typeof content !== 'string' && !Buffer.isBuffer(content)) return Buffer.alloc(0);
  if (encoding === 'base64') return encoded(typeof content === 'string' ? Buffer.from(onTheWire(content)) : content);
  const text = onTheWire(content.toString());
  return Buffer.from(encoding === 'quoted-printable' ? wrap(encode(text)) : text);
}

/** A part with those within it, as RFC 2046 §5.1 has them; ends without an end of line, unless it is a part of others. */
function* bytesOf(part: MimeNode): Generator<Buffer> {
  yield Buffer.from(headOf(part));
  yield bodyOf(part, part.getTransferEncoding());
  if (!part.multipart) return;
  for (const [i, child] of part.childNodes.entries()) {
    yield Buffer.from(`${i > 0 ? CRLF : ''}--${part.boundary}${CRLF}`);
    yield* bytesOf(child);
  }
  yield Buffer.from(`${CRLF}--${part.boundary}--${CRLF}`);
}

/**
 * The library makes the tree of parts, their header fields, and how each is encoded; the bytes are written here at once:
 * passed through its streams, they would take ten times as long.
 */
function composed(mail: OutgoingMail): Buffer {
  const composer = new MailComposer({
    messageId: `<${mail.messageId}>`,
    // Parts are divided by a text that hangs on the mail alone.
    baseBoundary: mail.messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40),
    from: mail.from,
    ...addressed(mail),
    ...(mail.replyTo && { replyTo: mail.replyTo }),
    subject: mail.subject,
    html: mail.html,
    text: mail.text,
    date: mail.date,
    disableFileAccess: true,
    disableUrlAccess: true,
    attachments: [
      ...(mail.pictures ?? []).map(({ cid, type, content }) => ({
        cid,
        content,
        contentType: type,
        contentTransferEncoding: 'base64' as const,
        contentDisposition: 'inline' as const,
        filename: type === 'image/png' ? 'picture.png' : 'picture.jpg',
      })),
      ...(mail.attachments ?? []).map(({ fileName, type, content }) => ({
        filename: plainFileName(fileName),
        content,
        contentType: type,
        contentTransferEncoding: 'base64' as const,
      })),
    ],
    headers: { 'Auto-Submitted': 'auto-generated', ...unsubscribeFields(mail) },
  } as ConstructorParameters<typeof MailComposer>[0]);
  return Buffer.concat([...bytesOf(composer.compile())]);
}
