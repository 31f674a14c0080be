import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  authorise,
  CLIENT,
  furnish,
  MANAGER,
  openTestFixture,
  REVIEWER,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';

let fixture: TestFixture;

beforeEach(async () => {
  fixture = await openTestFixture('2026-11-01T12:00:00Z');
});
afterEach(() => fixture.close());

const back = () => `${fixture.server.url}/connect/back`;

const begin = (kind: string, more: object = {}) =>
  fixture.owner.ask('POST /api/connections/begin', { body: { kind, back: back(), ...more } });

async function connectBy(kind: string, more: object = {}) {
  const sent = await authorise((await begin(kind, more)).body.url, 'yes');
  const body = { state: sent.get('state')!, code: sent.get('code')! };
  return fixture.owner.ask('POST /api/connections/finish', { body });
}

const accountsOf = (connection: string) =>
  fixture.owner.ask('GET /api/connections/:connection/accounts', { params: { connection } });
const connect = (connection: string, links: object[], who: Visitor = fixture.owner) =>
  who.ask('POST /api/connections/:connection/feeds', { params: { connection }, body: { links } });
const feedsOf = async (client: string) =>
  (await fixture.owner.ask('GET /api/clients/:client/feeds', { params: { client } })).body;
const newClient = async (change: object) =>
  (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, ...change } })).body.id;

describe('authorising', () => {
  it('goes to the service and back, and keeps nothing that could be read', async () => {
    const made = await connectBy('web-analytics');
    expect(made.body).toMatchObject({ kind: 'web-analytics', method: 'oauth', feeds: 0, refused: null });
    const row = await fixture.server.store.selectFrom('connection').selectAll().executeTakeFirstOrThrow();
    const tokens = JSON.parse(fixture.server.secrets.open(row.secret)) as { access: string; refresh: string };
    expect(row.secret).not.toContain(tokens.refresh);
    expect(JSON.stringify((await fixture.owner.ask('GET /api/connections')).body)).not.toContain(tokens.access);
    expect((await accountsOf(made.body.id)).body.accounts.map((a) => a.id)).toContain('wa-2502');
  });

  it('takes a state once, from the member who began it, and not after a quarter of an hour', async () => {
    const sent = await authorise((await begin('search')).body.url, 'yes');
    const body = { state: sent.get('state')!, code: sent.get('code')! };
    const other = await visit(fixture.server.url, MANAGER);
    expect((await other.ask('POST /api/connections/finish', { body })).status).toBe(422);
    // Whoever tried with it, it is used up.
    expect((await fixture.owner.ask('POST /api/connections/finish', { body })).status).toBe(422);
    const late = await authorise((await begin('search')).body.url, 'yes');
    await fixture.moveTo('2026-11-01T12:16:00Z');
    const again = { state: late.get('state')!, code: late.get('code')! };
    expect((await fixture.owner.ask('POST /api/connections/finish', { body: again })).status).toBe(422);
    expect((await fixture.owner.ask('GET /api/connections')).body).toEqual([]);
  });

  it('comes to nothing when the person refuses, and never goes back to another place', async () => {
    const sent = await authorise((await begin('search')).body.url, 'no');
    expect(sent.get('error')).toBe('access_denied');
    expect((await begin('search', { back: 'http://127.0.0.1:4300/elsewhere' })).fields.back).toContain(
      'not an address',
    );
    expect((await begin('nothing')).fields.kind).toContain('Unknown kind');
    const reviewer = await visit(fixture.server.url, REVIEWER);
    expect((await reviewer.ask('POST /api/connections/begin', { body: { kind: 'search', back: back() } })).status).toBe(
      403,
    );
  });

  it('renews the access when it ends, and again with every use', async () => {
    const client = await newClient({ site: 'tarnbeck.example' });
    const { id } = (await connectBy('calls')).body;
    await connect(id, [{ account: 'ca-3502', client, confirmed: false }]);
    await fixture.server.scheduler.settle();
    for (const at of ['2026-11-02T12:00:00Z', '2026-11-03T12:00:00Z', '2026-11-04T12:00:00Z']) {
      await fixture.moveTo(at);
      expect((await feedsOf(client))[0]).toMatchObject({ state: 'fresh', trouble: null });
    }
  });

  it('says when the service took it back, and goes on once it is authorised again', async () => {
    const client = await newClient({ site: 'tarnbeck.example' });
    const { id } = (await connectBy('calls')).body;
    await connect(id, [{ account: 'ca-3502', client, confirmed: false }]);
    await fixture.server.scheduler.settle();
    fixture.simulators.grants.revoke('calls');
    await fixture.moveTo('2026-11-02T12:00:00Z');
    expect((await feedsOf(client))[0]).toMatchObject({
      state: 'troubled',
      action: 'authorise',
      connection: id,
    });
    expect((await fixture.owner.ask('GET /api/connections')).body[0]!.refused).toContain(
      'Access was revoked. Reconnect the service.',
    );
    expect((await connectBy('calls', { connection: id })).body).toMatchObject({ id, refused: null });
    await fixture.server.scheduler.settle();
    expect((await feedsOf(client))[0]).toMatchObject({ state: 'fresh', action: 'fetch' });
  });
});

