// Sends editions through a mail server and a mailbox server of Debian's on this machine, which it installs where there are
// none.
//   npm run test:mta
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild, ensurePackages, root } from './setup.mjs';

const there = (program) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0;

const wanted = [
  ['postfix', 'postfix'],
  ['dovecot', 'dovecot-imapd'],
  ['openssl', 'openssl'],
].flatMap(([program, name]) => (there(program) ? [] : [name]));
if (wanted.length > 0) {
  console.log(`Installing ${wanted.join(', ')}`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) => spawnSync('apt-get', args, { stdio: 'inherit', env }).status === 0;
  // Their own services are not wanted: the proof starts its own, in folders of its own.
  if (!apt('update', '-qq') || !apt('install', '-y', '-qq', '--no-install-recommends', ...wanted)) {
    console.error(`${wanted.join(', ')} could not be installed: run this as root on a Debian system, or install them.`);
    process.exit(2);
  }
}
ensurePackages();
ensureBuild();

// Certificates that a process trusts are named when it starts.
const folder = mkdtempSync(join(tmpdir(), 'chronicon-proof-'));
const [certificate, key] = [join(folder, 'certificate.pem'), join(folder, 'key.pem')];
const made = spawnSync('openssl', [
  ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', '/CN=127.0.0.1'],
  ...['-addext', 'subjectAltName=IP:127.0.0.1', '-out', certificate, '-keyout', key],
]);
if (made.status !== 0) {
  console.error(`A certificate could not be made: ${made.stderr}`);
  process.exit(2);
}
const tsx = join(root, 'node_modules/.bin/tsx');
const { status } = spawnSync(tsx, [join(root, 'packages/server/src/test/mta.ts')], {
  stdio: 'inherit',
  cwd: root,
  env: {
    ...process.env,
    NODE_EXTRA_CA_CERTS: certificate,
    CHRONICON_PROOF_CERTIFICATE: certificate,
    CHRONICON_PROOF_KEY: key,
  },
});
rmSync(folder, { recursive: true, force: true });
process.exit(status ?? 1);
