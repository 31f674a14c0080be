import { ImapFlow, type MailboxObject } from 'imapflow';
import type { BounceBox } from '../store/bounceBox.ts';
import { MOST_BOUNCE_BYTES } from './readBounce.ts';
import { isCertificateFault, isTlsFault } from './tlsFaults.ts';

/** A mailbox that cannot be read, with what mends it. */
export class BoxError extends Error {
  constructor(
    readonly reason: string,
    readonly mend: string,
  ) {
    super(`${reason} ${mend}`);
  }
}

/** Mails that are looked at over one line, and numbers that are asked for at once: a mailbox may hold years of mails. */
const MOST_MAILS = 200;
const NUMBERS = 5_000;
/** Milliseconds for the line to open, for the greeting, and without a word. */
const WAITS = { connectionTimeout: 15_000, greetingTimeout: 15_000, socketTimeout: 30_000 };

const noFolder = ({ folder }: Pick<BounceBox, 'folder'>) =>
  new BoxError(`There is no folder “${folder}” in the mailbox.`, 'Check the folder’s name.');

function errorOf(error: unknown, box: BounceBox): BoxError {
  const { host, port } = box;
  const e = error as {
    code?: string;
    authenticationFailed?: boolean;
    mailboxMissing?: boolean;
    tlsFailed?: boolean;
    responseText?: string;
    message: string;
  };
  const said = e.responseText ? ` It says: ${e.responseText}` : '';
  if (e.authenticationFailed) {
    return new BoxError(`The mailbox server rejected our sign-in.${said}`, 'Check the user name and password.');
  }
  if (e.mailboxMissing) return noFolder(box);
  if (isCertificateFault(e.code ?? '')) {
    return new BoxError(
      'The mailbox server’s certificate is not valid.',
      'Renew it, or use the host name in the certificate.',
    );
  }
  if (['ENOTFOUND', 'EAI_AGAIN', 'EDNS'].includes(e.code ?? '')) {
    return new BoxError('The mailbox server’s host name can’t be found.', 'Check the host name.');
  }
  if (e.code === 'ECONNREFUSED') {
    return new BoxError(`No response from ${host}, port ${port}.`, 'Check host and port.');
  }
  if (e.tlsFailed || isTlsFault(e.code ?? '')) {
    return new BoxError('Encryption settings don’t match the mailbox server.', 'Check port and encryption.');
  }
  const mend = 'Check host, port and encryption.';
  if (/TIMEOUT|ETIMEDOUT/i.test(e.code ?? '')) {
    return new BoxError(`The server at ${host}, port ${port}, isn’t a mailbox server.`, mend);
  }
  return new BoxError(`The mailbox could not be read: ${e.message.replace(/\.$/, '')}.`, mend);
}

export interface MailboxLook {
  validity: string;
  /** The last mail that was looked at. */
  uid: number;
  /** Whether more lie there than were looked at. */
  more: boolean;
}

/** Does something with the open folder of a mailbox, and ends the line whatever happens. @throws BoxError */
async function withBox<T>(
  box: BounceBox,
  work: (client: ImapFlow, opened: MailboxObject) => Promise<T>,
  signal?: AbortSignal,
): Promise<T> {
  const client = new ImapFlow({
    host: box.host,
    port: box.port,
    secure: box.tls === 'implicit',
    ...(box.tls === 'require' && { doSTARTTLS: true }),
    ...(box.tls === 'never' && { doSTARTTLS: false }),
    auth: { user: box.user, pass: box.password },
    logger: false,
    disableAutoIdle: true,
    maxLiteralSize: MOST_BOUNCE_BYTES * 2,
    ...WAITS,
  });
  // A line that breaks between two questions is told by the next of them.
  client.on('error', () => undefined);
  const end = () => client.close();
  signal?.addEventListener('abort', end);
  try {
    await client.connect();
    await client.mailboxOpen(box.folder);
    if (!client.mailbox) throw noFolder(box);
    return await work(client, client.mailbox);
  } catch (error) {
    throw error instanceof BoxError ? error : errorOf(error, box);
  } finally {
    signal?.removeEventListener('abort', end);
    end();
  }
}

/** Opens a mailbox, to see whether it can be read. @returns how many mails lie in it @throws BoxError */
export const tryBox = (box: BounceBox): Promise<number> => withBox(box, async (_client, { exists }) => exists);

/**
 * Looks at mails of a mailbox that came after the last one that was looked at; all of them where its numbers are others now.
 * What `take` says is ours is marked as seen; everything else is left as it is, and nothing is taken away.
 * @throws BoxError, or what `take` throws
 */
export async function readBox(
  box: BounceBox,
  from: { validity: string; uid: number },
  take: (raw: Buffer) => Promise<boolean>,
  signal?: AbortSignal,
): Promise<MailboxLook> {
  /** What went wrong on our side is not the mailbox's. */
  const ours: unknown[] = [];
  const looked = await withBox(
    box,
    async (client, opened) => {
      const validity = String(opened.uidValidity);
      const last = opened.uidNext - 1;
      let uid = validity === from.validity ? from.uid : 0;
      for (let left = MOST_MAILS; left > 0 && uid < last; ) {
        const until = Math.min(last, uid + NUMBERS);
        const found = await client.fetchAll(`${uid + 1}:${until}`, { uid: true, size: true }, { uid: true });
        // Some are told that were not asked for (RFC 9051 §6.4.9).
        const fresh = found.filter((m) => m.uid > uid && m.uid <= until).sort((a, b) => a.uid - b.uid);
        for (const m of fresh.slice(0, left)) {
          const small = (m.size ?? 0) <= MOST_BOUNCE_BYTES;
          const whole = small && (await client.fetchOne(String(m.uid), { source: true }, { uid: true }));
          if (whole && whole.source !== undefined) {
            const isOurs = await take(whole.source).catch((error: unknown) => void ours.push(error));
            if (ours.length > 0) return { validity, uid, more: false };
            if (isOurs) await client.messageFlagsAdd(String(m.uid), ['\\Seen'], { uid: true });
          }
          uid = m.uid;
        }
        if (fresh.length <= left) uid = until;
        left -= fresh.length;
      }
      return { validity, uid, more: uid < last };
    },
    signal,
  );
  if (ours.length > 0) throw ours[0];
  return looked;
}
