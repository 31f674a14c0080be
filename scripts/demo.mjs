import { fork, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { accessSync, constants, existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { SERVER_ENV, SERVER_FLAGS } from './serverFlags.mjs';
import { ensureBuild, ensurePackages, giveUp, root } from './setup.mjs';

/** Sets up, builds, makes the demo agency on the first start, and runs server and simulators until told to stop. */
const started = Date.now();
const port = Number(process.env.CHRONICON_PORT ?? 4300);
// CHRONICON_STANDINS_PORT is its former name, which goes on working.
const simulatorsPort = Number(process.env.CHRONICON_SIMULATORS_PORT ?? process.env.CHRONICON_STANDINS_PORT ?? 4310);
const smtpPort = Number(process.env.CHRONICON_SMTP_PORT ?? 4325);
const bouncePort = Number(process.env.CHRONICON_BOUNCE_PORT ?? 4326);
const data = process.env.CHRONICON_DATA ?? join(root, 'data', 'demo');

/** Milliseconds that an orderly end may take. */
const END_TIME = 20_000;

/** @returns true when nobody listens there */
const isFree = (p) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(p, '127.0.0.1', () => probe.close(() => resolve(true)));
  });

for (const [name, p] of [
  ['CHRONICON_PORT', port],
  ['CHRONICON_SIMULATORS_PORT', simulatorsPort],
  ['CHRONICON_SMTP_PORT', smtpPort],
  ['CHRONICON_BOUNCE_PORT', bouncePort],
]) {
  if (!(await isFree(p)))
    giveUp(`Port ${p} is in use. Stop what runs there (perhaps this demo), or set another port in ${name}.`);
}
try {
  mkdirSync(join(data, 'mails'), { recursive: true });
  accessSync(data, constants.W_OK);
} catch {
  giveUp(`Can’t write to the data folder ${data}. Make it writable, or set another in CHRONICON_DATA.`);
}

ensurePackages();
// Whoever works on it has built it already.
if (!process.env.CHRONICON_BUILT) ensureBuild();

const simulatorsUrl = `http://127.0.0.1:${simulatorsPort}`;
const env = {
  ...process.env,
  CHRONICON_MODE: 'demo',
  CHRONICON_PORT: String(port),
  CHRONICON_DATA: data,
  CHRONICON_SMTP: `smtp://127.0.0.1:${smtpPort}`,
  CHRONICON_SIMULATORS: simulatorsUrl,
  CHRONICON_FEEDS: `${simulatorsUrl}/services`,
  CHRONICON_SIMULATORS_PORT: String(simulatorsPort),
  CHRONICON_SMTP_PORT: String(smtpPort),
  CHRONICON_BOUNCE_PORT: String(bouncePort),
  CHRONICON_URL: process.env.CHRONICON_URL ?? `http://127.0.0.1:${port}`,
  CHRONICON_SIMULATORS_DATA: join(data, 'mails'),
  CHRONICON_WEB: join(root, 'build', 'web'),
  CHRONICON_LOG: process.env.CHRONICON_LOG ?? 'warn',
};

const children = [];
let stopping = false;
function stop(code) {
  if (stopping) return;
  stopping = true;
  // What the parts write is written before anybody takes the folder for at rest.
  const ended = children.map((child) =>
    child.exitCode === null && child.signalCode === null ? once(child, 'exit') : null,
  );
  for (const child of children) child.kill('SIGTERM');
  Promise.race([Promise.all(ended), sleep(END_TIME)]).then(() => process.exit(code));
}
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => stop(0));
// Whoever started it and waits for its word was killed: nobody else would end it.
process.on('disconnect', () => stop(0));

/** Starts a part and waits until it says that it is ready. */
const run = (file) =>
  new Promise((resolve) => {
    const child = fork(join(root, 'build', file), {
      execArgv: SERVER_FLAGS,
      env: { ...SERVER_ENV, ...env },
      silent: false,
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    });
    children.push(child);
    child.on('message', (m) => resolve(m.ready));
    child.on('exit', (code) => {
      if (!stopping) {
        console.error(`${file} ended unexpectedly; the lines above say why.`);
        stop(code ?? 1);
      }
    });
  });

await run('simulators.mjs');
const made = join(data, 'demo-ready');
if (!existsSync(made)) {
  console.log('Creating the demo agency, once (under a minute)');
  const { status } = spawnSync(process.execPath, [join(root, 'build/seed.mjs')], {
    env,
    stdio: 'inherit',
  });
  if (status !== 0) {
    console.error(`Couldn’t create the demo agency. Delete ${data} and start again.`);
    stop(1);
  } else writeFileSync(made, '');
}
if (!stopping) {
  const url = await run('server.mjs');
  console.log(`\nChronicon is at ${url}   (ready after ${((Date.now() - started) / 1000).toFixed(1)} s)`);
  console.log('Sign in as ines.tallow@fernglass.example with lantern-evening-42; the page offers it too.');
  console.log('Stop with Ctrl+C; the data stays.');
  process.send?.({ ready: url });
}
