import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
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

/** Headers of a mail and of its parts, and so the names of what is attached: contents are not looked at. */
function outlineOf(raw: Buffer): Promise<ParsedMail> {
  const heads = raw
    .toString('latin1')
    .split('\r\n--')
    .map((part) => {
      const end = part.indexOf('\r\n\r\n');
      return end < 0 ? part : part.slice(0, end + 4);
    });
  return simpleParser(Buffer.from(heads.join('\r\n--'), 'latin1'));
}

/** Mails as files in a folder, so that they outlive the process. */
export function openMailStore(folder: string): MailStore {
  mkdirSync(folder, { recursive: true });
  const mails = new Map<string, StoredMail>();
  /** By address and Message-ID. */
  const known = new Map<string, StoredMail>();
  const keyOf = (m: Pick<StoredMail, 'to' | 'messageId'>) => `${m.to} ${m.messageId}`;
  const keep = (mail: StoredMail) => {
    mails.set(mail.id, mail);
    if (mail.messageId !== '') known.set(keyOf(mail), mail);
  };
  for (const name of readdirSync(folder)
    .filter((n) => n.endsWith('.json'))
    .sort()) {
    const mail = JSON.parse(readFileSync(join(folder, name), 'utf8')) as StoredMail;
    keep(mail);
  }
  const write = (name: string, data: Buffer | string): void => {
    writeFileSync(join(folder, `${name}.new`), data);
    renameSync(join(folder, `${name}.new`), join(folder, name));
  };
  return {
    async deliver(raw, recipients, at) {
      const parsed = await outlineOf(raw);
      const hash = createHash('sha256').update(raw).digest('base64url');
      for (const to of recipients.map((r) => r.toLowerCase())) {
        const messageId = parsed.messageId ?? '';
        const again = known.get(keyOf({ to, messageId }));
        if (again) {
          again.times++;
          again.hashes.push(hash);
          write(`${again.id}.json`, JSON.stringify(again));
          continue;
        }
        const mail: StoredMail = {
          id: String(mails.size + 1).padStart(6, '0'),
          to,
          from: parsed.from?.text ?? '',
          subject: parsed.subject ?? '(no subject)',
          messageId,
          receivedAt: at.toISOString(),
          times: 1,
          hashes: [hash],
          attachments: attachedTo(parsed).map((a) => a.filename ?? 'attachment'),
        };
        write(`${mail.id}.eml`, raw);
        write(`${mail.id}.json`, JSON.stringify(mail));
        keep(mail);
      }
    },
    list: (address) => [...mails.values()].filter((m) => !address || m.to === address.toLowerCase()).reverse(),
    async read(id) {
      const mail = mails.get(id);
      if (!mail) return null;
      return { mail, parsed: await simpleParser(readFileSync(join(folder, `${id}.eml`))) };
    },
    clear() {
      rmSync(folder, { recursive: true, force: true });
      mkdirSync(folder, { recursive: true });
      mails.clear();
      known.clear();
    },
  };
}
