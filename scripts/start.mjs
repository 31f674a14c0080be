import { fork } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild, ensurePackages, giveUp, root } from './setup.mjs';

/** Sets up, builds, and runs one server as an agency uses it, with its data beside the code unless told otherwise. */
const data = process.env.CHRONICON_DATA ?? join(root, 'data', 'agency');
const many = process.argv.includes('--many');
const note = join(data, 'server.pid');

/** True for a process of this machine that runs. */
function runs(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

try {
  mkdirSync(data, { recursive: true, mode: 0o700 });
} catch {
  giveUp(`The data folder ${data} cannot be made. Make it, or name another in CHRONICON_DATA.`);
}
const before = existsSync(note) ? Number(readFileSync(note, 'utf8')) : 0;
if (!many && before > 0 && before !== process.pid && runs(before)) {
  giveUp(
    `A server runs on ${data} already (process ${before}). Use that one; or ask for several with "npm start -- --many".`,
  );
}
ensurePackages();
ensureBuild();
if (!many) writeFileSync(note, String(process.pid));

const child = fork(join(root, 'build/server.mjs'), {
  env: {
    ...process.env,
    CHRONICON_MODE: 'production',
    CHRONICON_DATA: data,
    CHRONICON_WEB: process.env.CHRONICON_WEB ?? join(root, 'build', 'web'),
    CHRONICON_LOG: process.env.CHRONICON_LOG ?? 'warn',
  },
  execArgv: ['--enable-source-maps'],
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('message', (m) => process.send?.(m));
child.on('exit', (code) => {
  if (!many) rmSync(note, { force: true });
  process.exit(code ?? 1);
});
