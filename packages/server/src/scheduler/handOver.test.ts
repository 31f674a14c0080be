import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { CRASH_POINTS, type CrashPoint } from '../platform/crashPoints.ts';
import { attemptsOf } from '../store/attempts.ts';
import { setDkim } from '../store/mailRules.ts';
import { deliveriesOf, type MessageRow, messagesOf } from '../store/messages.ts';
import { unpacked } from '../store/packed.ts';
import { editionsOf, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';
import { createScheduler } from './scheduler.ts';
import type { Tools } from './tools.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  const body = scheduleFor(f);
  await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
  await fixture.moveTo('2026-11-03T05:10:00Z');
  await fixture.server.scheduler.stop();
});
afterEach(() => fixture.close());

const DUE = '2026-11-03T08:00:30Z';
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const arrived = () => fixture.simulators.mails.list().map((m) => [m.to, m.times]);
const tries = async () => {
  const { store } = fixture.server;
  return attemptsOf(
    store,
    (await deliveriesOf(store, [(await edition()).id])).map((d) => d.id),
  );
};

/** Moves on and lets a scheduler run with tools of which some throw; it stands in for the server’s own. */
function scheduling(patch: Partial<Tools> = {}) {
  const scheduler = createScheduler({ ...fixture.server, ...patch });
  return {
    async to(time: string) {
      fixture.server.clock.moveTo(time);
      await scheduler.settle();
    },
    stop: () => scheduler.stop(),
  };
}

describe('mails that were written', () => {
  it('are written again where something of them changed before they went on their way', async () => {
    let changes = 0;
    const crash = (at: CrashPoint) => {
      if (at !== 'mail.before-messages' || changes++ > 0) return;
      const other = new Database(join(fixture.config.data, 'chronicon.db'));
      other.prepare(`update contact set first_name = 'Petronella'`).run();
      other.close();
    };
    const own = scheduling({ crash });
    await own.to(DUE);
    await own.stop();
    expect(changes).toBe(2);
    const [{ body }] = (await messagesOf(fixture.server.store, (await edition()).id)) as [MessageRow];
    expect(unpacked(body).text).toContain('Petronella');
  });
});

const SENDING = CRASH_POINTS.filter((p) => p.startsWith('send.'));
const planted = () => Object.assign(new Error('planted'), { code: 'EPLANTED' });

describe('an error of our own while a mail is handed over', () => {
  it.each(SENDING)('at %s: the mail goes once, or waits for a person in words', async (point: CrashPoint) => {
    let times = 0;
    const crash = (at: CrashPoint) => {
      if (at === point && times++ === 0) throw planted();
    };
    const own = scheduling({ crash });
    await own.to(DUE);
    const e = await edition();
    if (/before-claim|after-claim/.test(point)) {
      expect(arrived()).toEqual([]);
      expect(e).toMatchObject({ state: 'held', reason: expect.stringContaining('Server error') });
      const { needs } = (await fixture.owner.ask('GET /api/desk')).body;
      expect(needs.flatMap((n) => n.editions)).toMatchObject([{ id: e.id }]);
      await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: e.id } });
    }
    await own.to('2026-11-03T08:20:00Z');
    await own.stop();
    expect((await edition()).state).toBe('sent');
    expect(arrived()).toEqual([['petra@tarnbeck.example', 1]]);
  });

  it('what the mail server said is written down later, and the mail is not handed over again', async () => {
    let full = true;
    const crash = (at: CrashPoint) => {
      if (full && at === 'send.after-accepted-by-server') throw Object.assign(planted(), { code: 'ENOSPC' });
    };
    const own = scheduling({ crash });
    await own.to(DUE);
    expect(arrived()).toEqual([['petra@tarnbeck.example', 1]]);
    expect((await edition()).state).toBe('sending');
    full = false;
    await own.to('2026-11-03T08:03:00Z');
    await own.stop();
    expect((await edition()).state).toBe('sent');
    expect(arrived()).toEqual([['petra@tarnbeck.example', 1]]);
    expect(await tries()).toMatchObject([{ number: 1, outcome: 'accepted' }]);
  });

  it('where the key is gone for a moment, no edition is held for it: the mail goes once it is back', async () => {
    const { mailer } = fixture.server;
    let gone = true;
    const send: typeof mailer.send = (...mail) =>
      gone ? Promise.reject(Object.assign(planted(), { code: 'KEY' })) : mailer.send(...mail);
    const own = scheduling({ mailer: { ...mailer, send } });
    await own.to(DUE);
    expect((await edition()).state).toBe('sending');
    gone = false;
    await own.to('2026-11-03T08:03:00Z');
    await own.stop();
    expect((await edition()).state).toBe('sent');
    expect(arrived()).toEqual([['petra@tarnbeck.example', 1]]);
  });

  it('where the conversation itself throws, it holds after one try', async () => {
    let sent = 0;
    const send = () => {
      sent++;
      return Promise.reject(planted());
    };
    const own = scheduling({ mailer: { send, close: () => undefined } });
    await own.to(DUE);
    await own.to('2026-11-03T10:00:00Z');
    await own.stop();
    expect(sent).toBe(1);
    expect(await edition()).toMatchObject({
      state: 'held',
      reason: expect.stringContaining('Server error while sending'),
    });
    expect(await tries()).toMatchObject([{ number: 1, outcome: 'aborted' }]);
  });

  it('a damaged DKIM secret stops sending in words, with pauses, until somebody makes another', async () => {
    const dkim = { domain: 'fernglass.example', selector: 'chron', secret: 'AAAA', publicKey: 'x' };
    await setDkim(fixture.server.store, dkim);
    const own = scheduling();
    await own.to(DUE);
    expect((await fixture.owner.ask('GET /api/sending')).body.stops).toMatchObject([
      { cause: 'mail-server', reason: expect.stringContaining('DKIM'), mend: expect.stringContaining('Settings') },
    ]);
    expect(await tries()).toHaveLength(1);
    for (let minute = 1; minute < 40; minute++) await own.to(`2026-11-03T08:${String(minute).padStart(2, '0')}:31Z`);
    // After a minute, two, five, ten and fifteen.
    expect(await tries()).toHaveLength(6);
    await fixture.owner.ask('DELETE /api/agency/dkim');
    await own.to('2026-11-03T09:00:00Z');
    await own.stop();
    expect((await edition()).state).toBe('sent');
    expect(arrived()).toEqual([['petra@tarnbeck.example', 1]]);
  });
});
