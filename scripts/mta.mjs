// Sends one edition through a mail server of Debian's on this machine, which it installs where there is none.
//   npm run test:mta
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild, ensurePackages, root } from './setup.mjs';

const there = (program) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0;

if (!there('postfix')) {
  console.log('Installing postfix');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  // Its own service is not wanted: the proof starts one of its own, in a folder of its own.
  const installed =
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env }).status === 0 &&
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'postfix'], { stdio: 'inherit', env })
      .status === 0;
  if (!installed) {
    console.error('Postfix could not be installed: run this as root on a Debian system, or install it first.');
    process.exit(2);
  }
}
ensurePackages();
ensureBuild();
const tsx = join(root, 'node_modules/.bin/tsx');
process.exit(
  spawnSync(tsx, [join(root, 'packages/server/src/test/mta.ts')], { stdio: 'inherit', cwd: root }).status ?? 1,
);
