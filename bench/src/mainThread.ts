import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { routes } from '@chronicon/core/contract';
import { type Api, openServer, readConfig } from '@chronicon/server';
import { SCALED, scaledAgency } from '@chronicon/server/scale';
import { median, report } from './measure.ts';
import { launch } from './server.ts';

/** Milliseconds of the main thread that a request may take: at its median, and at most. */
const BUDGET = { median: 50, most: 250 };
/** How much more a list may take at ten times the clients. */
const GROWTH = 1.5;
/** Milliseconds within which the health is told, whatever is asked meanwhile. */
const HEALTH = 200;
const TIMES = 12;
const NOW = '2026-11-02T08:42:00Z';

const settings = (data: string): Record<string, string> => ({
  CHRONICON_DATA: data,
  CHRONICON_PORT: '4397',
  CHRONICON_MODE: 'test',
  CHRONICON_TODAY: NOW,
  CHRONICON_NOTICES: 'off',
  CHRONICON_LOG: 'silent',
});

/** Places of many clients, each with the path that shows it. */
const PLACES: readonly (readonly [string, string])[] = [
  ['the Desk', '/api/desk'],
  ['whether anything has changed', '/api/changes'],
  ['all schedules', '/api/schedules'],
  ['all schedules, the last page', '/api/schedules?page=20'],
  ['all schedules that somebody reads', '/api/schedules?reader=lindqvist'],
  ['who gets what', '/api/who-gets-what'],
  ['the Almanac', '/api/almanac'],
  ['the look ahead', '/api/look-ahead?from=2026-11-02&to=2026-12-01'],
  ['the look ahead as CSV', '/api/look-ahead/table?from=2026-11-02&to=2026-11-09'],
  ['clients', '/api/clients'],
  ['names of clients', '/api/clients/names'],
  ['a client found by name', '/api/clients/names?text=Pottery'],
  ['the archive', '/api/editions'],
  ['members', '/api/members'],
  ['templates', '/api/templates'],
  ['the agency', '/api/agency'],
  ['connections', '/api/connections'],
  ['what stops mails', '/api/sending'],
];

/** Milliseconds for which the main thread of a process has run so far, as the kernel counts them. */
const ranFor = (pid: number): number =>
  Number(readFileSync(`/proc/${pid}/task/${pid}/schedstat`, 'utf8').split(' ')[0]) / 1e6;

interface Measured {
  cpu: number[];
  wall: number[];
}

/** Asks a server as its owner. @throws Error for a refusal */
type Ask = (method: string, path: string, body?: unknown) => Promise<unknown>;

/** Routes that need what a scaled agency does not have, or wait on purpose. */
const NOT_ASKED =
  /\/(authorise|demo|first|grid|gallery|reset|links)|accounts$|logo|pictures|:(import|kept|mail|template|segment|excluded|target|note|list|metric|reader|act|connection)/;

/** What shows a client, a report, a schedule or an edition: every other route that only shows something, by its own name. */
async function pathsOf(ask: Ask): Promise<[string, string][]> {
  const { clients } = (await ask('GET', '/api/clients')) as { clients: { id: string }[] };
  const client = clients[0]!.id;
  const [report] = (await ask('GET', `/api/clients/${client}/reports`)) as { id: string }[];
  const { editions } = (await ask('GET', `/api/editions?client=${client}`)) as {
    editions: { id: string; scheduleId?: string }[];
  };
  const { schedules } = (await ask('GET', `/api/schedules?client=${client}`)) as { schedules: { id: string }[] };
  const feeds = (await ask('GET', `/api/clients/${client}/feeds`)) as { id: string }[];
  const ids: Record<string, string | undefined> = {
    client,
    report: report?.id,
    edition: editions[0]?.id,
    schedule: schedules[0]?.id,
    feed: feeds[0]?.id,
  };
  const known = new Set(PLACES.map(([, path]) => path.split('?')[0]));
  return Object.keys(routes).flatMap((name): [string, string][] => {
    const [method, template] = name.split(' ') as [string, string];
    if (method !== 'GET' || known.has(template) || NOT_ASKED.test(template)) return [];
    const path = template.replace(/:(\w+)/g, (_, key: string) => ids[key] ?? ':');
    return path.includes(':') ? [] : [[template, path + (QUERIES[template] ?? '')]];
  });
}

/** What routes want to know that do not answer without it. */
const QUERIES: Record<string, string> = {
  '/api/clients/:client/figures': '?metrics=visits&period=month.-1',
  '/api/clients/:client/figures/explain': '?metric=visits&from=2026-10-01&to=2026-10-31',
  '/api/clients/:client/figures/rows': '?metric=visits&from=2026-10-01&to=2026-10-31',
  '/api/clients/:client/figures/rhythm': '?metric=visits&from=2026-10-01&to=2026-10-31',
  '/api/clients/:client/figures/why': '?metric=visits&by=channel&period=month.-1&compare=previous',
  '/api/clients/:client/labels': '?dimension=channel',
};

