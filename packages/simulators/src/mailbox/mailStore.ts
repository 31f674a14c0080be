import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import mime from 'libmime';
import { type ParsedMail, simpleParser } from 'mailparser';

/** One mail as it arrived for one address. */
export interface StoredMail {
  id: string;
  to: string;
  from: string;
  subject: string;
  messageId: string;
  receivedAt: string;
  /** How often the same Message-ID came for the same address; repeats are not shown again. */
  times: number;
  /** Hash of the bytes of each time that it came: the same mail is the same bytes. */
  hashes: string[];
  attachments: string[];
}

export interface MailStore {
  /** Takes a mail in for each address. A Message-ID that the address has already is counted, not kept twice. */
  deliver(raw: Buffer, recipients: string[], at: Date): Promise<void>;
  /** Newest first; of one address when given. */
  list(address?: string): StoredMail[];
  read(id: string): Promise<{ mail: StoredMail; parsed: ParsedMail } | null>;
  clear(): void;
}

/** What is attached to a mail, pictures that stand within it left out. */
export const attachedTo = (parsed: ParsedMail) => parsed.attachments.filter((a) => !a.related);

/** What lists show of a mail. */
type Outline = Pick<StoredMail, 'from' | 'subject' | 'attachments'> & { hash: string };
/** A mail as it is noted down when it comes, with the hashes of the times that it came again. */
type Arrived = Omit<StoredMail, keyof Outline | 'hashes'> & { repeats: string[] };

const hashOf = (raw: Buffer): string => createHash('sha256').update(raw).digest('base64url');

type Fields = Record<string, string[]>;
const END_OF_HEAD = '\r\n\r\n';
const headOf = (raw: Buffer): Fields => {
  const end = raw.indexOf(END_OF_HEAD);
  return mime.decodeHeaders(raw.toString('latin1', 0, end < 0 ? raw.length : end + 2));
};
const wordsOf = (fields: Fields, name: string): string => mime.decodeWords(fields[name]?.[0] ?? '');

/** Read from the header fields of the mail and of its parts: contents are not looked at. */
function outlineOf(raw: Buffer): Outline {
  const fields = headOf(raw);
  const attachments: string[] = [];
  for (let at = raw.indexOf('\r\n--'); at >= 0; at = raw.indexOf('\r\n--', at + 4)) {
    const part = raw.indexOf('\r\n', at + 4);
    const end = part < 0 ? -1 : raw.indexOf(END_OF_HEAD, part);
    if (end < 0) break;
    const { 'content-disposition': said } = mime.decodeHeaders(raw.toString('latin1', part + 2, end + 2)) as Fields;
    const { value, params } = mime.parseHeaderValue(said?.[0] ?? '');
    if (value === 'attachment') attachments.push(mime.decodeWords(String(params.filename ?? 'attachment')));
  }
  const subject = wordsOf(fields, 'subject') || '(no subject)';
  return { from: wordsOf(fields, 'from'), subject, attachments, hash: hashOf(raw) };
}

/** Mails as files in a folder, so that they outlive the process. */
export function openMailStore(folder: string): MailStore {
  mkdirSync(folder, { recursive: true });
  const mails = new Map<string, Arrived>();
  /** By address and Message-ID. */
  const known = new Map<string, Arrived>();
  const keyOf = (m: Pick<Arrived, 'to' | 'messageId'>) => `${m.to} ${m.messageId}`;
  const keep = (mail: Arrived) => {
    mails.set(mail.id, mail);
    if (mail.messageId !== '') known.set(keyOf(mail), mail);
  };
  for (const name of readdirSync(folder)
    .filter((n) => n.endsWith('.json'))
    .sort()) {
    keep(JSON.parse(readFileSync(join(folder, name), 'utf8')) as Arrived);
  }
  const rawOf = (id: string) => readFileSync(join(folder, `${id}.eml`));
  /** Of those that somebody looked at: taking mails in is all that a full night needs. */
  const outlines = new Map<string, Outline>();
  const shown = (mail: Arrived): StoredMail => {
    const outline = outlines.get(mail.id) ?? outlineOf(rawOf(mail.id));
    outlines.set(mail.id, outline);
    const { hash, ...rest } = outline;
    const { repeats, ...known } = mail;
    return { ...known, ...rest, hashes: [hash, ...repeats] };
  };
  const write = (name: string, data: Buffer | string): void => {
    writeFileSync(join(folder, `${name}.new`), data);
    renameSync(join(folder, `${name}.new`), join(folder, name));
  };
  return {
    async deliver(raw, recipients, at) {
      const messageId = headOf(raw)['message-id']?.[0]?.trim() ?? '';
      for (const to of recipients.map((r) => r.toLowerCase())) {
        const again = known.get(keyOf({ to, messageId }));
        if (again) {
          again.times++;
          again.repeats.push(hashOf(raw));
          write(`${again.id}.json`, JSON.stringify(again));
          continue;
        }
        const id = String(mails.size + 1).padStart(6, '0');
        const mail: Arrived = { id, to, messageId, receivedAt: at.toISOString(), times: 1, repeats: [] };
        write(`${mail.id}.eml`, raw);
        write(`${mail.id}.json`, JSON.stringify(mail));
        keep(mail);
      }
    },
    list: (address) =>
      [...mails.values()]
        .filter((m) => !address || m.to === address.toLowerCase())
        .reverse()
        .map(shown),
    async read(id) {
      const mail = mails.get(id);
      if (!mail) return null;
      return { mail: shown(mail), parsed: await simpleParser(rawOf(id)) };
    },
    clear() {
      rmSync(folder, { recursive: true, force: true });
      mkdirSync(folder, { recursive: true });
      mails.clear();
      known.clear();
      outlines.clear();
    },
  };
}
