import { readFileSync } from 'node:fs';
import { join } from 'node:path';
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

async function measure(data: string): Promise<{ places: Map<string, Measured>; idle: number; health: number[] }> {
  const server = launch(settings(data));
  const url = await server.ready;
  const pid = server.child.pid!;
  const signIn = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(SCALED),
  });
  const headers = { cookie: signIn.headers.getSetCookie()[0]!.split(';')[0]! };
  const places = new Map<string, Measured>();
  // What the start leaves to do is done first.
  for (let quiet = 0; quiet < 5; ) {
    const before = ranFor(pid);
    await new Promise((r) => setTimeout(r, 1_000));
    quiet = ranFor(pid) - before < 60 ? quiet + 1 : 0;
  }
  for (const [name, path] of PLACES) {
    const found: Measured = { cpu: [], wall: [] };
    for (let i = -2; i < TIMES; i++) {
      const [before, began] = [ranFor(pid), performance.now()];
      const answer = await fetch(url + path, { headers });
      await answer.arrayBuffer();
      if (!answer.ok) throw new Error(`${path} answered ${answer.status}`);
      if (i < 0) continue;
      found.cpu.push(ranFor(pid) - before);
      found.wall.push(performance.now() - began);
    }
    places.set(name, found);
  }
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
  const before = ranFor(pid);
  await new Promise((r) => setTimeout(r, 10_000));
  const idle = (ranFor(pid) - before) / 10;
  server.child.kill('SIGTERM');
  await server.ended;
  return { places, idle, health };
}

/**
 * What places of many clients cost the main thread, one request at a time, at 1,000 and at 10,000 clients. It takes a
 * quarter of an hour, and is run by its name alone.
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
  for (const [name] of PLACES) {
    const [small, large] = [few.places.get(name)!, many.places.get(name)!];
    report(`main thread: ${name}, 1,000 clients`, small.cpu, BUDGET.median);
    report('  10,000 clients', large.cpu, BUDGET.median);
    report('  at most', [Math.max(...large.cpu)], BUDGET.most);
    report('  beside 1,000 clients', [median(large.cpu) / Math.max(1, median(small.cpu))], GROWTH, 'times');
    report('  answered in, 10,000 clients', large.wall, 2_000);
  }
  report('the health while all of them are asked at once, 10,000 clients', [Math.max(...many.health)], HEALTH);
  report('idle, for each second: 1,000 clients', [few.idle], BUDGET.median);
  report('  10,000 clients', [many.idle], BUDGET.median);
}
