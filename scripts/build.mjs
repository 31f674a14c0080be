import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * Bundles what runs in Node (our code in one file each, packages outside) and, unless told `--node`, builds the
 * interface. Run after set-up.
 */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** The version of a package as code in a folder finds it; null for what Node brings itself. */
function versionFrom(name, folder) {
  for (let at = folder; ; at = dirname(at)) {
    const path = join(at, 'node_modules', name, 'package.json');
    if (existsSync(path)) return JSON.parse(readFileSync(path, 'utf8')).version;
    if (at === dirname(at)) return null;
  }
}

/** What is built lies elsewhere than its sources: both have to find the same version of a package. */
function differs(path, folder) {
  const name = path
    .split('/')
    .slice(0, path.startsWith('@') ? 2 : 1)
    .join('/');
  const [source, built] = [versionFrom(name, folder), versionFrom(name, join(root, 'build'))];
  if (source === built) return null;
  return `${name} is ${source} for the sources and ${built} for what is built: name ${source} in the package.json of the root, too`;
}

/**
 * Packages of hundreds of small files: read from within the bundle, a process starts in half the time. The others stay
 * outside, as they find files of their own beside themselves, or are loaded by name.
 */
const WITHIN = /^(@chronicon\/.+|zod|kysely|d3-scale|d3-shape|temporal-polyfill)$/;

/** Keeps packages outside, but for our own and those of many files. */
export const ownPackages = {
  name: 'own-packages',
  setup(build) {
    build.onResolve({ filter: /^[^./]/ }, (args) => {
      if (args.kind === 'entry-point' || WITHIN.test(args.path)) return undefined;
      // What a package within the bundle brings along is bundled with it.
      if (args.importer.includes('/node_modules/')) return undefined;
      const fault = differs(args.path, args.resolveDir);
      return fault ? { errors: [{ text: fault }] } : { external: true, path: args.path };
    });
  },
};

export async function buildNode() {
  const { build } = await import('esbuild');
  mkdirSync(join(root, 'build'), { recursive: true });
  await build({
    absWorkingDir: root,
    entryPoints: {
      server: 'packages/server/src/main.ts',
      worker: 'packages/server/src/workers/worker.ts',
      pictureWorker: 'packages/server/src/workers/pictureWorker.ts',
      readWorker: 'packages/server/src/api/reads/readWorker.ts',
      importWorker: 'packages/server/src/workers/importWorker.ts',
      simulators: 'packages/simulators/src/main.ts',
      letOwnerIn: 'packages/server/src/letOwnerIn.ts',
      seed: 'demo/src/seed.ts',
    },
    outdir: join(root, 'build'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    plugins: [ownPackages],
    logLevel: 'warning',
  });
  // The pool loads its worker by require first, and a module that awaits at its top cannot be required.
  for (const [name, file] of Object.entries({
    worker: 'worker.mjs',
    picture: 'pictureWorker.mjs',
    readWorker: 'readWorker.mjs',
  })) {
    const entry = `module.exports = (task) => import('./${file}').then((worker) => worker.default(task));\n`;
    writeFileSync(join(root, `build/${name}Entry.cjs`), entry);
  }
}

export async function buildWeb() {
  // Whoever starts the build (tests do), what is built is what is shipped.
  process.env.NODE_ENV = 'production';
  const { build } = await import('vite');
  await build({ root: join(root, 'packages/web'), logLevel: 'warn' });
  checkStyles();
}

/**
 * Only those styles of the components come along that packages/web/src/mantine.css names.
 * @throws Error for a component that is used and whose styles it does not name
 */
function checkStyles() {
  const assets = join(root, 'build/web/assets');
  const built = readdirSync(assets);
  const textOf = (end) =>
    built
      .filter((f) => f.endsWith(end))
      .map((f) => readFileSync(join(assets, f), 'utf8'))
      .join('');
  const [code, styles] = [textOf('.js'), textOf('.css')];
  const all = join(root, 'node_modules/@mantine/core/styles');
  const lacking = readdirSync(all).filter((file) => {
    if (file.endsWith('.layer.css')) return false;
    const classes = readFileSync(join(all, file), 'utf8').match(/\.m_[0-9a-f]+/g) ?? [];
    return classes.some((c) => !styles.includes(c) && code.includes(`"${c.slice(1)}"`));
  });
  if (lacking.length > 0) throw new Error(`Name ${lacking.join(', ')} in packages/web/src/mantine.css`);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await buildNode();
  if (!process.argv.includes('--node')) await buildWeb();
}
