import { accessSync, chmodSync, constants, existsSync, mkdirSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo, Socket } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { pino } from 'pino';
import { openFirstStart } from './access/firstStart.ts';
import { createApp } from './api/app.ts';
import type { Api } from './api/context.ts';
import { createReadThreads } from './api/reads/readThreads.ts';
import { COPY_BEAT } from './api/sending.ts';
import { openFacts } from './facts/factStore.ts';
import { tellOfWhatWasWritten } from './feeds/factsTold.ts';
import { createImports } from './feeds/files/imports.ts';
import { createInbox } from './feeds/files/inbox.ts';
import { createServices } from './feeds/services.ts';
import { createSyncs } from './feeds/sync.ts';
import { openBounceServer } from './mail/bounceServer.ts';
import { createMailers } from './mail/mailers.ts';
import { type Clock, createClock, createClockAt, watchClock } from './platform/clock.ts';
import type { Config } from './platform/config.ts';
import { crasher } from './platform/crashPoints.ts';
import { NewerData } from './platform/newerData.ts';
import { createPrecedence } from './platform/precedence.ts';
import { createHealth } from './scheduler/health.ts';
import { tellSimulators } from './scheduler/moveClock.ts';
import { createScheduler } from './scheduler/scheduler.ts';
import { takeReport } from './scheduler/takeReport.ts';
import { lookAtAll } from './store/agencyCalendar.ts';
import { anySealed } from './store/connections.ts';
import { faultOf } from './store/faults.ts';
import { openFiles } from './store/files.ts';
import { followClock } from './store/followClock.ts';
import { isCopy, settleIdentity } from './store/identity.ts';
import { beats, enterInstance, lastBeat, leaveInstance, type Times } from './store/instances.ts';
import { mailRules } from './store/mailRules.ts';
import { bouncedDelivery, tokenKey } from './store/mailTokens.ts';
import { openSecrets, type Secrets } from './store/secrets.ts';
import { stopSending } from './store/sendingStops.ts';
import { readSetting, writeSetting } from './store/settings.ts';
import { openStore, type Store } from './store/store.ts';
import { noteZoneMoves } from './store/zoneMoves.ts';
import { createImportThreads } from './workers/importThreads.ts';
import { createPictures } from './workers/pictures.ts';
import { BUDGETS, createWorkers, openPools, sharedPools } from './workers/workers.ts';

/** What keeps the server from starting, in one line that says what to do. */
export class StartError extends Error {}

/** Milliseconds: for the head of a request, and for all of it (files of a gigabyte come that way). */
const HEAD_TIME = 15_000;
const BODY_TIME = 30 * 60_000;
const MOST_CONNECTIONS = 2_000;
/** Beats of the heart within the time after which the others take this server for dead. */
const BEATS = 5;
/** Of one address, where no proxy stands before the server. */
const MOST_FROM_ONE = 250;

/** The folder and what lies in it belong to the server's user alone. */
function prepareFolder(folder: string): void {
  process.umask(0o077);
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    accessSync(folder, constants.W_OK);
    chmodSync(folder, 0o700);
    for (const name of [
      'chronicon.db',
      'chronicon.db-wal',
      'chronicon.db-shm',
      'facts.db',
      'facts.db-wal',
      'facts.db-shm',
      'secret.key',
    ]) {
      if (existsSync(join(folder, name))) chmodSync(join(folder, name), 0o600);
    }
    for (const name of ['files', 'imports']) if (existsSync(join(folder, name))) chmodSync(join(folder, name), 0o700);
  } catch {
    throw new StartError(
      `Can’t write to the data folder ${folder}. Make it writable, or set another in CHRONICON_DATA.`,
    );
  }
}

/** What fails while the folder is opened is said in one line, with what to do. */
async function opened<T>(work: () => Promise<T> | T): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof NewerData) throw new StartError(error.message);
    const fault = faultOf(error);
    throw fault ? new StartError(`${fault.reason} ${fault.mend}`) : error;
  }
}

export interface RunningServer extends Api {
  url: string;
  /** Where mails that come back are taken; null: nowhere. */
  bouncePort: number | null;
  /** The address at which the agency is made; null where there is one. It holds a secret. */
  first: string | null;
  /** Stops taking work, finishes what is under way, closes everything. */
  close(): Promise<void>;
}

