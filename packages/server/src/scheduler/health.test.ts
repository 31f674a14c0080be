import { chmodSync, cpSync, existsSync, mkdtempSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { StartError, startServer } from '../server.ts';
import { stopSending } from '../store/sendingStops.ts';
import { writeSetting } from '../store/settings.ts';
import {
  editionsOf,
  type Furnished,
  OWNER,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
  visit,
} from '../test/harness.ts';
import { createHealth } from './health.ts';
import { tellByMail } from './notices.ts';

let fixture: TestFixture;
let f: Furnished;

beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const start = () =>
  fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body: scheduleFor(f) });
const health = async () => (await (await fetch(`${fixture.server.url}/api/health`)).json()) as Record<string, unknown>;
const mails = () => fixture.simulators.mails.list();
const DUE = '2026-11-03T08:00:30Z';

describe('what the server stands on', () => {
  it('a lost key: said, never made anew, nothing sent, and all goes on when it is back', async () => {
    await start();
    const path = join(fixture.config.data, 'secret.key');
    renameSync(path, `${path}.away`);
    await fixture.server.health.look();
    await fixture.moveTo(DUE);
    expect(await health()).toMatchObject({ ok: false, key: false, disk: true, databases: true });
    expect(existsSync(path)).toBe(false);
    expect(mails()).toEqual([]);
    const { needs } = (await fixture.owner.ask('GET /api/desk')).body;
    expect(needs.find((n) => n.key === 'stop-key')!.reason).toContain('Restore secret.key');
    await fixture.restart();
    expect(await health()).toMatchObject({ key: false });
    expect(existsSync(path)).toBe(false);
    renameSync(`${path}.away`, path);
    await fixture.server.scheduler.settle();
    await fixture.moveTo('2026-11-03T08:10:00Z');
    expect(await health()).toMatchObject({ ok: true, key: true });
    expect(mails()).toHaveLength(1);
  });

  it('a disk that takes nothing for a while: said, nothing half, and all goes on by itself', async () => {
    await start();
    const { files, workers } = fixture.server;
    const full = Object.assign(new Error('no space left on device'), { code: 'ENOSPC' });
    const [edition, probe] = [workers.edition, files.probe];
    workers.edition = async () => {
      throw full;
    };
    files.probe = () => {
      throw full;
    };
    await fixture.moveTo('2026-11-03T05:10:00Z');
    expect(await health()).toMatchObject({ ok: false, disk: false });
    expect((await fixture.owner.ask('GET /api/sending')).body.stops).toMatchObject([
      { cause: 'disk', reason: 'The disk is full.', mend: expect.stringContaining('Free up') },
    ]);
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('collecting');
    Object.assign(files, { probe });
    Object.assign(workers, { edition });
    await fixture.moveTo(DUE);
    expect(await health()).toMatchObject({ ok: true, disk: true, stopped: [] });
    expect(mails()).toHaveLength(1);
  });

  it('a damaged database: the server says so in one line and does not start', async () => {
    const data = mkdtempSync(join(tmpdir(), 'chronicon-damaged-'));
    writeFileSync(join(data, 'chronicon.db'), 'this was a database once, and is none any more'.repeat(200));
    await expect(startServer({ ...fixture.config, data, port: 0 })).rejects.toThrow(StartError);
    await expect(startServer({ ...fixture.config, data, port: 0 })).rejects.toThrow(/damaged.*last good copy/);
    rmSync(data, { recursive: true, force: true });
  });

  it.each(['chronicon.db', 'facts.db'])(
    'tables of a newer version (%s): it says so in one line and does not start',
    async (name) => {
      await fixture.server.close();
      const path = join(fixture.config.data, name);
      const db = new Database(path);
      const before = name === 'facts.db' ? db.pragma('user_version', { simple: true }) : null;
      if (before === null) db.exec("insert into kysely_migration values ('999-of-tomorrow', '2027-01-01')");
      else db.pragma('user_version = 999');
      db.close();
      try {
        await expect(startServer({ ...fixture.config, port: 0 })).rejects.toThrow(StartError);
        await expect(startServer({ ...fixture.config, port: 0 })).rejects.toThrow(/newer version of Chronicon/);
      } finally {
        const again = new Database(path);
        if (before === null) again.exec("delete from kysely_migration where name = '999-of-tomorrow'");
        else again.pragma(`user_version = ${before}`);
        again.close();
        fixture.server = await startServer({ ...fixture.config, port: 0 });
      }
    },
  );

  it('answers 503 with the reason whenever it is not well, and 200 else', async () => {
    const asked = async () => {
      const response = await fetch(`${fixture.server.url}/api/health`);
      return [response.status, await response.json()];
    };
    await start();
    expect(await asked()).toMatchObject([200, { ok: true, reason: null, lastBeat: expect.any(String) }]);
    await fixture.owner.ask('PUT /api/sending', { body: { on: false } });
    expect(await asked()).toMatchObject([
      503,
      // Nobody has signed in: it names nobody.
      { ok: false, stopped: ['person'], reason: 'Emails aren’t being sent: sending is turned off.' },
    ]);
    await fixture.owner.ask('PUT /api/sending', { body: { on: true } });
    expect((await asked())[0]).toBe(200);
  });

  it('tells the longest overdue edition that it should have moved on, and none that waits for a person', async () => {
    await start();
    await fixture.moveTo('2026-11-03T05:10:00Z');
    await fixture.server.scheduler.stop();
    fixture.server.clock.moveTo('2026-11-03T08:05:00Z');
    expect(await health()).toMatchObject({ ok: true, overdueSince: null });
    fixture.server.clock.moveTo('2026-11-03T08:11:00Z');
    expect(await health()).toMatchObject({
      ok: false,
      overdueSince: '2026-11-03T08:00:00.000Z',
      reason: expect.stringContaining('An edition due at 2026-11-03T08:00:00.000Z is overdue'),
    });
    await fixture.server.store.updateTable('edition').set({ state: 'held', code: 'paused', next_at: null }).execute();
    expect(await health()).toMatchObject({ ok: true, overdueSince: null });
  });

  it('a look that itself fails for no known reason is no trouble that stops mails', async () => {
    const { store, facts, files, secrets, log } = fixture.server;
    const odd = createHealth({
      store,
      facts,
      secrets,
      log,
      files: {
        ...files,
        probe() {
          throw new Error('odd');
        },
      },
    });
    await odd.look();
    expect(odd.troubles()).toEqual([]);
  });
});

