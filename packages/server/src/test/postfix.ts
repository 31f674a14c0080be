import { execFileSync } from 'node:child_process';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';

/** A mail server of Debian's on this machine alone, with mailboxes as folders; started for one proof, and gone after it. */
export interface Postfix {
  port: number;
  /** Mails in a mailbox as they lie there, in the order in which they came. */
  mailsOf(mailbox: string): Buffer[];
  /** How many of them a mail program has marked as seen. */
  seenOf(mailbox: string): number;
  /** Where a mailbox lies (Maildir), and the user of this machine whose it is. */
  folderOf(mailbox: string): string;
  owner: { uid: number; gid: number };
  /** What it wrote down. */
  log(): string;
  stop(): void;
}

/** What becomes of mails by their recipients. */
interface Ways {
  port: number;
  /** Addresses with a mailbox of their own; what is added to one after a plus sign lies in it, too. */
  mailboxes: readonly string[];
  /** Starts of addresses that are handed on to a server at a port of this machine. */
  handedOn: readonly { start: string; port: number }[];
}

const quoted = (text: string): string => text.replace(/[.+*?^$()[\]{}|\\]/g, '\\$&');

const mailboxOf = (address: string): string => address.split('@')[0]!;

const MASTER = (port: number) => `
127.0.0.1:${port} inet n - n - - smtpd
pickup unix n - n 60 1 pickup
cleanup unix n - n - 0 cleanup
qmgr unix n - n 300 1 qmgr
rewrite unix - - n - - trivial-rewrite
bounce unix - - n - 0 bounce
defer unix - - n - 0 bounce
trace unix - - n - 0 bounce
verify unix - - n - 1 verify
flush unix n - n 1000? 0 flush
proxymap unix - - n - - proxymap
smtp unix - - n - - smtp
relay unix - - n - - smtp
showq unix n - n - - showq
error unix - - n - - error
retry unix - - n - - error
discard unix - - n - - discard
local unix - n n - - local
virtual unix - n n - - virtual
anvil unix - - n - 1 anvil
scache unix - - n - 1 scache
postlog unix-dgram n - n - 1 postlogd
`;

/** @throws Error where there is no Postfix, or this user may not start one */
export function startPostfix({ port, mailboxes, handedOn }: Ways): Postfix {
  const root = mkdtempSync(join(tmpdir(), 'chronicon-mta-'));
  const [config, spool, data, mail] = ['etc', 'spool', 'data', 'mail'].map((name) => join(root, name)) as [
    string,
    string,
    string,
    string,
  ];
  for (const folder of [config, spool, data, mail]) mkdirSync(folder);
  for (const folder of [root, config, spool, data, mail]) chmodSync(folder, 0o755);
  const idOf = (what: '-u' | '-g') => Number(execFileSync('id', [what, 'postfix'], { encoding: 'utf8' }));
  const [uid, gid] = [idOf('-u'), idOf('-g')];
  for (const folder of [data, mail]) chownSync(folder, uid, gid);
  const write = (name: string, lines: readonly string[]): string => {
    const path = join(config, name);
    writeFileSync(path, `${lines.join('\n')}\n`);
    chmodSync(path, 0o644);
    return path;
  };
  const domains = [...new Set(mailboxes.map((a) => a.split('@')[1]!))];
  const boxes = write('mailboxes', [
    ...handedOn.map(({ start }) => `/^${quoted(start)}/ handed-on/`),
    ...mailboxes.map((a) => `/^${quoted(mailboxOf(a))}(\\+[^@]*)?@${quoted(a.split('@')[1]!)}$/ ${mailboxOf(a)}/`),
  ]);
  const ways = write(
    'ways',
    handedOn.map((h) => `/^${quoted(h.start)}/ smtp:[127.0.0.1]:${h.port}`),
  );
  const settings = {
    compatibility_level: '3.6',
    queue_directory: spool,
    data_directory: data,
    command_directory: '/usr/sbin',
    daemon_directory: '/usr/lib/postfix/sbin',
    mail_owner: 'postfix',
    setgid_group: 'postdrop',
    maillog_file: join(root, 'mail.log'),
    maillog_file_prefixes: root,
    myhostname: 'mta.fernglass.example',
    mydestination: '',
    inet_interfaces: '127.0.0.1',
    inet_protocols: 'ipv4',
    mynetworks: '127.0.0.0/8',
    smtp_dns_support_level: 'disabled',
    smtp_host_lookup: 'native',
    virtual_mailbox_domains: domains.join(' '),
    virtual_mailbox_base: mail,
    virtual_mailbox_maps: `regexp:${boxes}`,
    virtual_minimum_uid: '1',
    virtual_uid_maps: `static:${uid}`,
    virtual_gid_maps: `static:${gid}`,
    transport_maps: `regexp:${ways}`,
    recipient_delimiter: '',
  };
  write(
    'main.cf',
    Object.entries(settings).map(([key, value]) => `${key} = ${value}`),
  );
  write('master.cf', MASTER(port).split('\n'));
  // Its own folders are for its own user, whatever the folders of whoever starts it are.
  const run = (what: string) => execFileSync('sh', ['-c', `umask 022; exec postfix -c ${config} ${what}`]);
  run('start');
  const log = () => readFileSync(join(root, 'mail.log'), 'utf8');
  const filesOf = (mailbox: string): string[] =>
    ['cur', 'new']
      .map((part) => join(mail, mailbox, part))
      .flatMap((folder) => (existsSync(folder) ? readdirSync(folder).map((name) => join(folder, name)) : []))
      .sort((a, b) => basename(a).localeCompare(basename(b)));
  return {
    port,
    owner: { uid, gid },
    folderOf: (mailbox) => join(mail, mailbox),
    mailsOf: (mailbox) => filesOf(mailbox).map((path) => readFileSync(path)),
    seenOf: (mailbox) => filesOf(mailbox).filter((path) => /:2,[A-Z]*S/.test(path)).length,
    log,
    stop() {
      run('stop');
      rmSync(root, { recursive: true, force: true });
    },
  };
}
