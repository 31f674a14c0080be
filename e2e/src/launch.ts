import { type ChildProcess, fork } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { freePort } from '@chronicon/server/freePort';
import { fromShelf } from '@chronicon/server/shelf';

export interface RunningDemo {
  url: string;
  simulators: string;
  stop(): Promise<void>;
}

/** A send can be undone for a moment only, so that nobody waits half a minute for each. */
const QUICK = { CHRONICON_UNDO: '2' };

/** Runs one of the commands, as npm does. @returns the process, and everything that it has said so far */
function run(script: 'demo' | 'start', env: Record<string, string>): { child: ChildProcess; said(): string } {
  const child = fork(join(import.meta.dirname, `../../scripts/${script}.mjs`), {
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    env: { ...process.env, ...env },
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) {
    stream?.on('data', (chunk: Buffer) => {
      said += chunk.toString();
    });
  }
  return { child, said: () => said };
}

/** Runs `npm start` on a data folder, on a free port. */
export const runStart = async (data: string) =>
  run('start', {
    CHRONICON_DATA: data,
    CHRONICON_PORT: String(await freePort()),
    // The services stand on this machine here; everything else is set in the interface.
    CHRONICON_FEED_NETWORKS: 'loopback',
    CHRONICON_LOG: 'info',
    ...QUICK,
  });

/** The address at which the agency is made, as `npm start` prints it. */
export async function firstAddress({ child, said }: Awaited<ReturnType<typeof runStart>>): Promise<string> {
  const find = () => /within an hour at (\S+)/.exec(said())?.[1];
  while (!find()) {
    if (child.exitCode !== null) throw new Error(`it ended:\n${said()}`);
    await sleep(50);
  }
  return find()!;
}

/** Runs `npm run demo` as a user does, on free ports, in a data folder, at a day of the past. */
async function runDemo(data: string, today: string): Promise<RunningDemo> {
  const [port, simulatorsPort, smtpPort, bouncePort] = [
    await freePort(),
    await freePort(),
    await freePort(),
    await freePort(),
  ];
  const { child, said } = run('demo', {
    CHRONICON_TODAY: today,
    ...QUICK,
    CHRONICON_DATA: data,
    CHRONICON_PORT: String(port),
    CHRONICON_SIMULATORS_PORT: String(simulatorsPort),
    CHRONICON_SMTP_PORT: String(smtpPort),
    CHRONICON_BOUNCE_PORT: String(bouncePort),
    CHRONICON_URL: `http://127.0.0.1:${port}`,
  });
  const ended = new Promise<void>((resolve) => {
    child.on('exit', () => resolve());
  });
  const url = await new Promise<string>((resolve, reject) => {
    child.on('message', (m) => resolve((m as { ready: string }).ready));
    child.on('exit', () => reject(new Error(`the demo ended:\n${said()}`)));
  });
  return {
    url,
    simulators: `http://127.0.0.1:${simulatorsPort}`,
    async stop() {
      child.kill('SIGTERM');
      await ended;
    },
  };
}

/** The demo, started on data that was made once for all who want that day. */
export async function launchDemo(today: string): Promise<RunningDemo> {
  const { folder } = await fromShelf(`demo-${today.replace(/\W/g, '')}`, async (made) => {
    await (await runDemo(made, today)).stop();
    return null;
  });
  const demo = await runDemo(folder, today);
  return {
    ...demo,
    async stop() {
      await demo.stop();
      rmSync(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
    },
  };
}
