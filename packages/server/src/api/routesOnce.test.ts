import type { RouteName } from '@chronicon/core/contract';
import { DEMO_TOKEN } from '@chronicon/simulators';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { keepApproval } from '../store/approvals.ts';
import {
  authorise,
  CLIENT,
  type Furnished,
  memberOf,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
  type Visitor,
} from '../test/harness.ts';

let fixture: TestFixture;
let own: Furnished;
let other: Furnished;
/** A manager who sees the first client alone. */
let manager: Visitor;

/** What a route is asked with: made by `who`, who may see the client. */
interface Asked {
  params?: Record<string, string>;
  body?: unknown;
}
type Make = (side: Furnished, who: Visitor) => Promise<Asked>;

beforeAll(async () => {
  ({ fixture, f: own } = await openFurnishedFixture('2026-11-02T08:42:00Z'));
  other = { ...(await furnishOther()) };
  manager = await memberOf(fixture, 'once@fernglass.example', 'manager', [own.client]);
});
afterAll(() => fixture.close());

const OTHER = { ...CLIENT, name: 'Brackenhollow Physio', zone: 'America/Toronto', currency: 'CAD' };

async function furnishOther(): Promise<Furnished> {
  const client = (await fixture.owner.ask('POST /api/clients', { body: OTHER })).body.id;
  const params = { client };
  const person = { firstName: 'Secret', lastName: 'Reader', email: 'secret@quillon.example' };
  const contact = (await fixture.owner.ask('POST /api/clients/:client/contacts', { params, body: person })).body.id;
  const body = { title: 'Secret overview', starter: 'shop' };
  const report = (await fixture.owner.ask('POST /api/clients/:client/reports', { params, body })).body;
  await fixture.owner.ask('POST /api/reports/:report/release', {
    params: { report: report.id },
    body: { version: report.version },
  });
  await fixture.owner.ask('POST /api/clients/:client/feeds', {
    params,
    body: { kind: 'web-analytics', account: 'wa-2310', token: DEMO_TOKEN },
  });
  await fixture.server.scheduler.settle();
  return { client, contact, report: report.id };
}

const back = () => `${fixture.server.url}/connect/back`;
/** Accounts that feed nobody yet, one for each client. */
const accountOf = (side: Furnished, kind: 'calls' | 'email') =>
  ({ calls: ['ca-3502', 'ca-3310'], email: ['em-6502', 'em-6377'] })[kind][side === own ? 0 : 1]!;

async function linked(side: Furnished): Promise<string> {
  const params = { client: side.client };
  const account = accountOf(side, 'calls');
  const feeds = (await fixture.owner.ask('GET /api/clients/:client/feeds', { params })).body;
  const there = feeds.find((f) => f.account === account);
  if (there) return there.id;
  await fixture.owner.ask('POST /api/clients/:client/feeds', {
    params,
    body: { kind: 'calls', account, token: DEMO_TOKEN },
  });
  await fixture.server.scheduler.settle();
  const now = (await fixture.owner.ask('GET /api/clients/:client/feeds', { params })).body;
  return now.find((f) => f.account === account)!.id;
}

async function brought(side: Furnished, name: string): Promise<{ client: string; import: string }> {
  const body = `day,sold\n2026-10-0${name.length},${name.length}\n`;
  const taken = await fixture.owner.raw(`/api/clients/${side.client}/imports?name=${name}.csv`, {
    method: 'PUT',
    body,
  });
  return { client: side.client, import: ((await taken.json()) as { id: string }).id };
}

const loaded = async (side: Furnished) => imported(side, (await brought(side, 'aaa')).import, 'sold');

/** Imports a file with one figure of its own. */
async function imported(side: Furnished, file: string, key: string): Promise<{ client: string; import: string }> {
  const params = { client: side.client, import: file };
  const { body } = await fixture.owner.ask('GET /api/clients/:client/imports/:import', { params });
  await fixture.owner.ask('POST /api/clients/:client/imports/:import/begin', {
    params,
    body: {
      mapping: body.inspection!.mapping,
      feed: null,
      name: `Till ${params.import}`,
      metrics: [{ key, label: key, unit: 'count', polarity: 'higher', kind: 'sum' }],
    },
  });
  await fixture.server.imports.idle();
  return params;
}

/** An edition by hand, drawn and waiting for the person who looks at it. */
async function review(side: Furnished): Promise<{ edition: string; hash: string }> {
  const made = await fixture.owner.ask('POST /api/reports/:report/make', {
    params: { report: side.report },
    body: { contacts: [side.contact] },
  });
  await fixture.server.scheduler.settle();
  const edition = made.body.editionId;
  const { hash } = (await fixture.owner.ask('GET /api/editions/:edition/review', { params: { edition } })).body;
  return { edition, hash: hash ?? '' };
}

const versionOf = async (report: string): Promise<number> =>
  (await fixture.owner.ask('GET /api/reports/:report', { params: { report } })).body.version;

