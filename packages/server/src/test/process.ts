import { type ChildProcess, fork } from 'node:child_process';
import { join } from 'node:path';
import type { Config } from '../platform/config.ts';
import { freePort } from './freePort.ts';

const SERVER = join(import.meta.dirname, '../../../../build/server.mjs');

export interface ServerProcess {
  child: ChildProcess;
  /** Its address, once it says that it is ready; never where it ends before. */
  ready: Promise<string>;
  /** The signal that ended it; null where it ended by itself. */
  ended: Promise<NodeJS.Signals | null>;
}

/** The built server as a process of its own, on a test fixture's services, with its clock at an instant. */
export async function startProcess(
  config: Config,
  at: string,
  more: Record<string, string | undefined> = {},
): Promise<ServerProcess> {
  const child = fork(SERVER, {
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
    env: {
      ...process.env,
      CHRONICON_DATA: config.data,
      CHRONICON_PORT: String(await freePort()),
      CHRONICON_MODE: 'test',
      CHRONICON_TODAY: at,
      CHRONICON_SMTP: config.mailServer ? `smtp://${config.mailServer.host}:${config.mailServer.port}` : '',
      CHRONICON_SIMULATORS: config.simulators!,
      CHRONICON_FEEDS: config.feeds!,
      CHRONICON_LOG: 'silent',
      CHRONICON_NOTICES: 'off',
      ...more,
    },
  });
  // What it writes is read by whoever wants it; a full pipe must not stop it.
  child.stdout?.resume();
  const ended = new Promise<NodeJS.Signals | null>((resolve) => child.once('exit', (_code, signal) => resolve(signal)));
  const ready = new Promise<string>((resolve) => {
    child.on('message', (m) => resolve((m as { ready: string }).ready));
  });
  return { child, ready, ended };
}
