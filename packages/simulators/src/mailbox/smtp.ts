import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';
import type { SimulatorClock } from '../clock.ts';
import type { MailStore } from './mailStore.ts';
import { sendBack } from './sendBack.ts';

/**
 * How the mail server can be told to misbehave. `down` closes its port; `silent` never greets; `closed` greets with 554;
 * `refuse-sender` takes mail from nobody; `slow` answers the last dot seconds late; `drop-after-data` keeps the mail and
 * breaks the line before it says so; `drop-at-data` breaks it before the mail has come; `greylist` puts each reader off
 * once; `ask-to-sign-in` takes nothing from strangers; `bad-certificate` offers encryption with one that nobody has signed;
 * `small` takes mails of some kilobytes alone (RFC 1870); `seven-bit` does not know 8BITMIME (RFC 6152).
 */
export const MAIL_FAULTS = [
  'none',
  'down',
  'silent',
  'closed',
  'refuse-sender',
  'busy',
  'refuse',
  'slow',
  'drop-at-data',
  'drop-after-data',
  'greylist',
  'ask-to-sign-in',
  'bad-certificate',
  'small',
  'seven-bit',
] as const;
export type MailFault = (typeof MAIL_FAULTS)[number];

/** Faults that it has from the moment on in which it opens. */
const AT_OPENING: readonly MailFault[] = ['ask-to-sign-in', 'bad-certificate', 'small', 'seven-bit'];

/** Who may sign in; mails are taken from others, too, as from a machine that the server knows. */
export const SMTP_ACCOUNT = { user: 'reports', password: 'plum-velvet-harbour-88' };

export interface SmtpSimulator {
  readonly port: number;
  readonly fault: MailFault;
  setFault(fault: MailFault): Promise<void>;
  /** Seconds that `slow` takes. */
  delay: number;
  /** Conversations that are open at present, and the most there ever were. */
  readonly open: number;
  most: number;
  /** Addresses that are refused for good (550), whatever else. */
  refused: Set<string>;
  /** Addresses that are taken and come back later (RFC 3464), each with the status that is told. */
  bouncing: Map<string, string>;
  /** Where what comes back is handed over; null: nowhere. */
  backTo: number | null;
  close(): Promise<void>;
}

/** Bytes that it takes, and how many it takes when it is told to be `small`. */
const MOST_BYTES = 30 * 1024 * 1024;
const FEW_BYTES = 20 * 1024;

/** What is true of one server at present. */
interface State {
  /** Readers who were put off once. */
  putOff: Set<string>;
  fault: MailFault;
  refused: Set<string>;
  bouncing: Map<string, string>;
  backTo: number | null;
  delay: number;
  open: number;
  most: number;
}

const fail = (code: number, text: string) => Object.assign(new Error(text), { responseCode: code });

