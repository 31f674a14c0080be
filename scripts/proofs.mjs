import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { LONG_PROOFS } from './longProofs.mjs';
import { ensureChromium, ensurePackages, ensurePaperReaders, root } from './setup.mjs';

/** What takes too long for every change: kills at each point of the way, and whole tasks by keyboard and on paper. */
ensurePackages();
const CHROMIUM = ensureChromium();
ensurePaperReaders();
const files = ['packages/server/src/scheduler/crash', ...LONG_PROOFS];
const { status } = spawnSync(join(root, 'node_modules/.bin/vitest'), ['run', '--project', 'node', ...files], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, CHROMIUM, CHRONICON_PROOFS: 'all' },
});
process.exitCode = status ?? 1;