/** No address holds so many connections that others find none. */
function capConnections(server: Server, perAddress: number | null): void {
  server.headersTimeout = HEAD_TIME;
  server.requestTimeout = BODY_TIME;
  server.maxConnections = MOST_CONNECTIONS;
  // Longer than browsers and proxies keep a connection: none is shut in the moment in which it is used again.
  server.keepAliveTimeout = 65_000;
  if (perAddress === null) return;
  const open = new Map<string, number>();
  server.on('connection', (socket: Socket) => {
    const from = socket.remoteAddress ?? '';
    const n = (open.get(from) ?? 0) + 1;
    if (n > perAddress) {
      socket.destroy();
      return;
    }
    open.set(from, n);
    socket.once('close', () => {
      const left = (open.get(from) ?? 1) - 1;
      if (left > 0) open.set(from, left);
      else open.delete(from);
    });
  });
}

async function listen(server: Server, port: number): Promise<number> {
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      reject(
        error.code === 'EADDRINUSE'
          ? new StartError(`Port ${port} is in use. Stop what runs there, or set another port in CHRONICON_PORT.`)
          : error,
      );
    });
    server.listen(port, '127.0.0.1', resolve);
  });
  return (server.address() as AddressInfo).port;
}

/** The key of the stored credentials, which has to open what was sealed before. */
async function openKey(store: Store, folder: string): Promise<Secrets> {
  const known = await readSetting(store, 'key.check');
  const secrets = openSecrets(folder, known ?? (await anySealed(store)));
  if (known === null && secrets.trouble() === null) {
    const check = secrets.seal('the right key');
    await writeSetting(store, 'key.check', check);
    secrets.expect(check);
  }
  return secrets;
}

/** Whoever knows other rules of time zones than the one before looks at every schedule again. */
async function settleZones(store: Store, now: string): Promise<void> {
  const known = await readSetting(store, 'zones.version');
  const version = process.versions.tz ?? process.version;
  if (known === version) return;
  // What they move is shown first, and counts once somebody has seen it; all else is looked at anew.
  if (known !== null) await noteZoneMoves(store, now);
  await lookAtAll(store, now);
  await writeSetting(store, 'zones.version', version);
}

/** A copied folder sends nothing until a person has said so; where it may go on, it becomes the one. */
async function greetCopy(api: Pick<Api, 'store' | 'config' | 'clock' | 'log'>, alive: string | null): Promise<void> {
  const { store, config, clock, log } = api;
  if (!(await isCopy(store, config.data))) return;
  if (!config.copyStops) {
    log.warn('this data folder is a copy; outside production it goes on');
    await settleIdentity(store, config.data);
    return;
  }
  log.warn('this data folder is a copy: nothing is sent until a person says so');
  await writeSetting(store, COPY_BEAT, alive ?? clock.now());
  await stopSending(store, {
    cause: 'copy',
    reason: 'This data folder was copied or restored; some editions may already have been sent elsewhere.',
    mend: 'Tick what was already sent, then enable sending.',
    at: clock.now(),
  });
}

/**
 * Refuses to be the second server on a folder. One that was killed leaves a beat that looks alive: whether another one
 * follows is waited for, two beats long.
 */
async function standAlone(store: Store, config: Config, clock: Clock): Promise<void> {
  const { patience } = config;
  const seen = await beats(store, patience, clock.machine());
  const until = clock.steady() + (patience / BEATS) * 2.5;
  while (seen.size > 0 && clock.steady() < until) {
    await sleep(Math.min(500, patience / BEATS / 2));
    for (const [id, beat] of await beats(store, patience, clock.machine())) {
      if (seen.get(id) === beat) continue;
      throw new StartError(
        `A server already runs on ${config.data}. Use that one, or start several with CHRONICON_MANY=yes.`,
      );
    }
  }
}

/** Hearts are listened to in real time: a demo's clock may jump while they beat on. */
const timesOf = (clock: Clock): Times => ({ now: clock.now(), machine: clock.machine(), steady: performance.now() });

