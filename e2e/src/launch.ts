import { fork } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export interface RunningDemo {
  url: string;
  standins: string;
  stop(): Promise<void>;
}

const freePort = () =>
  new Promise<number>((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });

/** Runs `npm run demo` as a user does, on free ports with fresh data, at a day of the past. */
export async function launchDemo(today: string): Promise<RunningDemo> {
  const data = mkdtempSync(join(tmpdir(), 'chronicon-demo-'));
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
  child.stdout?.on('data', (chunk: Buffer) => {
    said += chunk.toString();
  });
  child.stderr?.on('data', (chunk: Buffer) => {
    said += chunk.toString();
  });
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
      rmSync(data, { recursive: true, force: true });
    },
  };
}