describe('accounts and clients', () => {
  it('are matched by site and name, and connected many at once', async () => {
    const tarnbeck = await newClient({ site: 'https://www.tarnbeck.example/' });
    const mosswick = await newClient({ name: 'Mosswick Botanic Garden', site: '' });
    const { id } = (await connectBy('social')).body;
    const found = (await accountsOf(id)).body.accounts;
    const suggested = Object.fromEntries(found.map((a) => [a.id, a.suggested]));
    expect(suggested['so-4502']).toMatchObject({ client: tarnbeck, by: 'site', differences: '' });
    expect(suggested['so-4187']).toMatchObject({ client: mosswick, by: 'name' });
    expect(suggested['so-4377']).toBeNull();
    const done = await connect(id, [
      { account: 'so-4502', client: tarnbeck, confirmed: false },
      { account: 'so-4187', client: mosswick, confirmed: false },
    ]);
    expect(done.body.map((r) => r.message)).toEqual([null, null]);
    await fixture.server.scheduler.settle();
    for (const client of [tarnbeck, mosswick]) expect((await feedsOf(client))[0]!.state).toBe('fresh');
    expect((await accountsOf(id)).body.accounts.find((a) => a.id === 'so-4502')!.takenBy).toEqual([
      { client: tarnbeck, name: 'Tarnbeck Pottery' },
    ]);
    const twice = await connect(id, [{ account: 'so-4502', client: tarnbeck, confirmed: false }]);
    expect(twice.body[0]).toMatchObject({ feed: null, message: expect.stringContaining('already') });
  });

  it('that do not look alike stop until a person says they belong together', async () => {
    const client = await newClient({ name: 'Harrow Mill', site: 'harrowmill.example' });
    const { id } = (await connectBy('search')).body;
    const links = [{ account: 'se-9502', client, confirmed: false }];
    const check = { params: { connection: id }, body: { links } };
    expect((await fixture.owner.ask('POST /api/connections/:connection/check', check)).body).toMatchObject([
      { account: 'se-9502', differences: expect.stringContaining('tarnbeck.example'), canConfirm: true },
    ]);
    const [made] = (await connect(id, links)).body;
    expect(made!.message).toContain('The account doesn’t match the client:');
    await fixture.server.scheduler.settle();
    const [stopped] = await feedsOf(client);
    expect(stopped).toMatchObject({
      state: 'stopped',
      action: 'confirm',
      canConfirm: true,
      nextSync: null,
      datasets: [],
    });
    const params = { client, feed: stopped!.id };
    // Looking again finds the same.
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/sync', { params });
    await fixture.server.syncs.idle();
    expect((await feedsOf(client))[0]).toMatchObject({ state: 'stopped', datasets: [] });
    expect((await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/confirm', { params })).status).toBe(200);
    await fixture.server.scheduler.settle();
    expect((await feedsOf(client))[0]).toMatchObject({ state: 'fresh', trouble: null });
    const kept = await fixture.server.store
      .selectFrom('ledger')
      .select('action')
      .where('subject', '=', stopped!.id)
      .execute();
    expect(kept.map((e) => e.action)).toContain('feed.confirmed');
  });

  it('of another currency are never connected, whatever anybody says', async () => {
    const client = await newClient({ name: 'Oatmere Dairy Co-op', site: 'oatmere.example' });
    const { id } = (await connectBy('social')).body;
    const [refused] = (await connect(id, [{ account: 'so-4377', client, confirmed: true }])).body;
    expect(refused).toMatchObject({ feed: null, message: expect.stringContaining('currency EUR, not GBP') });
    expect(await feedsOf(client)).toEqual([]);
  });

  it('belong to nobody else: a member connects only to clients that are theirs', async () => {
    const { client } = await furnish(fixture, false);
    const { id } = (await connectBy('search')).body;
    const manager = await visit(fixture.server.url, MANAGER);
    expect((await connect(id, [{ account: 'se-9502', client, confirmed: false }], manager)).status).toBe(404);
    expect(await feedsOf(client)).toEqual([]);
  });
});
