import { afterEach, describe, expect, it } from 'vitest';
import { tellSimulators } from '../scheduler/moveClock.ts';
import { type RunningServer, startServer } from '../server.ts';
import {
  ACCOUNT,
  authorise,
  CLIENT,
  openFurnishedFixture,
  openTestFixture,
  type TestFixture,
} from '../test/harness.ts';

let fixture: TestFixture;
let second: RunningServer | null = null;

afterEach(async () => {
  await second?.close();
  second = null;
  await fixture.close();
});

/** Both servers and the services live at this instant; what becomes due is not waited for. */
async function bothAt(at: string): Promise<RunningServer[]> {
  second ??= await startServer(fixture.config);
  const both = [fixture.server, second];
  for (const server of both) server.clock.moveTo(at);
  await tellSimulators(fixture.server);
  return both;
}

const feedsOf = (client: string) =>
  fixture.server.store.selectFrom('feed').selectAll().where('client_id', '=', client).orderBy('account').execute();

describe('two servers on one folder', () => {
  it('renew an access once: its refresh token is good for one use', async () => {
    fixture = await openTestFixture('2026-11-01T12:00:00Z');
    const back = `${fixture.server.url}/connect/back`;
    const begun = await fixture.owner.ask('POST /api/connections/begin', { body: { kind: 'social', back } });
    const sent = await authorise(begun.body.url, 'yes');
    const body = { state: sent.get('state')!, code: sent.get('code')! };
    const { id } = (await fixture.owner.ask('POST /api/connections/finish', { body })).body;
    const clients = [
      { ...CLIENT, account: 'so-4502' },
      { ...CLIENT, name: 'Mosswick Botanic Garden', account: 'so-4187' },
    ];
    const feeds: string[] = [];
    for (const { account, ...client } of clients) {
      const made = (await fixture.owner.ask('POST /api/clients', { body: client })).body.id;
      await fixture.owner.ask('POST /api/connections/:connection/feeds', {
        params: { connection: id },
        body: { links: [{ account, client: made, confirmed: true }] },
      });
      feeds.push((await feedsOf(made))[0]!.id);
    }
    await fixture.server.scheduler.settle();
    for (const at of ['2026-11-02T12:00:00Z', '2026-11-03T12:00:00Z', '2026-11-04T12:00:00Z']) {
      const both = await bothAt(at);
      await Promise.all(both.flatMap((server, i) => [server.syncs.run(feeds[i]!, true)]));
      const states = await fixture.server.store
        .selectFrom('feed')
        .select(['state', 'trouble', 'last_success'])
        .execute();
      for (const s of states) expect(s).toMatchObject({ state: 'fresh', trouble: null });
      expect(states.every((s) => s.last_success! >= at.slice(0, 16))).toBe(true);
    }
    const connection = await fixture.server.store.selectFrom('connection').select('refused').executeTakeFirstOrThrow();
    expect(connection.refused).toBeNull();
  });

  it('fetch a feed once, and both have what came', async () => {
    let f: { client: string };
    ({ fixture, f } = await openFurnishedFixture());
    const { requests } = fixture.simulators;
    const feed = (await feedsOf(f.client))[0]!.id;
    // What one server asks in a day, as a measure.
    await fixture.moveTo('2026-11-03T12:00:00Z');
    const alone = requests.made('web-analytics');
    const both = await bothAt('2026-11-04T12:00:00Z');
    await Promise.all(both.map((server) => server.syncs.run(feed, true)));
    await Promise.all(both.map((server) => server.syncs.idle()));
    expect(requests.made('web-analytics')).toBeLessThanOrEqual(alone);
    expect((await feedsOf(f.client))[0]).toMatchObject({ account: ACCOUNT, state: 'fresh', lease_owner: null });
  });

  it('take up a feed whose server died while it fetched, and no other', async () => {
    let f: { client: string };
    ({ fixture, f } = await openFurnishedFixture());
    const feed = (await feedsOf(f.client))[0]!.id;
    const { store } = fixture.server;
    await store.updateTable('feed').set({ lease_owner: 'in_gone', lease_fence: 7 }).where('id', '=', feed).execute();
    await fixture.moveTo('2026-11-03T12:00:00Z');
    const [taken] = await feedsOf(f.client);
    expect(taken).toMatchObject({ state: 'fresh', lease_owner: null });
    expect(taken!.last_success! >= '2026-11-03T12:00').toBe(true);
    expect(taken!.lease_fence).toBeGreaterThan(7);
  });
});
