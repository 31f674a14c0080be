import { Readable } from 'node:stream';
import SMTPConnection from 'nodemailer/lib/smtp-connection';
import { type MailServer, RFC_WAITS, type SmtpWaits } from '../ground/mailRules.ts';
import { mimeOf, type OutgoingMail } from './mime.ts';
import { type Failure, type Handed, outcomeOfFailure, type Phase } from './outcome.ts';

export interface Mailer {
  /** One conversation with the mail server; ends within the waits, or when `signal` says so. */
  send(mail: OutgoingMail, signal?: AbortSignal): Promise<Handed>;
}

const PART = 16 * 1024;

interface SmtpError extends Error {
  code?: string;
  originalCode?: string;
  command?: string;
  response?: string;
  responseCode?: number;
}

/** The mail in parts; tells when a part was taken and when the last one was. */
function partsOf(mime: Buffer, taken: (last: boolean) => void): Readable {
  let at = 0;
  return new Readable({
    read() {
      taken(at >= mime.length);
      this.push(at < mime.length ? mime.subarray(at, at + PART) : null);
      at += PART;
    },
  });
}

/** Hands mails to an SMTP server. */
export function createMailer(server: MailServer, waits: SmtpWaits = RFC_WAITS): Mailer {
  const { host, port, tls, user, password } = server;
  return {
    async send(mail, signal) {
      const mime = await mimeOf(mail);
      return new Promise<Handed>((resolve) => {
        let phase: Phase = 'connecting';
        let timer: NodeJS.Timeout | undefined;
        let ended = false;
        const connection = new SMTPConnection({
          host,
          port,
          secure: tls === 'implicit',
          requireTLS: tls === 'require',
          ignoreTLS: tls === 'never',
          logger: false,
          // Ours are shorter; these keep the library's own from ending a wait that the RFC grants.
          connectionTimeout: waits.answer * 2,
          greetingTimeout: waits.answer * 2,
          socketTimeout: waits.dot * 2,
        } as ConstructorParameters<typeof SMTPConnection>[0]);

        const end = (handed: Handed) => {
          if (ended) return;
          ended = true;
          clearTimeout(timer);
          signal?.removeEventListener('abort', abort);
          if (handed.kind === 'accepted') connection.quit();
          else connection.close();
          resolve(handed);
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
          if (error?.code === 'EMESSAGE' && failure.status === null && phase !== 'dot') {
            end({ kind: 'refused', reply: 'The mail is larger than the mail server takes.' });
          } else end(outcomeOfFailure(failure));
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
              ? { kind: 'uncertain', reply: 'This server was stopped while waiting for an answer.' }
              : { kind: 'aborted' },
          );
        };
        const handOver = () => {
          // MAIL, RCPT and DATA, each with its own wait.
          enter('envelope', waits.answer * 2);
          const envelope = { from: mail.from.address, to: [mail.to.address], size: mime.length };
          const parts = partsOf(mime, (last) => enter(last ? 'dot' : 'content', last ? waits.dot : waits.content));
          connection.send(envelope, parts, (error, info) => {
            if (error) fail(error as SmtpError);
            else end({ kind: 'accepted', reply: info.response ?? 'accepted' });
          });
        };

        connection.on('error', (error) => fail(error as SmtpError));
        if (signal?.aborted) {
          end({ kind: 'aborted' });
          return;
        }
        signal?.addEventListener('abort', abort);
        enter('connecting', waits.answer);
        connection.connect((error?: Error) => {
          if (error) fail(error as SmtpError);
          else if (user) {
            enter('signing-in', waits.answer);
            connection.login({ credentials: { user, pass: password } } as never, (refused) =>
              refused ? fail(refused as SmtpError) : handOver(),
            );
          } else handOver();
        });
      });
    },
  };
}
