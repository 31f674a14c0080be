import SMTPConnection from 'nodemailer/lib/smtp-connection';
import type { MailServer, SmtpWaits } from '../platform/mailServer.ts';

/** A line to the mail server: open, greeted, and signed in once its user says so. */
export interface Line {
  connection: SMTPConnection;
  /** Mails that went over it. */
  mails: number;
  /** What its user does when it breaks. */
  onError: (error: Error) => void;
  isOpen: boolean;
}

/** Lines that were used and may be used again: greeting, encryption and sign-in cost more than a mail does. */
export interface Lines {
  /** One that is open already; null where there is none. */
  take(): Line | null;
  /** A new one that is not connected yet. */
  make(): Line;
  /** Keeps it for the next mail, for a while. */
  keep(line: Line): void;
  /** Ends those that nobody uses. */
  close(): void;
}

/** Mails over one line: servers end those that never end. */
const MOST_MAILS = 100;
/** Milliseconds that one is kept for the next mail; servers wait for minutes (RFC 5321 §4.5.3.2.7). */
const KEPT = 10_000;
const MOST_KEPT = 12;

export function createLines({ host, port, tls }: MailServer, waits: SmtpWaits): Lines {
  const kept = new Map<Line, NodeJS.Timeout>();
  const drop = (line: Line) => {
    clearTimeout(kept.get(line));
    kept.delete(line);
  };
  const quit = (line: Line) => {
    drop(line);
    line.isOpen = false;
    line.connection.quit();
  };
  return {
    take() {
      // The one that was used last: the others run out.
      const line = [...kept.keys()].at(-1) ?? null;
      if (line) drop(line);
      return line;
    },
    make() {
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
      const line: Line = { connection, mails: 0, onError: () => undefined, isOpen: true };
      const lost = () => {
        line.isOpen = false;
        drop(line);
      };
      connection.on('error', (error) => {
        lost();
        line.onError(error);
      });
      connection.once('end', lost);
      return line;
    },
    keep(line) {
      line.onError = () => undefined;
      if (!line.isOpen || line.mails >= MOST_MAILS || kept.size >= MOST_KEPT) {
        quit(line);
        return;
      }
      const timer = setTimeout(() => quit(line), KEPT);
      timer.unref();
      kept.set(line, timer);
    },
    close() {
      for (const line of [...kept.keys()]) quit(line);
    },
  };
}