/** Every route that ends what it is asked about, or opens in one state alone. */
const ROUTES_ONCE: [RouteName, Make][] = [
  [
    'POST /api/reports/:report/versions',
    async ({ report }) => ({ params: { report }, body: { name: 'Kept', version: await versionOf(report) } }),
  ],
  [
    'POST /api/reports/:report/versions/:kept/restore',
    async ({ report }) => {
      const params = { report };
      const [kept] = (await fixture.owner.ask('GET /api/reports/:report/versions', { params })).body;
      return { params: { report, kept: kept!.id }, body: { version: await versionOf(report) } };
    },
  ],
  [
    'DELETE /api/clients/:client/segments/:segment',
    async (side) => {
      const params = { client: side.client };
      const parts = [{ dimension: 'device', how: 'only', values: ['Mobile'] }];
      const body = { name: `Phones ${side.client}`, parts };
      const { id } = (await fixture.owner.ask('POST /api/clients/:client/segments', { params, body })).body;
      return { params: { ...params, segment: id } };
    },
  ],
  [
    'POST /api/connections/begin',
    async (_side, who) => {
      const made = await who.ask('POST /api/connections', { body: { kind: 'calls', token: DEMO_TOKEN } });
      return { body: { kind: 'calls', back: back(), connection: made.body.id } };
    },
  ],
  [
    'POST /api/connections/finish',
    async (_side, who) => {
      const begun = await who.ask('POST /api/connections/begin', { body: { kind: 'search', back: back() } });
      const sent = await authorise(begun.body.url, 'yes');
      return { body: { state: sent.get('state'), code: sent.get('code') } };
    },
  ],
  [
    'POST /api/clients/:client/feeds',
    async (side) => ({
      params: { client: side.client },
      body: { kind: 'email', account: accountOf(side, 'email'), token: DEMO_TOKEN },
    }),
  ],
  [
    'POST /api/clients/:client/feeds/:feed/confirm',
    async (side) => {
      const feed = await linked(side);
      const { store } = fixture.server;
      const row = await store.selectFrom('feed').selectAll().where('id', '=', feed).executeTakeFirstOrThrow();
      const seen = JSON.stringify({ ...JSON.parse(row.fingerprint!), name: 'A shop that is called otherwise' });
      await store.updateTable('feed').set({ state: 'stopped', seen }).where('id', '=', feed).execute();
      return { params: { client: side.client, feed } };
    },
  ],
  [
    'DELETE /api/clients/:client/feeds/:feed',
    async (side) => ({ params: { client: side.client, feed: await linked(side) } }),
  ],
  [
    'POST /api/clients/:client/feeds/:feed/reconnect',
    async (side) => {
      const rows = await fixture.server.store
        .selectFrom('feed')
        .selectAll()
        .where('client_id', '=', side.client)
        .execute();
      const feed = rows.find((r) => r.account === accountOf(side, 'calls'))!;
      await fixture.server.store
        .updateTable('feed')
        .set({ removed_at: fixture.server.clock.now() })
        .where('id', '=', feed.id)
        .execute();
      return { params: { client: side.client, feed: feed.id } };
    },
  ],
  [
    'POST /api/clients/:client/imports/:import/cancel',
    async (side) => {
      const params = await brought(side, 'c');
      const under = fixture.server.store.updateTable('file_import').set({ state: 'importing' });
      await under.where('id', '=', params.import).execute();
      return { params };
    },
  ],
  [
    'POST /api/clients/:client/imports/:import/aside',
    async (side) => {
      const rows = [1, 2, 3, 4, 5, 6].map((d) => `2026-09-0${d},${d === 3 ? 'none' : d}`);
      const body = `day,fired\n${rows.join('\n')}\n`;
      const taken = await fixture.owner.raw(`/api/clients/${side.client}/imports?name=kiln.csv`, {
        method: 'PUT',
        body,
      });
      return { params: await imported(side, ((await taken.json()) as { id: string }).id, 'fired') };
    },
  ],
  ['POST /api/clients/:client/imports/:import/undo', async (side) => ({ params: await loaded(side) })],
  ['DELETE /api/clients/:client/imports/:import', async (side) => ({ params: await brought(side, 'dd') })],
  [
    'POST /api/editions/:edition/send',
    async (side) => {
      const { edition, hash } = await review(side);
      return { params: { edition }, body: { hash } };
    },
  ],
  [
    'POST /api/editions/:edition/retry',
    async (side) => {
      const { edition } = await review(side);
      const held = fixture.server.store
        .updateTable('edition')
        .set({ state: 'held', code: 'late-data', reason: 'Late.' });
      await held.where('id', '=', edition).execute();
      return { params: { edition } };
    },
  ],
  [
    'POST /api/editions/:edition/take-back',
    async (side) => {
      const { edition } = await review(side);
      const { store } = fixture.server;
      const { id: memberId } = await store.selectFrom('member').select('id').executeTakeFirstOrThrow();
      const given = { editionId: edition, memberId, hashes: 'x', at: '2026-11-02T08:00:00.000Z' };
      const approval_id = await keepApproval(store, given);
      const approved = store.updateTable('edition').set({ state: 'ready', approval_id, next_at: '2099-01-01' });
      await approved.where('id', '=', edition).execute();
      return { params: { edition } };
    },
  ],
  [
    'POST /api/schedules/many/:act/undo',
    async (side, who) => {
      const params = { client: side.client };
      const made = await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(side) });
      const body = { schedules: [made.body.id], act: { do: 'pause', resumesOn: null } };
      const { seen } = (await who.ask('POST /api/schedules/many', { body })).body;
      const { done } = (await who.ask('POST /api/schedules/many', { body: { ...body, seen } })).body;
      return { params: { act: done! } };
    },
  ],
  [
    'DELETE /api/clients/:client/lists/:list',
    async (side) => {
      const params = { client: side.client };
      const body = { name: `Once ${Math.random()}`, contacts: [side.contact] };
      const made = await fixture.owner.ask('POST /api/clients/:client/lists', { params, body });
      return { params: { ...params, list: made.body.id } };
    },
  ],
  ['POST /api/editions/:edition/skip', async (side) => ({ params: { edition: (await review(side)).edition } })],
  [
    'DELETE /api/clients/:client/notes/:note',
    async (side) => {
      const params = { client: side.client };
      const body = { from: '2026-10-01', to: '2026-10-01', text: 'A note', inReports: false };
      const made = await fixture.owner.ask('POST /api/clients/:client/notes', { params, body });
      return { params: { ...params, note: made.body.id } };
    },
  ],
  [
    'DELETE /api/reports/:report',
    async (side) => {
      const params = { client: side.client };
      const body = { title: 'Temporary', starter: 'shop' };
      const made = await fixture.owner.ask('POST /api/clients/:client/reports', { params, body });
      return { params: { report: made.body.id } };
    },
  ],
  [
    'DELETE /api/clients/:client/excluded-days/:excluded',
    async (side) => {
      const params = { client: side.client };
      const body = { from: '2026-10-01', to: '2026-10-01', reason: 'A fault', printed: false, metrics: [] };
      const made = await fixture.owner.ask('POST /api/clients/:client/excluded-days', { params, body });
      return { params: { ...params, excluded: made.body.id } };
    },
  ],
  [
    'DELETE /api/clients/:client/targets/:target',
    async (side) => {
      const params = { client: side.client };
      const body = { metric: 'visits', span: 'month', from: '2026-10', repeats: true, value: 100 };
      await fixture.owner.ask('POST /api/clients/:client/targets', { params, body });
      const [target] = (await fixture.owner.ask('GET /api/clients/:client/targets', { params })).body;
      return { params: { ...params, target: target!.id } };
    },
  ],
  [
    'DELETE /api/schedules/:schedule',
    async (side) => {
      const params = { client: side.client };
      const made = await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(side) });
      return { params: { schedule: made.body.id } };
    },
  ],
  [
    'DELETE /api/clients/:client/contacts/:contact',
    async (side) => {
      const params = { client: side.client };
      const body = { firstName: 'Once', lastName: '', email: 'once@tarnbeck.example', outside: 'address' };
      const made = await fixture.owner.ask('POST /api/clients/:client/contacts', { params, body });
      return { params: { ...params, contact: made.body.id } };
    },
  ],
];