describe('files of the data folder', () => {
  it('belong to the server’s user alone, whatever they were before', async () => {
    chmodSync(fixture.config.data, 0o755);
    chmodSync(join(fixture.config.data, 'chronicon.db'), 0o644);
    await fixture.restart();
    await start();
    await fixture.moveTo('2026-11-03T05:10:00Z');
    const mode = (path: string) => (statSync(join(fixture.config.data, path)).mode & 0o777).toString(8);
    expect(mode('.')).toBe('700');
    for (const name of ['chronicon.db', 'facts.db', 'secret.key']) expect([name, mode(name)]).toEqual([name, '600']);
    const { pdf } = await fixture.server.store.selectFrom('edition').select('pdf').executeTakeFirstOrThrow();
    expect(mode(join('files', pdf!.slice(0, 2), pdf!))).toBe('600');
    expect(mode('files')).toBe('700');
  });
});

describe('a copied data folder', () => {
  it('sends nothing until a person says go, and leaves out what they tick as sent', async () => {
    await start();
    const body = scheduleFor(f, { time: '08:10', subject: 'The other: {{period.label}}' });
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
    await fixture.moveTo('2026-11-03T07:00:00Z');
    await fixture.server.close();
    const copy = mkdtempSync(join(tmpdir(), 'chronicon-copy-'));
    cpSync(fixture.config.data, copy, { recursive: true });
    const again = await startServer({ ...fixture.config, data: copy, port: 0, copyStops: true });
    fixture.server = again;
    try {
      again.clock.moveTo('2026-11-03T09:00:00Z');
      await again.scheduler.settle();
      expect(mails()).toEqual([]);
      const owner = await visit(again.url, OWNER);
      const { body: sending } = await owner.ask('GET /api/sending');
      expect(sending.stops).toMatchObject([{ cause: 'copy' }]);
      expect(sending.due).toHaveLength(2);
      expect(Date.parse(sending.lastBeat!)).toBeLessThan(Date.parse('2026-11-03T07:05:00Z'));
      const first = sending.due.find((d) => d.local.time === '08:00')!;
      const go = await owner.ask('POST /api/sending/go', { body: { sentAlready: [first.edition] } });
      expect(go.status).toBe(200);
      await again.scheduler.settle();
      expect(mails().map((m) => m.subject)).toEqual(['The other: October 2026']);
      const rows = await again.store.selectFrom('edition').select(['id', 'state']).orderBy('due_at').execute();
      expect(rows.map((r) => r.state)).toEqual(['skipped', 'sent']);
      await again.close();
      // It is the one from now on.
      const third = await startServer({ ...fixture.config, data: copy, port: 0, copyStops: true });
      fixture.server = third;
      expect((await (await visit(third.url, OWNER)).ask('GET /api/sending')).body.stops).toEqual([]);
    } finally {
      await fixture.server.close();
      rmSync(copy, { recursive: true, force: true });
      fixture.server = await startServer({ ...fixture.config, port: 0 });
    }
  });

  it('offers all that is unsettled, whenever it fell due and whatever it is, before anything goes', async () => {
    await start();
    await fixture.simulators.smtp.setFault('closed');
    await fixture.moveTo(DUE);
    const { store, clock } = fixture.server;
    const { id } = await store.selectFrom('edition').select('id').executeTakeFirstOrThrow();
    expect(await store.selectFrom('edition').select('state').execute()).toEqual([{ state: 'sending' }]);
    // Alive long after it was due: it was under way when the copy was made.
    clock.moveTo('2026-11-03T10:00:00Z');
    await stopSending(store, { cause: 'copy', reason: 'A copy.', mend: 'Say so.', at: clock.now() });
    await writeSetting(store, 'copy.lastBeat', clock.now());
    expect((await fixture.owner.ask('GET /api/sending')).body.due).toMatchObject([{ edition: id }]);
    await store.updateTable('edition').set({ kind: 'by-hand' }).execute();
    expect((await fixture.owner.ask('GET /api/sending')).body.due).toMatchObject([{ edition: id }]);
    await fixture.simulators.smtp.setFault('none');
    await fixture.owner.ask('POST /api/sending/go', { body: { sentAlready: [id] } });
    await fixture.server.scheduler.settle();
    expect(mails()).toEqual([]);
  });

  it('gives the same run the same id, so that its mails repeat under theirs', async () => {
    await start();
    await fixture.moveTo('2026-11-03T05:10:00Z');
    const { id } = await fixture.server.store.selectFrom('edition').select('id').executeTakeFirstOrThrow();
    await fixture.server.store.deleteFrom('edition').execute();
    await fixture.server.store
      .updateTable('schedule')
      .set({ planned_through: '2026-11-02T08:00:00Z', next_look: '2026-11-02T08:00:00Z' })
      .execute();
    await fixture.server.scheduler.settle();
    expect((await fixture.server.store.selectFrom('edition').select('id').executeTakeFirstOrThrow()).id).toBe(id);
  });
});

