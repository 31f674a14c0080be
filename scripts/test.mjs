import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild, ensureChromium, ensurePackages, ensurePaperReaders, giveUp, root } from './setup.mjs';

/** Everything that must hold before a change lands: types, lint, arrows, and all tests, the browser's included. */
ensurePackages();
const chromium = ensureChromium();
ensurePaperReaders();

const bin = (name) => join(root, 'node_modules', '.bin', name);
function step(title, command, args, env = {}) {
  const began = Date.now();
  console.log(`\n# ${title}`);
  const { status } = spawnSync(command, args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ...env },
  });
  if (status !== 0) giveUp(`${title}: failed.`);
  console.log(`  ${((Date.now() - began) / 1000).toFixed(1)} s`);
}

step('Types', bin('tsc'), ['-b']);
step('Lint and format', bin('biome'), ['check', '.']);
step('Arrows', process.execPath, ['scripts/check-arrows.mjs']);
console.log('\n# Build');
ensureBuild();
step('Tests', bin('vitest'), ['run', ...process.argv.slice(2)], { CHROMIUM: chromium });
