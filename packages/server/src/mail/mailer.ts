import { type DkimKey, type MailServer, RFC_WAITS, type SmtpWaits } from '../platform/mailServer.ts';
import { ContentOfData } from './contentOfData.ts';
import { createLines, type Line } from './lines.ts';
import { mimeOf, type OutgoingMail } from './mime.ts';
import { type Failure, type Handed, outcomeOfFailure, type Phase } from './outcome.ts';

export interface Mailer {
  /** One mail to the mail server; ends within the waits, or when `signal` says so. */
  send(mail: OutgoingMail, signal?: AbortSignal): Promise<Handed>;
  /** Ends lines that are kept for the next mail. */
  close(): void;
}

interface SmtpError extends Error {
  code?: string;
  originalCode?: string;
  command?: string;
  response?: string;
  responseCode?: number;
}

const megabytes = (bytes: number): string => `${(bytes / 1_000_000).toFixed(1)} MB`;

/** The mail is larger than the server says that it takes (RFC 1870), with what is to be done. */
function tooLarge(bytes: number, said: string): string {
  const most = Number(/allowed (\d+)/.exec(said)?.[1]);
  const limit = most > 0 ? ` ${megabytes(most)}` : ' less';
  return `The email has ${megabytes(bytes)}; the mail server accepts${limit}. Remove files or pages, or raise the mail server’s limit.`;
}

/** A line that was kept was ended by the server meanwhile, before it took anything of this mail. */
type Talked = Handed | { kind: 'stale' };

/**
 * Hands mails to an SMTP server, over lines that are used again.
 * @param dkim what mails are signed with (RFC 6376); null for nothing
 */
export function createMailer(server: MailServer, waits: SmtpWaits = RFC_WAITS, dkim: DkimKey | null = null): Mailer {
  const { user, password } = server;
  const lines = createLines(server, waits);

  const talk = (line: Line, isNew: boolean, mail: OutgoingMail, mime: Buffer, signal?: AbortSignal) =>
    new Promise<Talked>((resolve, reject) => {
      let phase: Phase = isNew ? 'connecting' : 'envelope';
      let timer: NodeJS.Timeout | undefined;
      let ended = false;
      const { connection } = line;

      const end = (talked: Talked) => {
        if (ended) return;
        ended = true;
        clearTimeout(timer);
        signal?.removeEventListener('abort', abort);
        if (talked.kind === 'accepted') {
          line.mails++;
          lines.keep(line);
        } else {
          line.onError = () => undefined;
          line.isOpen = false;
          connection.close();
        }
        resolve(talked);
      };
      const fail = (error: SmtpError | null, timedOut = false) => {
        const failure: Failure = {
          phase,
          command: error?.command ?? null,
          status: error?.responseCode ?? null,
          response: error?.response ?? null,
          codes: [error?.code, error?.originalCode].flatMap((c) => c ?? []),
          timedOut: timedOut || error?.code === 'ETIMEDOUT',
        };
        const isBroken = failure.status === null || failure.status === 421;
        if (error?.code === 'EMESSAGE' && failure.status === null && phase !== 'dot') {
          end({ kind: 'refused', reply: tooLarge(mime.length, error.message) });
        } else if (!isNew && phase === 'envelope' && isBroken && !failure.timedOut) end({ kind: 'stale' });
        else end(outcomeOfFailure(failure));
      };
      const enter = (next: Phase, wait: number) => {
        if (ended) return;
        phase = next;
        clearTimeout(timer);
        timer = setTimeout(() => fail(null, true), wait);
      };
      const abort = () => {
        end(
          phase === 'dot'
            ? { kind: 'uncertain', reply: 'The server stopped while waiting for a reply.' }
            : { kind: 'aborted' },
        );
      };
      /** What fails on our side, in whatever callback, ends this conversation and is the caller's to know. */
      const step = (work: () => void) => {
        try {
          work();
        } catch (error) {
          ended = true;
          clearTimeout(timer);
          signal?.removeEventListener('abort', abort);
          line.isOpen = false;
          connection.close();
          reject(error);
        }
      };
      const transmit = () => {
        // MAIL, RCPT and DATA, each with its own wait.
        enter('envelope', waits.answer * 2);
        const envelope = { from: mail.returnPath ?? mail.from.address, to: [mail.to.address], size: mime.length };
        const content = new ContentOfData(mime, (last) =>
          enter(last ? 'dot' : 'content', last ? waits.dot : waits.content),
        );
        connection.send(envelope, content, (error, info) => {
          if (error) fail(error as SmtpError);
          else end({ kind: 'accepted', reply: info.response ?? 'accepted' });
        });
      };

      line.onError = (error) => fail(error as SmtpError);
      if (signal?.aborted) {
        end({ kind: 'aborted' });
        return;
      }
      signal?.addEventListener('abort', abort);
      const signIn = () => {
        enter('signing-in', waits.answer);
        connection.login({ credentials: { user, pass: password } } as never, (refused) =>
          refused ? fail(refused as SmtpError) : step(transmit),
        );
      };
      if (!isNew) {
        step(transmit);
        return;
      }
      enter('connecting', waits.answer);
      step(() =>
        connection.connect((error?: Error) => {
          if (error) fail(error as SmtpError);
          else step(user ? signIn : transmit);
        }),
      );
    });

  return {
    async send(mail, signal) {
      const mime = await mimeOf(mail, dkim);
      for (let known = lines.take(); known; known = lines.take()) {
        const talked = await talk(known, false, mail, mime, signal);
        if (talked.kind !== 'stale') return talked;
      }
      return (await talk(lines.make(), true, mail, mime, signal)) as Handed;
    },
    close: () => lines.close(),
  };
}