interface Sent {
  method: string;
  path: string;
  body?: unknown;
}

/** What changes one thing, or draws it: each by its route, with what is sent the next time. */
async function changesOf(ask: Ask): Promise<[string, (i: number) => Promise<Sent>][]> {
  const { clients } = (await ask('GET', '/api/clients')) as { clients: { id: string }[] };
  const client = `/api/clients/${clients[1]!.id}`;
  const { schedules } = (await ask('GET', `/api/schedules?client=${clients[1]!.id}`)) as {
    schedules: { id: string }[];
  };
  const schedule = `/api/schedules/${schedules[0]!.id}`;
  const [{ id: reportId }] = (await ask('GET', `${client}/reports`)) as [{ id: string }];
  const report = `/api/reports/${reportId}`;
  const read = async (path: string) => (await ask('GET', path)) as Record<string, unknown>;
  const times = (i: number) => `0${6 + (Math.abs(i) % 3)}:15`;
  const changes: [string, string, (i: number) => Promise<unknown>][] = [
    ['PUT', client, async (i) => ({ ...(await read(client)), site: `place${i}.example` })],
    ['PUT', `${client}/tags`, async (i) => ({ tags: [`Tag ${i}`] })],
    ['POST', `${client}/notes`, async (i) => ({ from: '2026-10-01', to: '2026-10-02', text: `${i}`, inReports: true })],
    ['PUT', schedule, async (i) => ({ ...((await read(schedule)).input as object), time: times(i) })],
    ['PUT', `${schedule}/active`, async (i) => ({ active: i % 2 === 0 })],
    ['POST', `${report}/edits`, async (i) => edited(await read(report), i)],
    ['POST', `${report}/release`, async () => ({ version: (await read(report)).version })],
    ['POST', `${report}/preview`, async () => ({ look: { kind: 'own' } })],
    ['PUT', '/api/sending', async () => ({ on: true })],
  ];
  const named = (path: string) =>
    path
      .replace(client, '/api/clients/:client')
      .replace(schedule, '/api/schedules/:schedule')
      .replace(report, '/api/reports/:report');
  return changes.map(([method, path, bodyOf]) => [
    `${method} ${named(path)}`,
    async (i) => ({ method, path, body: await bodyOf(i) }),
  ]);
}

const edited = ({ version }: Record<string, unknown>, i: number) => ({
  version,
  edits: [{ op: 'title', title: `Month ${Math.abs(i)}` }],
});

/** Schedules that are changed at once, and clients that are brought in one file. */
const AT_ONCE = 500;

/** Acts on much at once, each with what it costs the main thread for each thing that it changes. */
async function measureActs(
  pid: number,
  ask: Ask,
): Promise<{ name: string; cpu: number; each: number; longest: number }[]> {
  const { all } = (await ask('GET', '/api/schedules')) as { all: string[] };
  const body = { schedules: all.slice(0, AT_ONCE), act: { do: 'retime', time: '07:10', zone: null } };
  const found: { name: string; cpu: number; each: number; longest: number }[] = [];
  const timed = async <T>(name: string, count: number, work: () => Promise<T>): Promise<T> => {
    let going = true;
    let longest = 0;
    const watching = (async () => {
      while (going) {
        const began = performance.now();
        await ask('GET', '/api/health');
        longest = Math.max(longest, performance.now() - began);
        await new Promise((r) => setTimeout(r, 20));
      }
    })();
    const before = ranFor(pid);
    const result = await work();
    const cpu = ranFor(pid) - before;
    going = false;
    await watching;
    found.push({ name, cpu, each: cpu / count, longest });
    return result;
  };
  const { seen } = (await timed(`${AT_ONCE} schedules to be retimed, looked at`, AT_ONCE, () =>
    ask('POST', '/api/schedules/many', body),
  )) as { seen: string };
  const { done } = (await timed(`${AT_ONCE} schedules retimed`, AT_ONCE, () =>
    ask('POST', '/api/schedules/many', { ...body, seen }),
  )) as { done: string };
  await timed(`${AT_ONCE} schedules put back`, AT_ONCE, () => ask('POST', `/api/schedules/many/${done}/undo`, {}));
  const rows = Array.from({ length: AT_ONCE }, (_, i) => `Brought ${i},North`);
  await timed(`${AT_ONCE} clients in a file, looked at`, AT_ONCE, () =>
    ask('POST', '/api/clients/import', { text: ['client,tags', ...rows].join('\n') }),
  );
  return found;
}

