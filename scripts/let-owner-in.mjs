import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild, ensurePackages, root } from './setup.mjs';

/** Prints a one-time address for an owner who is locked out, of the agency's data unless told otherwise. */
ensurePackages();
ensureBuild();
const { status } = spawnSync(process.execPath, [join(root, 'build/letOwnerIn.mjs'), ...process.argv.slice(2)], {
  stdio: 'inherit',
  env: { ...process.env, CHRONICON_DATA: process.env.CHRONICON_DATA ?? join(root, 'data', 'agency') },
});
process.exit(status ?? 1);
