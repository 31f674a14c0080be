import { fork } from 'node:child_process';
import { rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { fromShelf } from '@chronicon/server/shelf';

export interface RunningDemo {
  url: string;
  standins: string;
  stop(): Promise<void>;
}

export const freePort = () =>
  new Promise<number>((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });

/** Runs `npm run demo` as a user does, on free ports, in a data folder, at a day of the past. */
async function runDemo(data: string, today: string): Promise<RunningDemo> {
  const [port, standinsPort, smtpPort] = [await freePort(), await freePort(), await freePort()];
  const child = fork(join(import.meta.dirname, '../../scripts/demo.mjs'), {
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    env: {
      ...process.env,
      CHRONICON_TODAY: today,
      CHRONICON_DATA: data,
      CHRONICON_PORT: String(port),
      CHRONICON_STANDINS_PORT: String(standinsPort),
      CHRONICON_SMTP_PORT: String(smtpPort),
    },
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) {
    stream?.on('data', (chunk: Buffer) => {
      said += chunk.toString();
    });
  }
  const ended = new Promise<void>((resolve) => {
    child.on('exit', () => resolve());
  });
  const url = await new Promise<string>((resolve, reject) => {
    child.on('message', (m) => resolve((m as { ready: string }).ready));
    child.on('exit', () => reject(new Error(`the demo ended:\n${said}`)));
  });
  return {
    url,
    standins: `http://127.0.0.1:${standinsPort}`,
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
