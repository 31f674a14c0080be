import { addMinutes } from '@chronicon/core/calendar';
import { IMAP_ACCOUNT, reportOn, startImap } from '@chronicon/simulators';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { enterInstance, type Instance, lastBeat, takeLease } from '../store/instances.ts';
import { bounceToken, tokenKey } from '../store/mailTokens.ts';
import { deliveriesOf } from '../store/messages.ts';
import { mayTell, toldNow } from '../store/notices.ts';
import { enterWindow, othersAt } from '../store/presence.ts';
import { freePort } from '../test/freePort.ts';
import { editionsOf, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';
import { createWatch } from './watch.ts';

const HOUR = 3_600_000;
let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z', { CHRONICON_PATIENCE: '3' }));
});
afterEach(async () => {
  vi.useRealTimers();
  await fixture.close();
});

/** Sets the machine's clock once the server has beaten at this time; what only goes forward goes on. */
async function setClock(byHours: number): Promise<void> {
  const { store, clock } = fixture.server;
  const before = clock.now();
  await vi.waitFor(async () => expect((await lastBeat(store))! > before).toBe(true), { timeout: 20_000 });
  vi.useFakeTimers({ toFake: ['Date'], now: Date.now() + byHours * HOUR });
}
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const plan = (changes = {}) =>
  fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, changes),
  });
/** Lets so many minutes pass by the server's own clock. */
const pass = (minutes: number) => fixture.moveTo(addMinutes(fixture.server.clock.now(), minutes));

describe('a server that died', () => {
  const MACHINE = Date.parse('2026-11-02T08:00:00Z');
  const PATIENCE = 20_000;
  const times = (machine: number, steady: number) => ({ now: new Date(machine).toISOString(), machine, steady });
  const takes = async (self: Instance) => {
    const { store } = fixture.server;
    const feed = await store.selectFrom('feed').select('id').executeTakeFirstOrThrow();
    return (await takeLease(store, 'feed', feed.id, self)) !== null;
  };

  it.each([
    ['goes on', 0],
    ['is set back by two hours', -2 * HOUR],
    ['is set forward by two hours', 2 * HOUR],
  ])('is known by its silence alone, where the clock %s', async (_, jump) => {
    const { store } = fixture.server;
    await fixture.server.scheduler.stop();
    const dying = await enterInstance(store, PATIENCE, times(MACHINE, 0));
    const living = await enterInstance(store, PATIENCE, times(MACHINE, 0));
    expect(await takes(dying)).toBe(true);
    await living.beat(times(MACHINE + 4_000 + jump, 4_000));
    // Both may live yet.
    expect(await takes(living)).toBe(false);
    await living.beat(times(MACHINE + 19_000 + jump, 19_000));
    expect(await takes(living)).toBe(false);
    await living.beat(times(MACHINE + 25_000 + jump, 25_000));
    expect(await takes(living)).toBe(true);
  });

  it.each([-2 * HOUR, 2 * HOUR])('is none that beats on, though the clock moves by %s ms', async (jump) => {
    const { store } = fixture.server;
    await fixture.server.scheduler.stop();
    const one = await enterInstance(store, PATIENCE, times(MACHINE, 0));
    const other = await enterInstance(store, PATIENCE, times(MACHINE, 0));
    expect(await takes(one)).toBe(true);
    for (let s = 4; s <= 60; s += 4) {
      await one.beat(times(MACHINE + s * 1_000 + jump, s * 1_000));
      await other.beat(times(MACHINE + s * 1_000 + jump, s * 1_000));
      expect(await takes(other)).toBe(false);
    }
  });

  it('long before another starts holds nothing up', async () => {
    const { store } = fixture.server;
    await fixture.server.scheduler.stop();
    const dead = await enterInstance(store, PATIENCE, times(MACHINE, 0));
    expect(await takes(dead)).toBe(true);
    const next = await enterInstance(store, PATIENCE, times(MACHINE + HOUR, 0));
    expect(await takes(next)).toBe(true);
  });
});

