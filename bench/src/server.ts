import { fork } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { documentFrom } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import {
  type Api,
  createAgency,
  createClient,
  createConnection,
  createFeed,
  createMember,
  createReport,
  DEMO_SERVICE_TOKEN,
  hashPassword,
  newId,
  openServer,
  readConfig,
} from '@chronicon/server';
import { type Simulators, startSimulators } from '@chronicon/simulators';
import { SERVER_ENV, SERVER_FLAGS } from '../../scripts/serverFlags.mjs';
import { report, timings } from './measure.ts';

export const ROOT = join(import.meta.dirname, '../..');
export const PASSWORD = 'copper-kettle-17';
export const EMAIL = 'bench@fernglass.example';

export const settings = (data: string, simulators: Simulators, smtpPort: number) => ({
  CHRONICON_DATA: data,
  CHRONICON_PORT: '4391',
  CHRONICON_MODE: 'test',
  CHRONICON_TODAY: '2026-11-02T08:42:00Z',
  CHRONICON_SMTP: `smtp://127.0.0.1:${smtpPort}`,
  CHRONICON_SIMULATORS: simulators.url,
  CHRONICON_FEEDS: `${simulators.url}/services`,
  CHRONICON_LOG: 'silent',
});

/** An agency with a member who may do everything. */
export async function makeAgency(api: Api): Promise<string> {
  const at = api.clock.now();
  await createAgency(api.store, {
    name: 'Fernglass Media',
    zone: 'Europe/London',
    mailFrom: 'reports@fernglass.example',
    holidays: [],
    workingDays: [1, 2, 3, 4, 5],
  });
  const password = await hashPassword(PASSWORD);
  return (await createMember(api.store, { name: 'Bench', email: EMAIL, role: 'owner', password, at })).id;
}

export const QUILLON = {
  name: 'Quillon Cycle Works',
  site: 'quillon.example',
  zone: 'Europe/Berlin',
  currency: 'EUR',
  language: 'de-DE',
  weekStart: 1,
  fiscalStart: 1,
  startDate: '2023-08-07',
};

/** An agency with one client of three years' figures and a two-page report. */
export async function furnishClient(api: Api): Promise<{ clientId: string; reportId: string }> {
  const at = api.clock.now();
  const client = await createClient(api.store, QUILLON, { managerId: await makeAgency(api), at });
  const kind = 'web-analytics';
  const secret = api.secrets.seal(DEMO_SERVICE_TOKEN);
  const { id: connectionId } = await createConnection(api.store, { kind, method: 'token', secret, madeBy: null, at });
  const account = { clientId: client.id, kind, connectionId, account: 'wa-2233', name: 'Web analytics', at };
  await createFeed(api.store, account);
  const document = documentFrom('shop', wordsFor('de'), () => newId('bl'));
  const { id } = await createReport(api.store, { clientId: client.id, title: 'Shop', document, at });
  await api.scheduler.settle();
  return { clientId: client.id, reportId: id };
}

async function furnish(env: Record<string, string>): Promise<string> {
  const api = await openServer(readConfig(env));
  const { reportId } = await furnishClient(api);
  await api.shut();
  return reportId;
}

/** Signs in over HTTP. */
export async function signIn(url: string): Promise<{ cookie: string; csrf: string }> {
  const response = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: EMAIL, password: PASSWORD }),
  });
  const cookie = response.headers.getSetCookie()[0]!.split(';')[0]!;
  return { cookie, csrf: ((await response.json()) as { csrf: string }).csrf };
}

export function launch(env: Record<string, string>) {
  const began = performance.now();
  const child = fork(join(ROOT, 'build/server.mjs'), {
    execArgv: SERVER_FLAGS,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, ...SERVER_ENV, ...env },
  });
  const ended = new Promise((resolve) => child.on('exit', resolve));
  const ready = new Promise<string>((resolve) => child.on('message', (m) => resolve((m as { ready: string }).ready)));
  return { child, ended, ready, began };
}

/** Start-up and the preview after an edit, over HTTP against the built server; and how much the browser loads. */
export async function benchServer(folder: string): Promise<void> {
  const smtpPort = 4392;
  const simulators = await startSimulators({ smtpPort });
  try {
    const env = settings(folder, simulators, smtpPort);
    const reportId = await furnish(env);
    const starts: number[] = [];
    for (let i = 0; i < 5; i++) {
      const server = launch(env);
      const url = await server.ready;
      await fetch(`${url}/api/health`);
      starts.push(performance.now() - server.began);
      server.child.kill('SIGTERM');
      await server.ended;
    }
    report('server: from start to first answer', starts, 2_000);

    const server = launch(env);
    const url = await server.ready;
    const { cookie, csrf } = await signIn(url);
    const headers = { cookie, 'x-csrf-token': csrf, 'content-type': 'application/json' };
    const { document } = (await (await fetch(`${url}/api/reports/${reportId}`, { headers })).json()) as {
      document: { pages: { rows: { blocks: { kind: string; text?: string; span?: string }[] }[] }[] };
    };
    let have: string[] = [];
    const previews = await timings(60, 15, async (i) => {
      const block = document.pages[0]!.rows[1]!.blocks[0]!;
      block.span = 'standing';
      block.text = `Was im Monat geschah, Fassung ${i}: Taschen und Licht tragen den Herbst.`;
      const response = await fetch(`${url}/api/reports/${reportId}/preview`, {
        method: 'POST',
        headers,
        body: JSON.stringify({ document, have }),
      });
      const { pages } = (await response.json()) as { pages: { hash: string }[] };
      have = pages.map((p) => p.hash);
    });
    report('preview after an edit, over HTTP', previews, 100);
    server.child.kill('SIGTERM');
    await server.ended;
  } finally {
    await simulators.close();
  }
}

/** JavaScript and CSS that the browser loads up to the Desk, gzipped. */
export function benchBundle(): void {
  const web = join(ROOT, 'build/web');
  const page = readFileSync(join(web, 'index.html'), 'utf8');
  const files = [...page.matchAll(/(?:src|href)="(\/assets\/[^"]+\.(?:js|css))"/g)].map((m) => m[1]!);
  const size = files.reduce((n, f) => n + gzipSync(readFileSync(join(web, f))).length, 0) / 1024;
  report(
    `JavaScript and CSS up to the Desk (${files.length} of ${readdirSync(join(web, 'assets')).length} files)`,
    [size],
    215,
    'kB',
  );
}
