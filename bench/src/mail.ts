import { fork } from 'node:child_process';
import { cpSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PLAIN_CHOICES } from '@chronicon/core/contract';
import { FRESH_MAIL } from '@chronicon/core/report';
import {
  createClient,
  createConnection,
  createFeed,
  createReport,
  createSchedule,
  DEMO_SERVICE_TOKEN,
  openServer,
  readConfig,
  releaseReport,
  saveContact,
} from '@chronicon/server';
import Database from 'better-sqlite3';
import { SERVER_FLAGS } from '../../scripts/serverFlags.mjs';
import { report } from './measure.ts';
import { launch, makeAgency, ROOT, signIn } from './server.ts';
import { sixPages } from './sixPages.ts';

/** Seconds from due to the last mail taken, megabytes of the server, milliseconds of the Desk meanwhile. */
const ALL_SENT = 90;
const MEMORY = 700;
const DESK = 200;
const CLIENTS = 1_000;
const FEW = 100;
const READERS = 2;
const SIMULATORS_PORT = 4395;
const SMTP_PORT = 4396;
/** All figures of October are there in the first, and the runs are due in the second. */
const BEFORE = '2026-11-02T08:42:00Z';
const DUE = '2026-11-03T08:00:01Z';

const settings = (data: string, today: string) => ({
  CHRONICON_DATA: data,
  CHRONICON_PORT: '4397',
  // With threads of its own for people and for editions, as everywhere but in tests.
  CHRONICON_MODE: 'demo',
  CHRONICON_TODAY: today,
  CHRONICON_SMTP: `smtp://127.0.0.1:${SMTP_PORT}`,
  CHRONICON_SIMULATORS: `http://127.0.0.1:${SIMULATORS_PORT}`,
  CHRONICON_FEEDS: `http://127.0.0.1:${SIMULATORS_PORT}/services`,
  CHRONICON_URL: 'https://reports.fernglass.example',
  CHRONICON_NOTICES: 'off',
  CHRONICON_LOG: 'silent',
});

/** The simulated services in a process of their own, with an empty mailbox. */
async function startSimulators(folder: string): Promise<() => Promise<void>> {
  const child = fork(join(ROOT, 'build/simulators.mjs'), {
    // What it costs is taken from the server: two processors are all that there are.
    execArgv: SERVER_FLAGS,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      CHRONICON_SIMULATORS_PORT: String(SIMULATORS_PORT),
      CHRONICON_SMTP_PORT: String(SMTP_PORT),
      CHRONICON_SIMULATORS_DATA: folder,
      CHRONICON_CLOCK_OFFSET: String(Date.parse(DUE) - Date.now()),
    },
  });
  const ended = new Promise<void>((r) => child.once('exit', () => r()));
  await new Promise((r) => child.once('message', r));
  return async () => {
    child.kill('SIGTERM');
    await ended;
  };
}

const CLIENT = {
  name: 'Tarnbeck Pottery',
  site: 'tarnbeck.example',
  zone: 'Europe/London',
  currency: 'GBP',
  language: 'en-GB',
  weekStart: 1,
  fiscalStart: 1,
  startDate: '2025-03-03',
};

/** Gives each feed the facts that the first of them brought. */
function shareFacts(folder: string, feeds: readonly { id: string; client_id: string }[]): void {
  const db = new Database(join(folder, 'facts.db'));
  const [first, ...others] = feeds;
  const datasets = db.prepare('select * from dataset where feed_id = ?').all(first!.id) as Record<string, unknown>[];
  db.transaction(() => {
    for (const feed of others) {
      for (const d of datasets) {
        const id = `${feed.id}.${d.key}`;
        const copy: Record<string, unknown> = { ...d, id, feed_id: feed.id, client_id: feed.client_id };
        const columns = Object.keys(copy);
        db.prepare(`insert into dataset (${columns}) values (${columns.map((c) => `@${c}`)})`).run(copy);
        for (const [table, rest] of [
          ['chunk', 'month, rows, body'],
          ['dim_value', 'dim, code, label'],
          ['coverage', 'first, last, fetched_at'],
        ]) {
          db.prepare(
            `insert into ${table} (dataset_id, ${rest}) select ?, ${rest} from ${table} where dataset_id = ?`,
          ).run(id, d.id);
        }
      }
    }
  })();
  db.close();
}