describe('a clock that is set back by two hours', () => {
  it('lets a mail go after its pause that the mail server put off', async () => {
    await plan();
    await fixture.simulators.smtp.setFault('greylist');
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect((await edition()).deliveries).toMatchObject([{ state: 'deferred' }]);
    await setClock(-2);
    await fixture.restart();
    await fixture.moveTo(addMinutes(fixture.server.clock.now(), 2));
    expect((await edition()).state).toBe('sent');
  });

  it('counts no mail of an hour that is still to come against the limit per minute', async () => {
    const body = { bounces: '', perMinute: 1, quiet: null };
    await fixture.owner.ask('PUT /api/agency/mail-rules', { body });
    await plan();
    await plan({ time: '06:30' });
    await fixture.moveTo('2026-11-03T06:31:00Z');
    expect(fixture.simulators.mails.list()).toHaveLength(1);
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect(fixture.simulators.mails.list()).toHaveLength(2);
    await setClock(-2);
    await plan({ time: '07:00' });
    await fixture.moveTo('2026-11-03T07:01:00Z');
    expect(fixture.simulators.mails.list()).toHaveLength(3);
  });

  it('tries a mail server again that took nothing', async () => {
    await plan();
    await fixture.simulators.smtp.setFault('closed');
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect((await fixture.owner.ask('GET /api/sending')).body.stops).toHaveLength(1);
    await fixture.simulators.smtp.setFault('none');
    await setClock(-2);
    await fixture.restart();
    await pass(3);
    expect((await fixture.owner.ask('GET /api/sending')).body.stops).toEqual([]);
  });

  it('tells what is wrong, and shows nobody who has gone', async () => {
    const { store } = fixture.server;
    const [then, now] = ['2026-11-03T10:00:00.000Z', '2026-11-03T08:00:00.000Z'];
    await toldNow(store, 'mail-server', then);
    expect(await mayTell(store, 'mail-server', then, 60, 1_440)).toBe(false);
    expect(await mayTell(store, 'mail-server', now, 60, 1_440)).toBe(true);
    const me = (await fixture.owner.ask('GET /api/session')).body.member!.id;
    await enterWindow(store, { report: f.report, member: me, window: 'one', block: null, now: then });
    expect(await othersAt(store, f.report, 'two', then)).toHaveLength(1);
    expect(await othersAt(store, f.report, 'two', now)).toEqual([]);
  });
});

describe('a mailbox to which mails come back', () => {
  it.each([-2, 2])('is read on though the clock moves by %i hours', async (hours) => {
    const imap = await startImap(await freePort());
    const rules = { bounces: 'bounces@fernglass.example', perMinute: null, quiet: null };
    await fixture.owner.ask('PUT /api/agency/mail-rules', { body: rules });
    const box = { host: '127.0.0.1', port: imap.port, tls: 'never' as const, folder: 'INBOX', ...IMAP_ACCOUNT };
    await fixture.owner.ask('PUT /api/agency/bounce-box', { body: box });
    await plan();
    await fixture.moveTo('2026-11-03T08:00:30Z');
    await fixture.server.scheduler.stop();
    const { store, clock } = fixture.server;
    const watch = createWatch(fixture.server, new AbortController().signal);
    await watch.look();
    await watch.idle();
    const [d] = await deliveriesOf(store, [(await edition()).id]);
    const to = `bounces+${bounceToken(await tokenKey(store, fixture.server.secrets), d!.id)}@fernglass.example`;
    const raw = Buffer.from('Subject: a\r\n\r\nhello');
    imap.add(Buffer.from(reportOn({ to, recipient: 'petra@tarnbeck.example', status: '5.1.1', raw })));
    await setClock(hours);
    clock.moveTo(addMinutes(clock.now(), 2));
    await watch.look();
    await watch.idle();
    expect((await edition()).deliveries).toMatchObject([{ state: 'bounced' }]);
    await imap.close();
  });
});
