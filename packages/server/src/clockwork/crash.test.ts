import type { ChildProcess } from 'node:child_process';
import { fromDayNumber } from '@chronicon/core/calendar';
import { DEMO_TOKEN } from '@chronicon/standins';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openFactReader } from '../facts/factStore.ts';
import { CRASH_POINTS, type CrashPoint } from '../ground/crashPoints.ts';
import { createConnection } from '../store/connections.ts';
import { createFeed } from '../store/feeds.ts';
import { editionsOf, type Furnished, openFurnishedBed, scheduleFor, type TestBed, visit } from '../test/harness.ts';
import { startProcess } from '../test/process.ts';

let bed: TestBed;
let f: Furnished;
let children: ChildProcess[] = [];

/** Everything is furnished by a server in this process, which then makes room for real ones. */
beforeEach(async () => {
  ({ bed, f } = await openFurnishedBed('2026-11-03T03:00:00Z'));
  await bed.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body: scheduleFor(f) });
  await bed.stop();
});
afterEach(async () => {
  for (const child of children) child.kill('SIGKILL');
  children = [];
  await bed.close();
});

async function launch(at: string, crashAt?: CrashPoint) {
  const server = await startProcess(bed.config, at, { CHRONICON_PATIENCE: '2', CHRONICON_CRASH_AT: crashAt });
  children.push(server.child);
  return server;
}

async function until(done: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 150; i++) {
    if (await done()) return;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error('it never came to that');
}

/** Asks until the client's only edition is sent; a bound keeps a fault from hanging the test. */
async function untilSent() {
  for (let i = 0; i < 150; i++) {
    const editions = await editionsOf(bed, f.client);
    if (editions.length > 0 && editions.every((e) => e.state === 'sent')) return editions;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error(`not sent: ${JSON.stringify(await editionsOf(bed, f.client))}`);
}

describe('kill -9 while a feed is first loaded', () => {
  it('leaves whole slices, and goes on with those that lack', async () => {
    await bed.restart();
    const { server } = bed;
    await server.clockwork.stop();
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
    await bed.stop();
    const covered = async () => {
      const facts = openFactReader(bed.config.data);
      const runs = await facts
        .selectFrom('coverage')
        .selectAll()
        .where('dataset_id', '=', `${feed.id}.calls`)
        .execute();
      await facts.destroy();
      return runs.map((r) => [fromDayNumber(r.first), fromDayNumber(r.last)]).sort();
    };
    const first = await launch('2026-11-03T03:00:30Z', 'sync.after-slice');
    expect(await first.ended).toBe('SIGKILL');
    // The newest slice, whole: the complete days of the month.
    expect(await covered()).toEqual([['2026-11-01', '2026-11-02']]);
    const asked = bed.standins.requests.made('calls');
    const second = await launch('2026-11-03T03:01:00Z');
    bed.owner = await visit(await second.ready, 'ines@fernglass.example');
    await until(async () => (await covered()).length > 10 && (await covered())[0]![0] === '2026-01-05');
    expect((await covered()).at(-1)![1]).toBe('2026-11-02');
    // Account, catalogue and a page for each month: what was there is asked again only as far as it may be restated.
    expect(bed.standins.requests.made('calls') - asked).toBeLessThanOrEqual(14);
  });
});

describe('kill -9', () => {
  it.each(CRASH_POINTS)('at %s: after a restart there is one edition, and the reader has it once', async (point) => {
    // Due at 08:00 London time: from planning to sent, all in one go.
    const first = await launch('2026-11-03T08:00:30Z', point);
    expect(await first.ended).toBe('SIGKILL');
    await bed.restart({ today: '2026-11-03T08:01:30Z' });
    const editions = await untilSent();
    expect(editions).toHaveLength(1);
    expect(editions[0]!.deliveries).toMatchObject([{ state: 'accepted' }]);
    const mails = bed.standins.mails.list();
    expect(mails).toHaveLength(1);
    // Where the server died after the mail was taken but before it was written down, it is sent again under the
    // same Message-ID, and the mailbox knows it as the same.
    expect(mails[0]!.times).toBe(point === 'send.after-accepted-by-server' ? 2 : 1);
    expect(mails[0]!.attachments).toHaveLength(1);
  });
});