describe('told outside the Desk', () => {
  /** An edition whose month is not over: held at its time. */
  async function holdOne() {
    const period = { kind: 'unit' as const, unit: 'month' as const, offset: 0 };
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f, { period }),
    });
    await fixture.moveTo(DUE);
  }
  const tell = () => tellByMail({ ...fixture.server, config: { ...fixture.server.config, notices: true } });
  const toOwner = () => mails().filter((m) => m.to === OWNER);

  it('a held edition: one mail to manager and owner, not a second for the same cause', async () => {
    await holdOne();
    await tell();
    await tell();
    expect(toOwner()).toHaveLength(1);
    expect(toOwner()[0]!.subject).toContain('on hold');
  });

  it('no more than once an hour, whatever becomes of the mail', async () => {
    await holdOne();
    await fixture.simulators.smtp.setFault('drop-after-data');
    for (let i = 0; i < 3; i++) await tell();
    await fixture.simulators.smtp.setFault('none');
    await tell();
    expect(toOwner()).toMatchObject([{ times: 1 }]);
  });

  it('beside the work: a mail server that is slow to take a notice keeps no edition waiting', async () => {
    await holdOne();
    await fixture.simulators.smtp.setFault('silent');
    const patient = { answer: 60_000, content: 60_000, dot: 60_000 };
    await fixture.restart({ notices: true, smtpWaits: patient });
    const params = { report: f.report };
    const { body } = await fixture.owner.ask('POST /api/reports/:report/make', { params, body: { contacts: [] } });
    await vi.waitFor(
      async () => {
        const made = (await editionsOf(fixture, f.client)).find((e) => e.id === body.editionId);
        expect(made?.state).toBe('ready');
      },
      { timeout: 120_000, interval: 200 },
    );
    await fixture.simulators.smtp.setFault('none');
  });
});
