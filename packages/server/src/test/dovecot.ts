import { spawn } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A mailbox server of Debian's on this machine alone, for one mailbox; started for one proof, and gone after it. */
export interface Dovecot {
  /** What it wrote down. */
  log(): string;
  stop(): Promise<void>;
}

interface Mailbox {
  port: number;
  /** The mailbox as a folder (Maildir), and the user of this machine whose it is. */
  folder: string;
  owner: { uid: number; gid: number };
  user: string;
  password: string;
  /** Where the certificate and its key lie, as PEM. */
  certificate: string;
  key: string;
}

const settings = (root: string, m: Mailbox): string => `
base_dir = ${root}/run
log_path = ${root}/dovecot.log
protocols = imap
listen = 127.0.0.1
ssl = required
ssl_cert = <${m.certificate}
ssl_key = <${m.key}
mail_location = maildir:${m.folder}
first_valid_uid = 1
first_valid_gid = 1
passdb {
  driver = passwd-file
  args = scheme=PLAIN username_format=%u ${root}/users
}
userdb {
  driver = static
  args = uid=${m.owner.uid} gid=${m.owner.gid} home=${m.folder}
}
service imap-login {
  chroot =
  inet_listener imap {
    port = ${m.port}
  }
  inet_listener imaps {
    port = 0
  }
}
`;

/** @throws Error where there is no Dovecot, or this user may not start one */
export function startDovecot(mailbox: Mailbox): Dovecot {
  const root = mkdtempSync(join(tmpdir(), 'chronicon-imap-'));
  chmodSync(root, 0o755);
  mkdirSync(join(root, 'run'));
  chmodSync(join(root, 'run'), 0o755);
  writeFileSync(join(root, 'users'), `${mailbox.user}:${mailbox.password}\n`);
  chmodSync(join(root, 'users'), 0o644);
  const config = join(root, 'dovecot.conf');
  writeFileSync(config, settings(root, mailbox));
  const child = spawn('dovecot', ['-F', '-c', config], { stdio: 'inherit' });
  const ended = new Promise<void>((resolve) => {
    child.once('exit', () => resolve());
  });
  return {
    log: () => readFileSync(join(root, 'dovecot.log'), 'utf8'),
    async stop() {
      child.kill('SIGTERM');
      await ended;
      rmSync(root, { recursive: true, force: true });
    },
  };
}
