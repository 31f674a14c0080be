import { fork } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { SERVER_ENV, SERVER_FLAGS } from './serverFlags.mjs';
import { ensureBuild, ensurePackages, giveUp, root } from './setup.mjs';

/** Sets up, builds, and runs one server as an agency uses it, with its data beside the code unless told otherwise. */
const data = process.env.CHRONICON_DATA ?? join(root, 'data', 'agency');
const many = process.argv.includes('--many');

try {
  mkdirSync(data, { recursive: true, mode: 0o700 });
} catch {
  giveUp(`Can’t create the data folder ${data}. Create it, or set another in CHRONICON_DATA.`);
}
ensurePackages();
ensureBuild();

const child = fork(join(root, 'build/server.mjs'), {
  execArgv: SERVER_FLAGS,
  env: {
    ...SERVER_ENV,
    ...process.env,
    CHRONICON_MODE: 'production',
    ...(many && { CHRONICON_MANY: 'yes' }),
    CHRONICON_DATA: data,
    CHRONICON_WEB: process.env.CHRONICON_WEB ?? join(root, 'build', 'web'),
    CHRONICON_LOG: process.env.CHRONICON_LOG ?? 'warn',
  },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('message', (m) => process.send?.(m));
child.on('exit', (code) => process.exit(code ?? 1));