function createServer(store: MailStore, clock: SimulatorClock, self: State) {
  const cut = (id: string) => {
    for (const c of server.connections as Set<{ session: { id: string }; _socket: { destroy(): void } }>) {
      if (c.session.id === id) c._socket.destroy();
    }
  };
  const { fault } = self;
  const server: SMTPServer = new SMTPServer({
    authOptional: fault !== 'ask-to-sign-in',
    disabledCommands: fault === 'bad-certificate' ? [] : ['STARTTLS'],
    hide8BITMIME: fault === 'seven-bit',
    hideSMTPUTF8: fault === 'seven-bit',
    allowInsecureAuth: true,
    onAuth({ username, password }, _session, done) {
      const known = username === SMTP_ACCOUNT.user && password === SMTP_ACCOUNT.password;
      if (known) done(null, { user: username });
      else done(fail(535, '5.7.8 Authentication credentials invalid'));
    },
    logger: false,
    size: fault === 'small' ? FEW_BYTES : MOST_BYTES,
    onConnect(_session, done) {
      self.open++;
      self.most = Math.max(self.most, self.open);
      if (self.fault === 'closed') done(fail(554, '5.3.2 No SMTP service here'));
      else if (self.fault !== 'silent') done();
    },
    onClose() {
      self.open--;
    },
    onMailFrom(_address, _session, done) {
      if (self.fault === 'refuse-sender') done(fail(550, '5.7.1 Sender not allowed'));
      else done();
    },
    onRcptTo(address, _session, done) {
      const to = address.address.toLowerCase();
      if (self.fault === 'busy') done(fail(451, '4.3.2 Try again later'));
      else if (self.fault === 'greylist' && !self.putOff.has(to)) {
        self.putOff.add(to);
        done(fail(450, '4.2.0 Greylisted, come back in a minute'));
      } else if (self.fault === 'refuse' || self.refused.has(to)) {
        done(fail(550, '5.1.1 Mailbox unavailable'));
      } else done();
    },
    onData(stream, session, done) {
      if (self.fault === 'drop-at-data') {
        cut(session.id);
        return;
      }
      const chunks: Buffer[] = [];
      stream.on('data', (c: Buffer) => chunks.push(c));
      stream.on('end', () => {
        const recipients = session.envelope.rcptTo.map((r) => r.address);
        const raw = Buffer.concat(chunks);
        const back = recipients.filter((r) => self.bouncing.has(r.toLowerCase()));
        const kept = recipients.filter((r) => !back.includes(r));
        for (const r of back) {
          const { mailFrom } = session.envelope;
          const from = mailFrom ? mailFrom.address : '';
          if (self.backTo !== null && from !== '') {
            // As servers do: taken first, and sent back by a conversation of its own.
            setTimeout(() => {
              sendBack(self.backTo!, {
                to: from,
                recipient: r,
                status: self.bouncing.get(r.toLowerCase())!,
                raw,
              }).catch((error: Error) => console.error(`a mail could not be sent back: ${error.message}`));
            }, 50);
          }
        }
        store.deliver(raw, kept, clock.now()).then(
          // Kept, but the line breaks before the sender hears of it: it has to send again.
          () => {
            if (self.fault === 'drop-after-data') cut(session.id);
            else if (self.fault === 'slow') setTimeout(done, self.delay * 1000);
            else done();
          },
          (error: Error) => done(error),
        );
      });
    },
  });
  return server;
}

/** A real SMTP server (RFC 5321) whose mails land in the store; port 0 takes any that is free, and keeps to it. */
export async function startSmtp(asked: number, store: MailStore, clock: SimulatorClock): Promise<SmtpSimulator> {
  const state: State = {
    fault: 'none',
    putOff: new Set(),
    refused: new Set(),
    bouncing: new Map(),
    backTo: null,
    delay: 4,
    open: 0,
    most: 0,
  };
  let port = asked;
  let server: SMTPServer | null = null;
  const open = () =>
    new Promise<void>((resolve, reject) => {
      server = createServer(store, clock, state);
      server.on('error', reject);
      server.listen(port, '127.0.0.1', () => {
        server!.off('error', reject);
        port = (server!.server.address() as AddressInfo).port;
        // A client that goes away in the middle of a mail is no reason to stop.
        server!.on('error', () => {});
        resolve();
      });
    });
  const close = () =>
    new Promise<void>((resolve) => {
      const closing = server;
      server = null;
      if (closing) {
        // Who is still talking is cut off: a port that is shut answers nobody.
        for (const c of closing.connections as Set<{ _socket: { destroy(): void } }>) c._socket.destroy();
        closing.close(() => resolve());
      } else resolve();
    });
  await open();
  return {
    get port() {
      return port;
    },
    get fault() {
      return state.fault;
    },
    refused: state.refused,
    bouncing: state.bouncing,
    get backTo() {
      return state.backTo;
    },
    set backTo(port) {
      state.backTo = port;
    },
    get delay() {
      return state.delay;
    },
    set delay(seconds) {
      state.delay = seconds;
    },
    get open() {
      return state.open;
    },
    get most() {
      return state.most;
    },
    set most(n) {
      state.most = n;
    },
    async setFault(fault) {
      const before = state.fault;
      state.fault = fault;
      state.putOff.clear();
      // What it says of itself when it greets is settled when it opens.
      if (server && (fault === 'down' || [before, fault].some((f) => AT_OPENING.includes(f)))) await close();
      if (!server && fault !== 'down') await open();
    },
    close,
  };
}
