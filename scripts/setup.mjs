import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * Gets a machine ready that has Node and nothing else of ours. Imports no package, since none may be there yet.
 */
export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const OLDEST = [20, 19];

/** Says in one line what is in the way and what to do, and ends. */
export function giveUp(line) {
  console.error(`\n${line}`);
  process.exit(1);
}

const say = (line) => console.log(line);
const has = (command, says = '--version') => spawnSync(command, [says], { stdio: 'ignore' }).status === 0;
const isRoot = () => typeof process.getuid === 'function' && process.getuid() === 0;

function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < OLDEST[0] || (major === OLDEST[0] && minor < OLDEST[1])) {
    giveUp(
      `Chronicon needs Node ${OLDEST.join('.')} or newer; this is ${process.versions.node}. Install a newer Node and start again.`,
    );
  }
}

/** Installs Debian packages where that is allowed; false where it is not. */
function aptInstall(packages) {
  if (!isRoot() || !has('apt-get')) return false;
  say(`  installing ${packages.join(', ')} from Debian's packages`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  spawnSync('apt-get', ['update', '-qq'], { stdio: ['ignore', 'ignore', 'inherit'], env });
  const { status } = spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env,
  });
  return status === 0;
}

/** The SQLite driver is compiled on this machine. */
function ensureCompiler() {
  const missing = ['g++', 'make', 'python3'].filter((tool) => !has(tool));
  if (missing.length === 0) return;
  aptInstall(missing);
  const still = missing.filter((tool) => !has(tool));
  if (still.length > 0) {
    giveUp(
      `${still.join(', ')} missing: the SQLite driver is compiled here. Install ${still.join(', ')} (on Debian: apt-get install ${still.join(' ')}) and start again.`,
    );
  }
}

const stampPath = join(root, 'node_modules', '.chronicon-setup');
const lockHash = () =>
  createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');

/** Installs packages when they are missing or other ones than the lock file names. */
export function ensurePackages() {
  checkNode();
  const wanted = lockHash();
  if (existsSync(stampPath) && readFileSync(stampPath, 'utf8') === wanted) return;
  ensureCompiler();
  say('Installing packages. The SQLite driver is compiled on the way: this takes two to four minutes, once.');
  const { status } = spawnSync('npm', ['ci', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, npm_config_build_from_source: 'true' },
    shell: process.platform === 'win32',
  });
  if (status !== 0) giveUp('The packages could not be installed; the lines above say why. Mend that and start again.');
  writeFileSync(stampPath, wanted);
}

/** The one without a window first: it does the same work in two thirds of the time. */
const BROWSERS = [
  '/usr/bin/chromium-headless-shell',
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/Applications/Chromium.app/Contents/MacOS/Chromium',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
];

/** Path of a Chromium, installed from Debian's packages where there is none and that is allowed. */
export function ensureChromium() {
  const find = () => [process.env.CHROMIUM, ...BROWSERS].find((p) => p && existsSync(p));
  const present = find();
  if (present) return present;
  for (const name of ['chromium-headless-shell', 'chromium']) {
    aptInstall([name]);
    const found = find();
    if (found) return found;
  }
  return giveUp(
    'No Chromium was found for the browser tests. Install it (on Debian: apt-get install chromium-headless-shell) or name one in CHROMIUM.',
  );
}

/** Readers of PDF that had no part in making it; without them, what is held against them is left out, and said so. */
export function ensurePaperReaders() {
  const lacking = () =>
    Object.entries({ pdftotext: 'poppler-utils', qpdf: 'qpdf' }).filter(
      ([tool]) => !has(tool, tool === 'qpdf' ? '--version' : '-v'),
    );
  if (lacking().length > 0) aptInstall(lacking().map(([, name]) => name));
  for (const [tool] of lacking()) say(`  ${tool} is not here: pages are not held against it`);
}

function* filesIn(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'node_modules' || entry.name === 'build' || entry.name.startsWith('.')) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesIn(path);
    else if (!/\.test\.tsx?$/.test(entry.name)) yield path;
  }
}

/** Builds what runs, unless nothing has changed since the last time. */
export function ensureBuild() {
  const hash = createHash('sha256').update(lockHash());
  for (const folder of ['packages', 'demo', 'scripts']) {
    for (const path of filesIn(join(root, folder))) {
      const { size, mtimeMs } = statSync(path);
      hash.update(`${path} ${size} ${mtimeMs}\n`);
    }
  }
  const now = hash.digest('hex');
  const stamp = join(root, 'build', '.stamp');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  say('Building');
  execFileSync(process.execPath, [join(root, 'scripts/build.mjs')], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  mkdirSync(join(root, 'build'), { recursive: true });
  writeFileSync(stamp, now);
}
