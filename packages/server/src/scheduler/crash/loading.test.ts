import { fromDayNumber } from '@chronicon/core/calendar';
import { DEMO_TOKEN } from '@chronicon/simulators';
import { describe, expect, it } from 'vitest';
import { openFactReader } from '../../facts/factStore.ts';
import { CRASH_POINTS } from '../../platform/crashPoints.ts';
import { createConnection } from '../../store/connections.ts';
import { createFeed } from '../../store/feeds.ts';
import { diesAndGoesOn, until, useCrashBed } from '../../test/crashFixture.ts';
import { OWNER, visit } from '../../test/harness.ts';

const own = useCrashBed();

describe('kill -9 while a feed is fetched', () => {
  diesAndGoesOn(
    own,
    CRASH_POINTS.filter((point) => !/^(plan|collect|draw|mail|send)/.test(point)),
  );
});

describe('kill -9 while a feed is first loaded', () => {
  it('leaves whole slices, and goes on with those that lack', async () => {
    const { fixture, f } = own;
    await fixture.restart();
    const { server } = fixture;
    await server.scheduler.stop();
    const at = server.clock.now();
    const secret = server.secrets.seal(DEMO_TOKEN);
    const connection = await createConnection(server.store, {
      kind: 'calls',
      method: 'token',
      secret,
      madeBy: null,
      at,
    });
    const account = { kind: 'calls', connectionId: connection.id, account: 'ca-3502', name: 'Calls' };
    const feed = await createFeed(server.store, { clientId: f.client, ...account, at });
    await fixture.stop();
    const covered = async () => {
      const facts = openFactReader(fixture.config.data);
      const runs = await facts
        .selectFrom('coverage')
        .selectAll()
        .where('dataset_id', '=', `${feed.id}.calls`)
        .execute();
      await facts.destroy();
      return runs.map((r) => [fromDayNumber(r.first), fromDayNumber(r.last)]).sort();
    };
    const first = await own.launch('2026-11-03T03:00:30Z', 'sync.after-slice');
    expect(await first.ended).toBe('SIGKILL');
    // The newest slice, whole: the complete days of the month.
    expect(await covered()).toEqual([['2026-11-01', '2026-11-02']]);
    const asked = fixture.simulators.requests.made('calls');
    const second = await own.launch('2026-11-03T03:01:00Z');
    fixture.owner = await visit(await second.ready, OWNER);
    await until('all of it is there', async () => {
      const runs = await covered();
      return runs.length > 10 && runs[0]![0] === '2026-01-05' ? runs : null;
    });
    expect((await covered()).at(-1)![1]).toBe('2026-11-02');
    // Account, catalogue and a page for each month: what was there is asked again only as far as it may be restated.
    expect(fixture.simulators.requests.made('calls') - asked).toBeLessThanOrEqual(14);
  });
});