/** Opens everything and builds the API without listening yet: for tests, set-up and the server alike. */
export async function openServer(config: Config): Promise<Api & { shut(): Promise<void> }> {
  prepareFolder(config.data);
  const log = pino({ level: config.log });
  const store = await opened(() => openStore(config.data));
  const facts = await opened(() => openFacts(config.data));
  // A demo that was moved forward stays there; one that is told a day begins no earlier than that.
  const kept = config.mode === 'production' ? null : await readSetting(store, 'clock.offset');
  const clock = kept === null ? createClockAt(config.today) : createClock(Number(kept));
  const files = await opened(() => openFiles(config.data, clock.machine()));
  const secrets = await openKey(store, config.data);
  // A copied folder was last alive elsewhere: asked before this server enters itself.
  const alive = await lastBeat(store);
  if (config.alone) {
    await opened(() => standAlone(store, config, clock)).catch(async (error) => {
      await Promise.all([store.destroy(), facts.destroy()]);
      throw error;
    });
  }
  await followClock(store, clock.now());
  const instance = await enterInstance(store, config.patience, timesOf(clock));
  const wasSetBack = watchClock(clock);
  let follows = false;
  const follow = async () => {
    follows ||= wasSetBack();
    if (!follows) return;
    await followClock(store, clock.now());
    follows = false;
  };
  const heart = setInterval(() => {
    const beat = async () => {
      await follow();
      await instance.beat(timesOf(clock));
    };
    beat().catch((err) => log.error({ err }, 'a heartbeat failed'));
  }, config.patience / BEATS).unref();
  const told = await tellOfWhatWasWritten({ store, facts }, clock.now());
  if (told.length > 0) log.info({ clients: told.length }, 'figures had been written of which nobody was told');
  const health = createHealth({ store, facts, files, secrets, log });
  const workers = createWorkers(config.data, BUDGETS, config.mode === 'test' ? sharedPools() : openPools());
  const pictures = createPictures();
  const reads = createReadThreads(config.data, health, config.mode === 'test');
  const { mailer, notices } = createMailers({ store, secrets, config });
  const crash = crasher(config.crashAt);
  const precedence = createPrecedence();
  const services = createServices({ store, secrets, clock, config, instance });
  const syncs = createSyncs({ store, facts, secrets, services, precedence, clock, config, instance, log, crash });
  const imports = createImports({ store, facts, clock, config, log }, createImportThreads());
  const inbox = createInbox({ store, facts, clock, config, log }, imports);
  const origins = new Set<string>(config.url ? [new URL(config.url).origin] : []);
  const tools = {
    config,
    secrets,
    store,
    facts,
    files,
    health,
    instance,
    workers,
    pictures,
    mailer,
    notices,
    services,
    syncs,
    imports,
    inbox,
    clock,
    log,
    precedence,
    crash,
  };
  await greetCopy(tools, alive);
  await settleZones(store, clock.now());
  await health.look();
  const scheduler = createScheduler(tools);
  return {
    ...tools,
    scheduler,
    reads,
    origins,
    async shut() {
      await scheduler.stop();
      mailer.close();
      notices.close();
      await syncs.idle();
      await imports.close();
      await Promise.all([workers.close(), pictures.close(), reads.close()]);
      clearInterval(heart);
      await follow()
        .then(() => leaveInstance(store, instance.id, clock.now()))
        .catch((err) => log.warn({ err }, 'the last beat failed'));
      await Promise.all([store.destroy(), facts.destroy()]);
    },
  };
}

/** The server for mails that come back, where one is wanted. */
async function openBounces(api: Api) {
  const { store, secrets, clock, config, log } = api;
  if (config.bouncePort === null) return null;
  return openBounceServer({
    port: config.bouncePort,
    log,
    base: async () => (await mailRules(store)).bounces,
    deliveryOf: async (token) => bouncedDelivery(store, await tokenKey(store, secrets), token, clock.now()),
    take: ({ deliveries, raw }) => takeReport(api, deliveries, raw),
  }).catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'EADDRINUSE'
      ? new StartError(
          `Port ${config.bouncePort} is in use. Stop what runs there, or set another port in CHRONICON_BOUNCE_PORT.`,
        )
      : error;
  });
}

/** Starts the server: ready when it resolves. @throws StartError with one line for the person who started it */
export async function startServer(config: Config): Promise<RunningServer> {
  const api = await openServer(config);
  const server = createServer(createApp(api));
  capConnections(server, config.trustProxy === null && config.mode === 'production' ? MOST_FROM_ONE : null);
  const port = await listen(server, config.port);
  const bounces = await openBounces(api).catch(async (error: unknown) => {
    await new Promise((r) => server.close(r));
    await api.shut();
    throw error;
  });
  // Outside production it is come to by either name, whatever links say.
  if (config.url === null || config.mode !== 'production')
    for (const host of ['127.0.0.1', 'localhost']) api.origins.add(`http://${host}:${port}`);
  await tellSimulators(api).catch((err) => api.log.warn({ err }, 'the simulators could not be told the time'));
  await api.imports.resume();
  const secret = await openFirstStart(api.store, api.clock.machine());
  api.scheduler.start();
  api.workers.warm().catch((err) => api.log.error({ err }, 'the worker threads could not be warmed'));
  return {
    ...api,
    url: `http://127.0.0.1:${port}`,
    bouncePort: bounces?.port ?? null,
    // After the sign of a fragment: no server, proxy or log is sent it.
    first: secret && `${config.url ?? `http://localhost:${port}`}/first#${secret}`,
    async close() {
      server.closeAllConnections();
      await new Promise((r) => server.close(r));
      await bounces?.close();
      await api.shut();
    },
  };
}
