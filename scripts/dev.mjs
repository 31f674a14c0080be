import { fork, spawn } from 'node:child_process';
import { watch } from 'node:fs';
import { join } from 'node:path';
import { buildNode } from './build.mjs';
import { ensurePackages, root } from './setup.mjs';

/**
 * The demo while one works on it: server, worker threads and simulators are built and started anew when their
 * sources change; the interface comes from Vite, which shows a change at once.
 */
ensurePackages();
const data = process.env.CHRONICON_DATA ?? join(root, 'data', 'dev');
const port = Number(process.env.CHRONICON_PORT ?? 4300);
const vitePort = Number(process.env.CHRONICON_VITE_PORT ?? 4320);
/** Milliseconds of quiet before it is built: an editor writes several files. */
const PAUSE = 250;

let demo = null;
let timer = null;
let stopping = false;

function startDemo() {
  demo = fork(join(root, 'scripts/demo.mjs'), {
    env: {
      ...process.env,
      CHRONICON_DATA: data,
      CHRONICON_PORT: String(port),
      CHRONICON_LOG: 'info',
      CHRONICON_BUILT: '1',
    },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
}

/** Ends the one that runs, and waits until its ports are free. */
const stopDemo = () =>
  new Promise((resolve) => {
    if (!demo || demo.exitCode !== null) return resolve();
    demo.once('exit', () => resolve());
    demo.kill('SIGTERM');
  });

async function rebuild() {
  const began = Date.now();
  try {
    await buildNode();
  } catch {
    // The lines above say what is wrong; what runs goes on.
    return;
  }
  await stopDemo();
  if (stopping) return;
  startDemo();
  console.log(`built in ${Date.now() - began} ms`);
}

await buildNode();
startDemo();
for (const folder of ['packages/core/src', 'packages/server/src', 'packages/simulators/src', 'demo/src']) {
  watch(join(root, folder), { recursive: true }, (_, file) => {
    if (!file || /\.test\.ts$/.test(file)) return;
    clearTimeout(timer);
    timer = setTimeout(rebuild, PAUSE);
  });
}
const vite = spawn(
  process.execPath,
  [join(root, 'node_modules/vite/bin/vite.js'), '--port', String(vitePort), '--strictPort'],
  {
    cwd: join(root, 'packages/web'),
    env: { ...process.env, CHRONICON_SERVER: `http://127.0.0.1:${port}` },
    stdio: 'inherit',
  },
);
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.on(signal, async () => {
    stopping = true;
    vite.kill();
    await stopDemo();
    process.exit(0);
  });
}
