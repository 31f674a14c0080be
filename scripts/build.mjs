import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * Bundles what runs in Node (our code in one file each, packages outside) and, unless told `--node`, builds the
 * interface. Run after set-up.
 */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Keeps every package outside but our own. */
export const ownPackages = {
  name: 'own-packages',
  setup(build) {
    build.onResolve({ filter: /^[^./]/ }, (args) =>
      args.kind === 'entry-point' || args.path.startsWith('@chronicon/')
        ? undefined
        : { external: true, path: args.path },
    );
  },
};

export async function buildNode() {
  const { build } = await import('esbuild');
  mkdirSync(join(root, 'build'), { recursive: true });
  await build({
    absWorkingDir: root,
    entryPoints: {
      server: 'packages/server/src/main.ts',
      pressWorker: 'packages/server/src/press/worker.ts',
      pictureWorker: 'packages/server/src/press/pictureWorker.ts',
      importWorker: 'packages/server/src/feeds/files/importWorker.ts',
      standins: 'packages/standins/src/main.ts',
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
  for (const name of ['press', 'picture']) {
    const entry = `module.exports = (task) => import('./${name}Worker.mjs').then((worker) => worker.default(task));\n`;
    writeFileSync(join(root, `build/${name}Entry.cjs`), entry);
  }
}

export async function buildWeb() {
  // Whoever starts the build (tests do), what is built is what is shipped.
  process.env.NODE_ENV = 'production';
  const { build } = await import('vite');
  await build({ root: join(root, 'packages/web'), logLevel: 'warn' });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await buildNode();
  if (!process.argv.includes('--node')) await buildWeb();
}
