import { SMTPServer } from 'smtp-server';
import type { StandinClock } from '../clock.ts';
import type { MailStore } from './mailStore.ts';

/** How the mail server can be told to misbehave. `down` closes its port. */
export const MAIL_FAULTS = ['none', 'down', 'busy', 'refuse', 'drop-after-data'] as const;
export type MailFault = (typeof MAIL_FAULTS)[number];

export interface SmtpStandin {
  readonly fault: MailFault;
  setFault(fault: MailFault): Promise<void>;
  /** Addresses that are refused for good (550), whatever else. */
  refused: Set<string>;
  close(): Promise<void>;
}

const fail = (code: number, text: string) => Object.assign(new Error(text), { responseCode: code });

function createServer(store: MailStore, clock: StandinClock, self: { fault: MailFault; refused: Set<string> }) {
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    size: 30 * 1024 * 1024,
    onRcptTo(address, _session, done) {
      if (self.fault === 'busy') done(fail(451, '4.3.2 Try again later'));
      else if (self.fault === 'refuse' || self.refused.has(address.address.toLowerCase())) {
        done(fail(550, '5.1.1 Mailbox unavailable'));
      } else done();
    },
    onData(stream, session, done) {
      const chunks: Buffer[] = [];
      stream.on('data', (c: Buffer) => chunks.push(c));
      stream.on('end', () => {
        const recipients = session.envelope.rcptTo.map((r) => r.address);
        store.deliver(Buffer.concat(chunks), recipients, clock.now()).then(
          // Kept, but the line breaks before the sender hears of it: it has to send again.
          () => (self.fault === 'drop-after-data' ? done(fail(421, '4.4.2 Connection dropped')) : done()),
          (error: Error) => done(error),
        );
      });
    },
  });
}

/** A real SMTP server (RFC 5321) whose mails land in the store. */
export async function startSmtp(port: number, store: MailStore, clock: StandinClock): Promise<SmtpStandin> {
  const state = { fault: 'none' as MailFault, refused: new Set<string>() };
  let server: SMTPServer | null = null;
  const open = () =>
    new Promise<void>((resolve, reject) => {
      server = createServer(store, clock, state);
      server.on('error', reject);
      server.listen(port, '127.0.0.1', () => {
        server!.off('error', reject);
        // A client that goes away in the middle of a mail is no reason to stop.
        server!.on('error', () => {});
        resolve();
      });
    });
  const close = () =>
    new Promise<void>((resolve) => {
      const closing = server;
      server = null;
      if (closing) closing.close(() => resolve());
      else resolve();
    });
  await open();
  return {
    get fault() {
      return state.fault;
    },
    refused: state.refused,
    async setFault(fault) {
      state.fault = fault;
      if (fault === 'down') await close();
      else if (!server) await open();
    },
    close,
  };
}
