import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'kysely';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readConfig } from '../platform/config.ts';
import { openServer, type RunningServer, startServer } from '../server.ts';
import { type Visitor, visit } from '../test/harness.ts';
import { SCALED, scaledAgency } from '../test/scaledAgency.ts';

const NOW = '2026-11-02T08:42:00.000Z';
/** Statements that one screen may take, however large the agency is. */
const MOST = 40;

interface Agency {
  folder: string;
  server: RunningServer;
  owner: Visitor;
}

async function agencyOf(clients: number): Promise<Agency> {
  const folder = mkdtempSync(join(tmpdir(), 'chronicon-scaled-'));
  const config = readConfig({
    CHRONICON_DATA: folder,
    CHRONICON_PORT: '0',
    CHRONICON_MODE: 'test',
    CHRONICON_TODAY: NOW,
    CHRONICON_NOTICES: 'off',
    CHRONICON_LOG: 'silent',
  });
  const api = await openServer(config);
  await scaledAgency(api, { clients, schedules: 2, editions: 3 }, NOW);
  await api.shut();
  const server = await startServer(config);
  await server.scheduler.settle();
  return { folder, server, owner: await visit(server.url, SCALED.email) };
}

let few: Agency;
let many: Agency;
beforeAll(async () => {
  few = await agencyOf(8);
  many = await agencyOf(70);
});
afterAll(async () => {
  for (const { server, folder } of [few, many]) {
    await server.close();
    rmSync(folder, { recursive: true, force: true });
  }
});

/** One client with what hangs on it, of the same kind in both agencies. */
async function idsOf({ owner }: Agency) {
  const { clients } = (await owner.ask('GET /api/clients')).body;
  const client = clients[1]!.id;
  const [report] = (await owner.ask('GET /api/clients/:client/reports', { params: { client } })).body;
  const [schedule] = (await owner.ask('GET /api/clients/:client/schedules', { params: { client } })).body;
  const { editions } = (await owner.ask('GET /api/editions', { query: { client } })).body;
  return { client, report: report!.id, schedule: schedule!.id, edition: editions[0]!.id };
}
type Ids = Awaited<ReturnType<typeof idsOf>>;

/** Every screen by what it asks for. */
const SCREENS: readonly [string, (ids: Ids) => string][] = [
  ['Desk', () => '/api/desk'],
  ['Desk of one client', ({ client }) => `/api/desk?client=${client}`],
  ['Clients', () => '/api/clients'],
  ['Clients, found by name', () => '/api/clients?text=o'],
  ['the chooser of clients', () => '/api/clients/names'],
  ['Archive', () => '/api/editions'],
  ['Archive, searched', () => '/api/editions?text=visits&state=sent'],
  ['Sending', () => '/api/sending'],
  ['five weeks of the Almanac', () => '/api/almanac?from=2026-11-02&weeks=5'],
  ['a quarter of it', () => '/api/almanac?from=2026-11-02&weeks=13'],
  ['all schedules', () => '/api/schedules'],
  ['those of one rhythm', () => '/api/schedules?rhythm=monthly'],
  ['who gets what', () => '/api/who-gets-what'],
  ['what was done with many', () => '/api/schedules/many'],
  ['the look ahead', () => '/api/look-ahead?from=2026-11-02&to=2026-11-30'],
  ['runs that time zones move', () => '/api/zone-moves'],
  ['a client', ({ client }) => `/api/clients/${client}`],
  ['its feeds', ({ client }) => `/api/clients/${client}/feeds`],
  ['its reports', ({ client }) => `/api/clients/${client}/reports`],
  ['its schedules', ({ client }) => `/api/clients/${client}/schedules`],
  ['its metrics', ({ client }) => `/api/clients/${client}/metrics`],
  ['its targets', ({ client }) => `/api/clients/${client}/targets`],
  ['kinds of blocks', ({ client }) => `/api/clients/${client}/blocks`],
  ['a report', ({ report }) => `/api/reports/${report}`],
  ['the runs of a report', ({ report }) => `/api/reports/${report}/runs`],
  ['what its release reaches', ({ report }) => `/api/reports/${report}/release`],
  ['a schedule', ({ schedule }) => `/api/schedules/${schedule}`],
  ['an edition', ({ edition }) => `/api/editions/${edition}`],
];

