import { createServer, type Server, type Socket } from 'node:net';

/** How the mailbox can be told to misbehave: `refuse` lets nobody in, `silent` never greets, `down` closes its port. */
export const IMAP_FAULTS = ['none', 'down', 'silent', 'refuse', 'slow', 'drop-at-fetch'] as const;
export type ImapFault = (typeof IMAP_FAULTS)[number];

/** Who may sign in. */
export const IMAP_ACCOUNT = { user: 'bounces', password: 'tin-lantern-orchard-41' };

export interface ImapSimulator {
  readonly port: number;
  /** Mails in INBOX, the oldest first. */
  mails: { uid: number; raw: Buffer; seen: boolean }[];
  add(raw: Buffer): void;
  /** Leaves so many numbers out, as mails do that were taken away. */
  leaveOut(numbers: number): void;
  /** Gives all mails other numbers, as a mailbox that was put back from a copy has. */
  renumber(): void;
  setFault(fault: ImapFault): Promise<void>;
  close(): Promise<void>;
}

/** Milliseconds that each answer takes when it is told to be `slow`. */
const SLOW = 150;

const CAPABILITIES = 'IMAP4rev1 UIDPLUS';

/** A mailbox by IMAP (RFC 3501), as much of it as a program that reads one folder asks for. */
export async function startImap(port: number): Promise<ImapSimulator> {
  let server: Server | null = null;
  let fault: ImapFault = 'none';
  let validity = 1;
  let next = 1;
  const sockets = new Set<Socket>();
  const mails: ImapSimulator['mails'] = [];

  /** Numbers of a set as `3`, `2:5`, `4:*`. */
  const inSet = (set: string): ImapSimulator['mails'] =>
    mails.filter((m) =>
      set.split(',').some((part) => {
        const [a, b] = part.split(':').map((n) => (n === '*' ? (mails.at(-1)?.uid ?? 0) : Number(n)));
        const [low, high] = b === undefined ? [a!, a!] : [Math.min(a!, b), Math.max(a!, b)];
        return m.uid >= low && m.uid <= high;
      }),
    );

  function answer(socket: Socket, line: string): void {
    const [, tag, rest] = /^(\S+) (.*)$/s.exec(line) ?? [];
    if (!tag || !rest) return;
    const say = (text: string) => socket.write(`${text}\r\n`);
    const ok = (text: string) => say(`${tag} OK ${text}`);
    const [verb] = rest.toUpperCase().split(' ');
    const command = verb === 'UID' ? `UID ${rest.toUpperCase().split(' ')[1]}` : verb!;
    switch (command) {
      case 'CAPABILITY':
        say(`* CAPABILITY ${CAPABILITIES}`);
        return void ok('done');
      case 'LOGIN': {
        const [user, password] = [...rest.matchAll(/"((?:[^"\\]|\\.)*)"|(\S+)/g)].slice(1).map((m) => m[1] ?? m[2]);
        if (fault === 'refuse' || user !== IMAP_ACCOUNT.user || password !== IMAP_ACCOUNT.password) {
          return void say(`${tag} NO [AUTHENTICATIONFAILED] Wrong name or password`);
        }
        return void ok('signed in');
      }
      case 'NAMESPACE':
        say('* NAMESPACE (("" "/")) NIL NIL');
        return void ok('done');
      case 'LIST':
      case 'LSUB':
        if (/(?:"?(?:INBOX|[*%])"?)$/i.test(rest)) say(`* ${verb} (\\HasNoChildren) "/" "INBOX"`);
        return void ok('done');
      case 'SELECT':
      case 'EXAMINE':
        if (!/INBOX/i.test(rest)) return void say(`${tag} NO [NONEXISTENT] There is no such folder`);
        say('* FLAGS (\\Seen)');
        say(`* ${mails.length} EXISTS`);
        say('* 0 RECENT');
        say(`* OK [UIDVALIDITY ${validity}] numbers`);
        say(`* OK [UIDNEXT ${next}] next`);
        return void ok('[READ-WRITE] open');
      case 'UID FETCH': {
        if (fault === 'drop-at-fetch') return void socket.destroy();
        for (const m of inSet(rest.split(' ')[2]!)) {
          const wantsBody = /BODY(\.PEEK)?\[\]/i.test(rest);
          const head = `* ${mails.indexOf(m) + 1} FETCH (UID ${m.uid} RFC822.SIZE ${m.raw.length} FLAGS (${m.seen ? '\\Seen' : ''})`;
          if (!wantsBody) say(`${head})`);
          else {
            socket.write(`${head} BODY[] {${m.raw.length}}\r\n`);
            socket.write(m.raw);
            say(')');
          }
        }
        return void ok('done');
      }
      case 'UID STORE':
        for (const m of inSet(rest.split(' ')[2]!)) m.seen = true;
        return void ok('done');
      case 'LOGOUT':
        say('* BYE');
        ok('done');
        return void socket.end();
      default:
        return void ok('done');
    }
  }

  const open = () =>
    new Promise<void>((resolve, reject) => {
      server = createServer((socket) => {
        sockets.add(socket);
        socket.on('close', () => sockets.delete(socket));
        socket.on('error', () => undefined);
        if (fault !== 'silent') socket.write(`* OK [CAPABILITY ${CAPABILITIES}] mailbox\r\n`);
        let said = '';
        socket.on('data', (part) => {
          said += part.toString('latin1');
          for (let end = said.indexOf('\r\n'); end >= 0; end = said.indexOf('\r\n')) {
            const line = said.slice(0, end);
            said = said.slice(end + 2);
            if (fault === 'slow') setTimeout(answer, SLOW, socket, line);
            else answer(socket, line);
          }
        });
      });
      server.once('error', reject);
      server.listen(port, '127.0.0.1', resolve);
    });
  const close = () =>
    new Promise<void>((resolve) => {
      for (const socket of sockets) socket.destroy();
      if (server) server.close(() => resolve());
      else resolve();
      server = null;
    });
  await open();
  return {
    get port() {
      return (server?.address() as { port: number } | null)?.port ?? port;
    },
    mails,
    add: (raw) => void mails.push({ uid: next++, raw, seen: false }),
    leaveOut(numbers) {
      next += numbers;
    },
    renumber() {
      validity++;
      next = 1;
      for (const m of mails) m.uid = next++;
    },
    async setFault(now) {
      fault = now;
      if (now === 'down') await close();
      else if (!server) await open();
    },
    close,
  };
}
