import { join } from 'node:path';
import { type Api, openServer, readConfig, startServer } from '@chronicon/server';
import { SCALED, scaledAgency } from '@chronicon/server/scale';
import { median, report, timings } from './measure.ts';

/** Milliseconds of one place, how often as long as with fifty clients, and statements of the databases. */
const PLACE = 150;
const TIMES = 5;
const STATEMENTS = 40;
const NOW = '2026-11-02T08:42:00.000Z';

const PLACES: readonly [string, (clients: number) => string][] = [
  ['Desk', () => '/api/desk'],
  ['Clients', () => '/api/clients'],
  ['Clients, found by name', () => '/api/clients?text=e'],
  ['Archive', () => '/api/editions'],
  ['Archive, searched', () => '/api/editions?text=ferries'],
  ['Almanac, five weeks', () => '/api/almanac'],
  ['Almanac, a quarter', () => '/api/almanac?weeks=13'],
  ['All schedules', () => '/api/schedules'],
  ['All schedules, by reader', () => '/api/schedules?reader=lindqvist%203'],
  ['Who gets what', () => '/api/who-gets-what'],
  ['Look ahead, a month', () => '/api/look-ahead?from=2026-11-02&to=2026-12-02'],
  // Fifty of each client, fifty a page.
  ['Archive, the last page', (clients) => `/api/editions?page=${clients}`],
];

const settings = (data: string) =>
  readConfig({
    CHRONICON_DATA: data,
    CHRONICON_PORT: '0',
    CHRONICON_MODE: 'test',
    CHRONICON_TODAY: NOW,
    CHRONICON_NOTICES: 'off',
    CHRONICON_LOG: 'silent',
  });

interface Measured {
  times: number[];
  statements: number;
}

async function placesOf(url: string, clients: number): Promise<Map<string, Measured>> {
  const signIn = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(SCALED),
  });
  const cookie = signIn.headers.getSetCookie()[0]!.split(';')[0]!;
  const found = new Map<string, Measured>();
  for (const [name, pathFor] of PLACES) {
    const path = pathFor(clients);
    let statements = 0;
    const times = await timings(15, 8, async () => {
      const answer = await fetch(url + path, { headers: { cookie } });
      if (!answer.ok) throw new Error(`${path} answered ${answer.status}`);
      await answer.arrayBuffer();
      statements = Number(answer.headers.get('x-statements'));
    });
    found.set(name, { times, statements });
  }
  return found;
}

async function made(folder: string, clients: number): Promise<void> {
  const api: Api & { shut(): Promise<void> } = await openServer(settings(folder));
  await scaledAgency(api, { clients, schedules: 2, editions: 50 }, NOW);
  await api.shut();
}

/** Every schedule looked at once more, as after a change of the zones' rules. */
async function benchRuns(folder: string): Promise<void> {
  const api = await openServer(settings(folder));
  const began = performance.now();
  await api.store.updateTable('schedule').set({ next_look: '' }).execute();
  await api.scheduler.settle();
  report('runs of 2,000 schedules made anew in the background', [(performance.now() - began) / 1000], 10, 's');
  const { id } = await api.store.selectFrom('schedule').select('id').executeTakeFirstOrThrow();
  const one = await timings(20, 3, async () => {
    await api.store.updateTable('schedule').set({ next_look: '' }).where('id', '=', id).execute();
    await api.scheduler.settle();
  });
  report('runs of one schedule made anew, with the scheduler’s look', one, 50);
  await api.shut();
}

const PLACES_OF_ONE = 400;

/** One person who reads at 400 clients, replaced everywhere and put back: seen, done, undone. */
async function benchReplace(folder: string): Promise<void> {
  const server = await startServer(settings(folder));
  const shared = 'asta@holding.example';
  await server.store
    .updateTable('contact')
    .set({ email: shared })
    .where('id', 'in', (q) =>
      q
        .selectFrom('contact')
        .select('id')
        .orderBy('id')
        .limit(PLACES_OF_ONE / 2),
    )
    .execute();
  const signIn = await fetch(`${server.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(SCALED),
  });
  const cookie = signIn.headers.getSetCookie()[0]!.split(';')[0]!;
  const { csrf } = (await signIn.json()) as { csrf: string };
  const ask = async (path: string, body: object) => {
    const headers = { cookie, 'x-csrf-token': csrf, 'content-type': 'application/json' };
    const began = performance.now();
    const answer = await fetch(server.url + path, { method: 'POST', headers, body: JSON.stringify(body) });
    const said = (await answer.json()) as { seen: string; done: string; changes: number; undone: number };
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${JSON.stringify(said)}`);
    return { said, seconds: (performance.now() - began) / 1000 };
  };
  const who = { email: 'bram@holding.example', firstName: 'Bram', lastName: 'Rye' };
  const body = { schedules: null, act: { do: 'replace', from: shared, who, left: true, outside: true } };
  const seen = await ask('/api/schedules/many', body);
  // What is asked meanwhile by somebody else.
  const waits: number[] = [];
  let going = true;
  const other = (async () => {
    while (going) {
      const began = performance.now();
      await (await fetch(`${server.url}/api/clients/names`, { headers: { cookie } })).arrayBuffer();
      waits.push(performance.now() - began);
      await new Promise((r) => setTimeout(r, 20));
    }
  })();
  const done = await ask('/api/schedules/many', { ...body, seen: seen.said.seen });
  going = false;
  await other;
  const undone = await ask(`/api/schedules/many/${done.said.done}/undo`, {});
  if (seen.said.changes !== PLACES_OF_ONE || undone.said.undone !== PLACES_OF_ONE) throw new Error('not in 400 places');
  report('a person replaced in 400 places: seen first', [seen.seconds], 2, 's');
  report('  done', [done.seconds], 5, 's');
  report('  somebody else waits meanwhile', waits, 300);
  report('  undone', [undone.seconds], 5, 's');
  await server.close();
}

/** Places of an agency of 1,000 clients with 2,000 schedules and 50,000 editions, beside one of fifty clients. */
export async function benchLists(folder: string): Promise<void> {
  const [small, large] = [join(folder, 'small'), join(folder, 'large')];
  await made(small, 50);
  await made(large, 1_000);
  const measured: Map<string, Measured>[] = [];
  for (const [data, clients] of [
    [small, 50],
    [large, 1_000],
  ] as const) {
    const server = await startServer(settings(data));
    await server.scheduler.settle();
    await server.workers.warm();
    measured.push(await placesOf(server.url, clients));
    await server.close();
  }
  const [few, many] = measured as [Map<string, Measured>, Map<string, Measured>];
  for (const [name] of PLACES) {
    const { times, statements } = many.get(name)!;
    report(`${name}, 1,000 clients`, times, PLACE);
    report('  beside 50 clients', [median(times) / median(few.get(name)!.times)], TIMES, 'times');
    report('  statements', [statements], STATEMENTS, '');
  }
  await benchRuns(large);
  await benchReplace(large);
}