async function measure(data: string) {
  const server = launch(settings(data));
  const url = await server.ready;
  const pid = server.child.pid!;
  const signIn = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(SCALED),
  });
  const { csrf } = (await signIn.json()) as { csrf: string };
  const headers = {
    cookie: signIn.headers.getSetCookie()[0]!.split(';')[0]!,
    'x-csrf-token': csrf,
    'content-type': 'application/json',
  };
  const ask: Ask = async (method, path, body) => {
    const answer = await fetch(url + path, {
      method,
      headers,
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    const text = await answer.text();
    if (!answer.ok && answer.status !== 503) throw new Error(`${method} ${path} answered ${answer.status}: ${text}`);
    return JSON.parse(text);
  };
  const places = new Map<string, Measured>();
  // What the start leaves to do is done first.
  for (let quiet = 0; quiet < 5; ) {
    const before = ranFor(pid);
    await new Promise((r) => setTimeout(r, 1_000));
    quiet = ranFor(pid) - before < 60 ? quiet + 1 : 0;
  }
  // What it does by itself meanwhile is no request's.
  const began = ranFor(pid);
  await new Promise((r) => setTimeout(r, 10_000));
  const idle = (ranFor(pid) - began) / 10;
  const others = await pathsOf(ask);
  const measureOne = async (name: string, requestOf: (i: number) => Promise<Sent>): Promise<void> => {
    const found: Measured = { cpu: [], wall: [] };
    for (let i = -2; i < TIMES; i++) {
      const { method, path, body } = await requestOf(i);
      const [before, began] = [ranFor(pid), performance.now()];
      const answer = await fetch(url + path, {
        method,
        headers,
        ...(body !== undefined && { body: JSON.stringify(body) }),
      });
      const said = await answer.text();
      if (!answer.ok) {
        console.log(`  not measured, it answered ${answer.status}: ${name}: ${said.slice(0, 200)}`);
        break;
      }
      if (i < 0) continue;
      const wall = performance.now() - began;
      found.cpu.push(Math.max(0, ranFor(pid) - before - (idle * wall) / 1000));
      found.wall.push(wall);
    }
    if (found.cpu.length > 0) places.set(name, found);
  };
  for (const [name, path] of [...PLACES, ...others]) await measureOne(name, async () => ({ method: 'GET', path }));
  for (const [name, requestOf] of await changesOf(ask)) await measureOne(name, requestOf);
  // All that is slow at once, and the health meanwhile.
  const health: number[] = [];
  let going = true;
  const watch = (async () => {
    while (going) {
      const began = performance.now();
      await (await fetch(`${url}/api/health`)).arrayBuffer();
      health.push(performance.now() - began);
      await new Promise((r) => setTimeout(r, 50));
    }
  })();
  await Promise.all(PLACES.map(async ([, path]) => (await fetch(url + path, { headers })).arrayBuffer()));
  going = false;
  await watch;
  const acts = await measureActs(pid, ask);
  server.child.kill('SIGTERM');
  await server.ended;
  return { places, idle, health, acts };
}

/**
 * What every route that shows something costs the main thread, and those that change one thing, one request at a time, at 1,000 and at
 * 10,000 clients; and what acts on much at once do. It takes a quarter of an hour, and is run by its name alone.
 */
export async function benchMainThread(folder: string): Promise<void> {
  const sizes = [1_000, 10_000] as const;
  const measured = [];
  for (const clients of sizes) {
    const data = join(folder, String(clients));
    const api: Api & { shut(): Promise<void> } = await openServer(readConfig(settings(data)));
    await scaledAgency(api, { clients, schedules: 2, editions: 10 }, NOW);
    await api.shut();
    measured.push(await measure(data));
  }
  const [few, many] = measured as [Awaited<ReturnType<typeof measure>>, Awaited<ReturnType<typeof measure>>];
  const listed = new Set(PLACES.map(([name]) => name));
  for (const name of many.places.keys()) {
    if (!few.places.has(name)) continue;
    const [small, large] = [few.places.get(name)!, many.places.get(name)!];
    report(`main thread: ${name}, 1,000 clients`, small.cpu, BUDGET.median);
    report('  10,000 clients', large.cpu, BUDGET.median);
    report('  at most', [Math.max(...large.cpu)], BUDGET.most);
    // Below a few milliseconds, what is compared is the clock.
    report(
      '  beside 1,000 clients',
      [Math.max(4, median(large.cpu)) / Math.max(4, median(small.cpu))],
      GROWTH,
      'times',
    );
    if (listed.has(name)) report('  answered in, 10,000 clients', large.wall, 2_000);
  }
  for (const { name, cpu, each, longest } of many.acts) {
    report(`main thread: ${name}, 10,000 clients`, [cpu], 60_000);
    report('  for each of them', [each], BUDGET.median);
    report('  the health meanwhile, the slowest', [longest], HEALTH);
  }
  report('the health while all of them are asked at once, 10,000 clients', [Math.max(...many.health)], HEALTH);
  report('idle, for each second: 1,000 clients', [few.idle], BUDGET.median);
  report('  10,000 clients', [many.idle], BUDGET.median);
}
