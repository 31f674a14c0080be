import { setTimeout as sleep } from 'node:timers/promises';
import { readConfig } from './platform/config.ts';
import { type RunningServer, StartError, startServer } from './server.ts';

/** Runs the server with its set-up from the environment. */

/** Restarts within an hour after which a server that stumbles again and again is given up. */
const MOST_RESTARTS = 5;
const HOUR = 3_600_000;
/** Milliseconds that an orderly end may take after an error nobody caught. */
const END_TIME = 20_000;

let server: RunningServer | null = null;
/** When it began anew, by the clock that only goes forward. */
let restarts: number[] = [];
let restarting = false;

async function run(): Promise<void> {
  const config = readConfig(process.env);
  // Who begins anew was alone before, and must not take its own last beat for another server's.
  server = await startServer({ ...config, alone: config.alone && server === null });
  process.send?.({ ready: server.url });
  console.log(`Chronicon at ${server.url}`);
  if (server.first) console.log(`There is no agency yet. Make it within an hour at ${server.first}`);
}

/** After an error that nobody caught, nothing in memory is trusted: the server ends in order and begins anew. */
async function restart(error: unknown): Promise<void> {
  const log = server?.log;
  restarts = [...restarts.filter((at) => at > performance.now() - HOUR), performance.now()];
  log?.fatal({ err: error, restarts: restarts.length }, 'an uncaught error: the server restarts');
  if (restarting) return;
  if (!server || restarts.length > MOST_RESTARTS) process.exit(70);
  restarting = true;
  await Promise.race([
    server.close().catch((err) => log?.error({ err }, 'the server did not end in order')),
    sleep(END_TIME),
  ]);
  await run();
  restarting = false;
}

try {
  await run();
  // A terminal tells every process of the group, and whoever started this one tells it again: it stops once.
  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    server?.close().then(
      () => process.exit(0),
      (error) => {
        console.error(error);
        process.exit(1);
      },
    );
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const) process.on(signal, stop);
  process.on('uncaughtException', (error) => {
    restart(error).catch(() => process.exit(70));
  });
  // A job whose failure nobody waited for: said, and nothing else hangs on it.
  process.on('unhandledRejection', (err) => server?.log.error({ err }, 'a failure that nobody waited for'));
} catch (error) {
  console.error(error instanceof StartError ? error.message : error);
  process.exit(1);
}
