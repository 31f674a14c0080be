import { accessSync, constants, mkdirSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { openSecrets } from './access/secrets.ts';
import { createApp } from './api/app.ts';
import type { Api } from './api/context.ts';
import { createClock, createClockAt } from './clock.ts';
import { createClockwork } from './clockwork/clockwork.ts';
import { crasher } from './clockwork/crashPoints.ts';
import { tellStandins } from './clockwork/moveClock.ts';
import type { Config } from './config.ts';
import { openFacts } from './facts/factStore.ts';
import { createImports } from './feeds/files/imports.ts';
import { createInbox } from './feeds/files/inbox.ts';
import { createServices } from './feeds/services.ts';
import { createSyncs } from './feeds/sync.ts';
import { createMailer } from './post/mailer.ts';
import { createPress } from './press/press.ts';
import { openFiles } from './store/files.ts';
import { readSetting } from './store/settings.ts';
import { openStore } from './store/store.ts';

/** What keeps the server from starting, in one line that says what to do. */
export class StartError extends Error {}

function prepareFolder(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true });
    accessSync(folder, constants.W_OK);
  } catch {
    throw new StartError(
      `The data folder ${folder} cannot be written. Make it writable, or name another in CHRONICON_DATA.`,
    );
  }
}

export interface RunningServer extends Api {
  url: string;
  /** Stops taking work, finishes what is under way, closes everything. */
  close(): Promise<void>;
}

async function listen(server: Server, port: number): Promise<number> {
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      reject(
        error.code === 'EADDRINUSE'
          ? new StartError(`Port ${port} is in use. Stop what runs there, or name another port in CHRONICON_PORT.`)
          : error,
      );
    });
    server.listen(port, '127.0.0.1', resolve);
  });
  return (server.address() as AddressInfo).port;
}

/** Opens everything and builds the API without listening yet: for tests, set-up and the server alike. */
export async function openServer(config: Config): Promise<Api & { shut(): Promise<void> }> {
  prepareFolder(config.data);
  const log = pino({ level: config.log });
  const store = await openStore(config.data);
  const facts = await openFacts(config.data);
  const files = openFiles(config.data);
  const secrets = openSecrets(config.data);
  // A demo that was moved forward stays there; one that is told a day begins no earlier than that.
  const kept = config.mode === 'production' ? null : await readSetting(store, 'clock.offset');
  const clock = kept === null ? createClockAt(config.today) : createClock(Number(kept));
  const press = createPress(config.data);
  const mailer = createMailer(config.smtp, config.timeout);
  const crash = crasher(config.crashAt);
  const services = createServices({ store, secrets, clock, config });
  const syncs = createSyncs({ store, facts, secrets, services, clock, config, log, crash });
  const imports = createImports({ store, facts, clock, config, log });
  const inbox = createInbox({ store, facts, clock, config, log }, imports);
  const tools = {
    config,
    secrets,
    store,
    facts,
    files,
    press,
    mailer,
    services,
    syncs,
    imports,
    inbox,
    clock,
    log,
    crash,
  };
  const clockwork = createClockwork(tools);
  return {
    ...tools,
    clockwork,
    async shut() {
      await clockwork.stop();
      await syncs.idle();
      await imports.close();
      await press.close();
      mailer.close();
      await Promise.all([store.destroy(), facts.destroy()]);
    },
  };
}

/** Starts the server: ready when it resolves. @throws StartError with one line for the person who started it */
export async function startServer(config: Config): Promise<RunningServer> {
  const api = await openServer(config);
  const server = createServer(createApp(api));
  // Longer than browsers and proxies keep a connection: none is shut in the moment in which it is used again.
  server.keepAliveTimeout = 65_000;
  const port = await listen(server, config.port);
  await tellStandins(api).catch((err) => api.log.warn({ err }, 'the stand-ins could not be told the time'));
  await api.imports.resume();
  api.clockwork.start();
  api.press.warm().catch((err) => api.log.error({ err }, 'the press could not be warmed'));
  return {
    ...api,
    url: `http://127.0.0.1:${port}`,
    async close() {
      server.closeAllConnections();
      await new Promise((r) => server.close(r));
      await api.shut();
    },
  };
}