/** All that the other client has, as it stands in the store. */
async function everythingOfOther(): Promise<string> {
  const { store } = fixture.server;
  const parts = [];
  for (const table of [
    'contact',
    'reader_list',
    'report',
    'schedule',
    'edition',
    'day_note',
    'excluded_day',
    'target',
    'feed',
    'file_import',
  ] as const) {
    parts.push(await store.selectFrom(table).selectAll().where('client_id', '=', other.client).execute());
  }
  parts.push(await store.selectFrom('connection').selectAll().execute());
  return JSON.stringify(parts);
}

describe('a route that opens once', () => {
  it.each(ROUTES_ONCE)('%s: not for another client’s, and then for one’s own', async (name, make) => {
    const theirs = await make(other, fixture.owner);
    const mine = await make(own, manager);
    await fixture.server.scheduler.settle();
    const before = await everythingOfOther();
    const swapped = [theirs];
    // One's own client in front of another's thing.
    if (theirs.params?.client) swapped.push({ ...theirs, params: { ...theirs.params, client: own.client } });
    const apart = Object.keys(theirs.params ?? {}).length > 1 ? swapped : swapped.slice(0, 1);
    for (const asked of apart) {
      const answer = await manager.ask(name, asked as object);
      expect(answer.status, JSON.stringify(answer.body)).toBeGreaterThanOrEqual(400);
      expect(answer.status).toBeLessThan(500);
    }
    expect(await everythingOfOther()).toBe(before);
    const answer = await manager.ask(name, mine as object);
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    await fixture.server.scheduler.settle();
  });
});
