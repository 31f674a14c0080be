import { createReadStream, createWriteStream, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { ImportDetail, ImportRow } from '@chronicon/core/contract';
import {
  createClient,
  createConnection,
  createFeed,
  DEMO_SERVICE_TOKEN,
  openServer,
  readConfig,
} from '@chronicon/server';
import { SERVICES, type Simulators, startSimulators } from '@chronicon/simulators';
import { median, report } from './measure.ts';
import { launch, makeAgency, QUILLON, settings, signIn } from './server.ts';

const ROWS = 1_000_000;
const FEEDS = 200;
const DAYS = 30;
const TODAY = '2026-11-02T08:42:00Z';

const wait = (ms: number) => new Promise((r) => setTimeout(r, ms));
const megabytes = (bytes: number) => `${(bytes / 1024 / 1024).toFixed(0)} MB`;

/** A year and more of a shop's sales: a date, four labels, three figures. */
async function writeFile(path: string): Promise<void> {
  const out = createWriteStream(path);
  out.write('date,shop,product,channel,country,sold,takings,returns\n');
  const day = 86_400_000;
  let block: string[] = [];
  for (let i = 0; i < ROWS; i++) {
    const date = new Date(Date.parse('2025-01-01') + (i % 600) * day).toISOString().slice(0, 10);
    const product = `Article ${(i * 7) % 5_000}`;
    const channel = ['Counter', 'Web', 'Phone'][i % 3];
    block.push(
      `${date},Shop ${i % 40},${product},${channel},Land ${i % 12},${i % 9},${((i % 9) * 12.35).toFixed(2)},${i % 2}`,
    );
    if (block.length === 20_000) {
      if (!out.write(`${block.join('\n')}\n`)) await new Promise((r) => out.once('drain', () => r(null)));
      block = [];
    }
  }
  await new Promise<void>((r) => out.end(() => r()));
}

/** Peak and present memory of a process, in bytes. */
function memoryOf(pid: number): { peak: number; now: number } {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  const of = (name: string) => Number(new RegExp(`${name}:\\s+(\\d+) kB`).exec(status)?.[1] ?? 0) * 1024;
  return { peak: of('VmHWM'), now: of('VmRSS') };
}

async function benchImport(folder: string, simulators: Simulators, smtpPort: number): Promise<void> {
  const env = settings(folder, simulators, smtpPort);
  const api = await openServer(readConfig(env));
  const client = await createClient(api.store, QUILLON, { managerId: await makeAgency(api), at: api.clock.now() });
  await api.shut();
  const path = join(folder, 'sales.csv');
  await writeFile(path);
  const { child, ready } = launch(env);
  const url = await ready;
  const { cookie, csrf } = await signIn(url);
  const headers = { cookie, 'x-csrf-token': csrf };
  const ask = async <T>(method: string, at: string, body?: unknown): Promise<T> => {
    const init = { method, headers: { ...headers, 'content-type': 'application/json' } };
    const response = await fetch(`${url}/api/clients/${client.id}${at}`, {
      ...init,
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    return (await response.json()) as T;
  };
  const desk = async () => {
    const began = performance.now();
    await (await fetch(`${url}/api/desk`, { headers })).json();
    return performance.now() - began;
  };
  await wait(2_000);
  const alone: number[] = [];
  for (let i = 0; i < 40; i++) alone.push(await desk());
  const before = memoryOf(child.pid!);

  const sent = performance.now();
  const taken = (await (
    await fetch(`${url}/api/clients/${client.id}/imports?name=sales.csv`, {
      method: 'PUT',
      headers,
      body: Readable.toWeb(createReadStream(path)),
      duplex: 'half',
    } as unknown as RequestInit)
  ).json()) as ImportRow;
  const looked = performance.now() - sent;
  const { inspection } = await ask<ImportDetail>('GET', `/imports/${taken.id}`);
  const metric = { unit: 'count', polarity: 'higher', kind: 'sum' };
  const metrics = ['sold', 'takings', 'returns'].map((key) => ({ key, label: key, ...metric }));
  const began = performance.now();
  await ask('POST', `/imports/${taken.id}/begin`, { mapping: inspection!.mapping, feed: null, name: 'Sales', metrics });
  const beside: number[] = [];
  let state: ImportDetail;
  do {
    beside.push(await desk());
    await wait(50);
    state = await ask<ImportDetail>('GET', `/imports/${taken.id}`);
  } while (state.state === 'importing');
  const took = performance.now() - began;
  const after = memoryOf(child.pid!);
  child.kill('SIGTERM');
  if (state.state !== 'done' || state.good !== ROWS) throw new Error(`the import is ${state.state}: ${state.problem}`);
  console.log(
    `a file of ${ROWS.toLocaleString('en-GB')} rows x 8 columns, ${megabytes(statSync(path).size)}: sent and looked at in ${(looked / 1000).toFixed(1)} s`,
  );
  report('a file’s import, from the button to figures that count', [took], 15_000);
  const grew = after.peak - before.now;
  console.log(
    `  memory of the server: ${megabytes(before.now)} before, ${megabytes(after.peak)} at most; the import took ${megabytes(grew)}, ${(grew / 300 / 1024 / 1024).toFixed(2)} of 300 MB: ${grew < 300 * 1024 * 1024 ? 'within' : 'OVER'}`,
  );
  console.log(
    `  the Desk meanwhile: median ${median(beside).toFixed(1)} ms, slowest ${Math.max(...beside).toFixed(0)} ms (alone ${median(alone).toFixed(1)} ms): ${(median(beside) / median(alone)).toFixed(2)} times`,
  );
}

async function benchSync(folder: string, simulators: Simulators, smtpPort: number): Promise<void> {
  const env = settings(folder, simulators, smtpPort);
  const api = await openServer(readConfig(env));
  const { store } = api;
  const at = api.clock.now();
  const managerId = await makeAgency(api);
  const secret = api.secrets.seal(DEMO_SERVICE_TOKEN);
  const connections = new Map<string, string>();
  for (const { kind } of SERVICES) {
    connections.set(kind, (await createConnection(store, { kind, method: 'token', secret, madeBy: null, at })).id);
  }
  const accounts = SERVICES.flatMap((s) => s.accounts.map((account) => ({ kind: s.kind, account })));
  for (let i = 0; i < FEEDS; i++) {
    const { kind, account } = accounts[i % accounts.length]!;
    const { id, name, site, zone, currency } = account;
    const client = await createClient(store, { ...QUILLON, name: `Client ${i}` }, { managerId, at });
    const fingerprint = { id, name, site, zone, currency };
    const feed = { clientId: client.id, kind, account: id, name, at, fingerprint };
    await createFeed(store, { ...feed, connectionId: connections.get(kind)! });
  }
  const began = performance.now();
  await api.scheduler.settle();
  const took = performance.now() - began;
  const left = await store.selectFrom('feed').select('id').where('state', '!=', 'fresh').execute();
  await api.shut();
  if (left.length > 0) throw new Error(`${left.length} feeds were not fetched`);
  const requests = SERVICES.reduce((n, s) => n + simulators.requests.made(s.kind), 0);
  report(`${FEEDS} feeds x ${DAYS} days, ${requests} requests`, [took], 60_000);
}

/** How fast files and services are read. */
export async function benchFeeds(folder: string): Promise<void> {
  const smtpPort = 4398;
  const offset = Date.parse(TODAY) - Date.now();
  const simulators = await startSimulators({ smtpPort, offset, history: DAYS });
  try {
    await benchImport(join(folder, 'import'), simulators, smtpPort);
    await benchSync(join(folder, 'sync'), simulators, smtpPort);
  } finally {
    await simulators.close();
  }
}
