import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { build } from 'esbuild';
import { ownPackages } from './build.mjs';
import { ensureBuild, ensureChromium, ensurePackages, root } from './setup.mjs';

/** Measures what is promised of speed and size, on the built product, and prints each with its ratio to the limit. */
ensurePackages();
ensureBuild();
// Some measure what a browser shows.
const chromium = ensureChromium();
await build({
  absWorkingDir: root,
  entryPoints: {
    bench: 'bench/src/main.ts',
    writer: 'bench/src/writer.ts',
    renderWorker: 'bench/src/renderWorker.ts',
    scenePage: 'packages/web/src/parts/sceneMarkup.ts',
  },
  outdir: join(root, 'build/bench'),
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  jsx: 'automatic',
  target: 'node20',
  plugins: [ownPackages],
  define: { 'import.meta.dirname': JSON.stringify(join(root, 'bench/src')) },
});
process.exit(
  spawnSync(process.execPath, [join(root, 'build/bench/bench.mjs'), ...process.argv.slice(2)], {
    stdio: 'inherit',
    cwd: root,
    env: { ...process.env, CHROMIUM: chromium },
  }).status ?? 1,
);