describe('the statements of a screen', () => {
  it.each(SCREENS)('%s: at most 40, and no more for a larger agency', async (_, pathOf) => {
    const counted = async (agency: Agency) => {
      const path = pathOf(await idsOf(agency));
      const asked = async () => {
        const answer = await agency.owner.raw(path);
        expect(answer.status).toBe(200);
        await answer.arrayBuffer();
        expect(answer.headers.get('x-statements')).toMatch(/^\d+$/);
        return Number(answer.headers.get('x-statements'));
      };
      // As whoever changed something has it: nothing is remembered.
      await sql`update setting set value = value where key = 'none'`.execute(agency.server.store);
      const fresh = await asked();
      expect(fresh).toBeGreaterThan(0);
      expect(fresh).toBeLessThanOrEqual(MOST);
      // What the server writes by itself meanwhile is read again: the least of some is the screen's own.
      return Math.min(await asked(), await asked(), await asked());
    };
    expect(await counted(many)).toBeLessThanOrEqual(await counted(few));
  });
});

describe('lists of a large agency', () => {
  it('come by pages, filtered by the server, and say how many there are', async () => {
    const { owner } = many;
    const first = (await owner.ask('GET /api/clients')).body;
    const second = (await owner.ask('GET /api/clients', { query: { page: '2' } })).body;
    expect([first.clients.length, second.clients.length, first.total]).toEqual([50, 20, 70]);
    const names = [...first.clients, ...second.clients].map((c) => c.name);
    expect(names).toEqual([...names].sort((a, b) => (a < b ? -1 : 1)));
    // To choose one of them, one types: the first are offered.
    expect((await owner.ask('GET /api/clients/names')).body.map((c) => c.name)).toEqual(names.slice(0, 60));
    const found = (await owner.ask('GET /api/clients', { query: { text: 'FERRIES' } })).body;
    expect(found.total).toBe(names.filter((n) => n.includes('Ferries')).length);
    expect(found.clients[0]).toMatchObject({ schedules: 2, feeds: { count: 1 }, manager: 'Ines Tallow' });
    expect((await owner.ask('GET /api/clients', { query: { text: '100%_' } })).body).toMatchObject({ total: 0 });
  });

  it('show of a day sixty lines and say how many more there are', async () => {
    const { body: desk } = await many.owner.ask('GET /api/desk');
    const monday = desk.days.find((d) => d.date === '2026-11-09')!;
    expect([monday.lines.length, monday.lines.length + monday.more]).toEqual([60, 70]);
    const times = monday.lines.map((l) => l.at);
    expect(times).toEqual([...times].sort());
    const { body: small } = await few.owner.ask('GET /api/desk');
    expect(small.days.find((d) => d.date === '2026-11-09')).toMatchObject({ more: 0, lines: { length: 8 } });
  });

  it('tell whom something is missing from: feeds in trouble, words that are still to write', async () => {
    const { body: desk } = await many.owner.ask('GET /api/desk');
    const titles = desk.needs.map((n) => n.title);
    expect(titles.filter((t) => t.endsWith(': Website'))).toHaveLength(2);
    expect(titles.filter((t) => t.includes('commentary for'))).toHaveLength(7);
  });
});

describe('the mark of changes', () => {
  const markOf = async () => (await few.owner.ask('GET /api/changes')).body.mark;
  const changed = async (work: () => Promise<unknown>): Promise<boolean> => {
    const before = await markOf();
    await work();
    return (await markOf()) !== before;
  };

  it('is another one after whatever a list or sheet shows, and the same after anything else', async () => {
    const { client, schedule, edition, report } = await idsOf(few);
    const { owner, server } = few;
    const { store } = server;
    const { body } = await owner.ask('GET /api/clients/:client', { params: { client } });
    expect(await changed(() => owner.ask('GET /api/desk'))).toBe(false);
    expect(await changed(() => store.updateTable('instance').set({ beat_at: NOW }).execute())).toBe(false);
    const look = { next_look: NOW };
    expect(await changed(() => store.updateTable('schedule').set(look).where('id', '=', schedule).execute())).toBe(
      false,
    );
    await server.scheduler.settle();
    const renamed = { ...body, name: 'Mosswick Garden & Sons' };
    expect(await changed(() => owner.ask('PUT /api/clients/:client', { params: { client }, body: renamed }))).toBe(
      true,
    );
    await server.scheduler.settle();
    const active = { params: { schedule }, body: { active: false } };
    expect(await changed(() => owner.ask('PUT /api/schedules/:schedule/active', active))).toBe(true);
    const words = { block: 'b', from: '2026-10-26', to: '2026-11-01', text: 'A quiet week.' };
    const written = () => owner.ask('PUT /api/reports/:report/commentary', { params: { report }, body: words });
    // There is no such block: refused, and nothing is new.
    expect(await changed(written)).toBe(false);
    const held = { state: 'held' as const, reason: 'x' };
    expect(await changed(() => store.updateTable('edition').set(held).where('id', '=', edition).execute())).toBe(true);
  });
});
