import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureChromium, ensurePackages, ensurePaperReaders, giveUp, root } from './setup.mjs';

/** Everything that must hold before a change lands: types, lint, arrows, and all tests, the browser's included. */
ensurePackages();
const chromium = ensureChromium();
ensurePaperReaders();

const bin = (name) => join(root, 'node_modules', '.bin', name);

/** Runs a command, and gives up where it fails; what it says stands beneath its title once it has ended. */
function step(title, command, args, { env = {}, isShown = false } = {}) {
  const began = Date.now();
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: isShown ? ['ignore', 'inherit', 'inherit'] : ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ...env },
    });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (part) => (said += part));
    child.once('error', (error) => giveUp(`${title}: ${error.message}`));
    child.once('exit', (status) => {
      console.log(`\n# ${title}\n${said}  ${((Date.now() - began) / 1000).toFixed(1)} s`);
      if (status !== 0) giveUp(`${title}: failed.`);
      resolve();
    });
  });
}

// None of these needs what another one makes.
await Promise.all([
  step('Types', bin('tsc'), ['-b']),
  step('Lint and format', bin('biome'), ['check', '.'])
    .then(() => step('Arrows', process.execPath, ['scripts/check-arrows.mjs']))
    .then(() => step('Transactions', process.execPath, ['scripts/check-transactions.mjs']))
    .then(() => step('Texts', process.execPath, ['scripts/texts.mjs', '--check']))
    .then(() => step('Build', process.execPath, ['-e', "import('./scripts/setup.mjs').then((m) => m.ensureBuild())"])),
]);
await step('Tests', bin('vitest'), ['run', ...process.argv.slice(2)], { env: { CHROMIUM: chromium }, isShown: true });