/** An agency of so many clients: each with a report of six pages, its figures, and a run on the 3rd at 08:00 to two readers. */
async function made(folder: string, clients: number): Promise<void> {
  const api = await openServer(readConfig(settings(folder, BEFORE)));
  const { store } = api;
  const at = api.clock.now();
  const managerId = await makeAgency(api);
  const kind = 'web-analytics';
  const secret = api.secrets.seal(DEMO_SERVICE_TOKEN);
  const { id: connectionId } = await createConnection(store, { kind, method: 'token', secret, madeBy: null, at });
  const feeds: { id: string; client_id: string }[] = [];
  for (let i = 0; i < clients; i++) {
    const client = await createClient(store, { ...CLIENT, name: `${CLIENT.name} ${i + 1}` }, { managerId, at });
    const account = { clientId: client.id, kind, connectionId, account: 'wa-2502', name: 'Website', at };
    const feed = await createFeed(store, {
      ...account,
      ...(i > 0 && { row: { next_sync: '9999-12-31T00:00:00.000Z' } }),
    });
    feeds.push(feed);
    const readers: { contact: string }[] = [];
    for (let r = 0; r < READERS; r++) {
      const person = { firstName: 'Petra', lastName: `Lund ${r}`, email: `petra${r}@client${i}.example` };
      readers.push({ contact: (await saveContact(store, client.id, person, at)).id });
    }
    const made = await createReport(store, { clientId: client.id, title: 'Shop month', document: sixPages, at });
    await releaseReport(store, { id: made.id, version: made.version, at, by: managerId });
    await createSchedule(
      store,
      client.id,
      {
        ...PLAIN_CHOICES,
        mail: FRESH_MAIL,
        reportId: made.id,
        rule: { freq: 'monthly', every: 1, on: { day: 3 } },
        time: '08:00',
        zone: 'Europe/London',
        firstDate: '2026-01-01',
        lastDate: null,
        period: { kind: 'unit', unit: 'month', offset: -1 },
        comparison: { kind: 'lastYear' },
        readers,
        subject: '{{report.title}}: {{period.label}}',
        message: 'Hello {{contact.firstName}}, visits were {{figure.visits}} ({{change.visits}}).',
      },
      at,
    );
  }
  await api.scheduler.settle();
  await api.shut();
  shareFacts(folder, feeds);
}

/** Whether the feeds were asked just now, or are to be asked before anything is drawn. */
function setFeeds(folder: string, fresh: boolean): void {
  const db = new Database(join(folder, 'chronicon.db'));
  db.prepare(`update feed set state = 'fresh', next_sync = ?, last_success = ?`).run(
    '9999-12-31T00:00:00.000Z',
    fresh ? '2026-11-03T07:59:00.000Z' : '2026-11-02T02:00:00.000Z',
  );
  db.close();
}

const megabytesNow = (pid: number): number =>
  Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;

interface Sent {
  seconds: number;
  memory: number;
  desk: number[];
}

/** Starts a server on a folder in which all is due, and waits until the mail server has taken every mail. */
async function send(data: string, clients: number, mailbox: string): Promise<Sent> {
  const endSimulators = await startSimulators(mailbox);
  const server = launch(settings(data, DUE));
  const url = await server.ready;
  const began = performance.now();
  const headers = { cookie: (await signIn(url)).cookie };
  const db = new Database(join(data, 'chronicon.db'), { readonly: true, timeout: 5_000 });
  const counted = db.prepare(`select count(*) n from delivery where state = 'accepted'`);
  const of = (state: string) =>
    (db.prepare('select count(*) n from edition where state = ?').get(state) as { n: number }).n;
  const desk: number[] = [];
  let memory = 0;
  let accepted = 0;
  while (accepted < clients * READERS) {
    if (performance.now() - began > 900_000) {
      throw new Error(`${accepted} mails went, ${of('held')} editions are held, ${of('sending')} on their way`);
    }
    const asked = performance.now();
    await (await fetch(`${url}/api/desk`, { headers })).arrayBuffer();
    desk.push(performance.now() - asked);
    memory = Math.max(memory, megabytesNow(server.child.pid!));
    await new Promise((r) => setTimeout(r, 1_000));
    accepted = (counted.get() as { n: number }).n;
  }
  const seconds = (performance.now() - began) / 1000;
  db.close();
  const arrived = (await (await fetch(`http://127.0.0.1:${SIMULATORS_PORT}/api/mails`)).json()) as { times: number }[];
  server.child.kill('SIGTERM');
  await server.ended;
  await endSimulators();
  if (arrived.length !== clients * READERS) throw new Error(`${arrived.length} mails arrived`);
  if (arrived.some((m) => m.times > 1)) throw new Error('mails came twice');
  return { seconds, memory, desk };
}

/** A whole agency's month: from the moment in which all runs are due until the mail server has each mail. */
export async function benchMail(folder: string): Promise<void> {
  const [few, many, synced] = ['few', 'many', 'synced'].map((name) => join(folder, name)) as [string, string, string];
  const endSimulators = await startSimulators(join(folder, 'made-mail'));
  await made(few, FEW);
  await made(many, CLIENTS);
  await endSimulators();
  cpSync(many, synced, { recursive: true });
  for (const data of [few, many]) setFeeds(data, true);
  setFeeds(synced, false);
  const small = await send(few, FEW, join(folder, 'few-mail'));
  const large = await send(many, CLIENTS, join(folder, 'many-mail'));
  const name = `${CLIENTS.toLocaleString('en-GB')} clients x 6 pages x ${READERS} readers`;
  report(`${name}, due to accepted`, [large.seconds], ALL_SENT, 's');
  report('  memory of the server at most', [large.memory], MEMORY, 'MB');
  report('  the Desk meanwhile', large.desk, DESK, 'ms', 'p95');
  console.log(`  ${FEW} clients: ${small.seconds.toFixed(1)} s`);
  report(`  a client's share beside that of ${FEW}`, [large.seconds / CLIENTS / (small.seconds / FEW)], 1.25, 'times');
  const asked = await send(synced, CLIENTS, join(folder, 'synced-mail'));
  report(`${name}, each feed asked first`, [asked.seconds], 3 * ALL_SENT, 's');
  report('  memory of the server at most', [asked.memory], MEMORY, 'MB');
  report('  the Desk meanwhile', asked.desk, DESK, 'ms', 'p95');
}
