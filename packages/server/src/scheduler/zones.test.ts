import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { writeSetting } from '../store/settings.ts';
import {
  editionsOf,
  type Furnished,
  memberOf,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const HOUR = '2026-11-03T07:00:00.000Z';
const start = async () => {
  const params = { client: f.client };
  return (await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f) })).body.id;
};
/** A server whose runtime knew another rule: the run of 3 November an hour earlier. */
async function learn(): Promise<void> {
  const { store, scheduler } = fixture.server;
  await scheduler.settle();
  await store.updateTable('run').set({ at: HOUR }).where('nominal', '=', '2026-11-03').execute();
  await writeSetting(store, 'zones.version', '2025a');
  await fixture.restart();
}
const zoneNeed = async () => (await fixture.owner.ask('GET /api/desk')).body.needs.find((n) => n.key === 'zones');
const runAt = async () =>
  (await fixture.owner.ask('GET /api/almanac', { query: { client: f.client } })).body.clients[0]!.marks[0]!.at;

describe('rules of time zones that changed with the runtime', () => {
  it('are noticed at start; the runs that they move are shown, and count once somebody has agreed', async () => {
    const id = await start();
    await learn();
    expect(await zoneNeed()).toMatchObject({ title: 'Time-zone rules changed: One run moves' });
    expect((await fixture.owner.ask('GET /api/zone-moves')).body).toMatchObject({
      moves: [{ scheduleId: id, was: { at: HOUR, time: '07:00' }, becomes: { time: '08:00', date: '2026-11-03' } }],
      total: 1,
    });
    await fixture.server.scheduler.settle();
    expect(await runAt()).toBe(HOUR);
    const stranger = await memberOf(fixture, 'stranger@fernglass.example', 'manager', []);
    expect((await stranger.ask('POST /api/zone-moves/agree')).body).toEqual({ runs: 0 });
    expect((await fixture.owner.ask('POST /api/zone-moves/agree')).body).toEqual({ runs: 1 });
    expect(await runAt()).toBe('2026-11-03T08:00:00.000Z');
    expect(await zoneNeed()).toBeUndefined();
    await fixture.moveTo('2026-11-03T07:30:00Z');
    expect(fixture.simulators.mails.list()).toEqual([]);
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect(fixture.simulators.mails.list()).toHaveLength(1);
  });

  it('leave a run when it was to go while nobody has agreed; and once it is drawn, it moves with them', async () => {
    await start();
    await learn();
    await fixture.moveTo('2026-11-03T06:00:00Z');
    expect((await editionsOf(fixture, f.client))[0]).toMatchObject({ state: 'ready', dueAt: HOUR });
    await fixture.owner.ask('POST /api/zone-moves/agree');
    expect((await editionsOf(fixture, f.client))[0]!.dueAt).toBe('2026-11-03T08:00:00.000Z');
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect(fixture.simulators.mails.list()).toHaveLength(1);
  });

  it('ask about nothing on a server that knows them as before', async () => {
    await start();
    await writeSetting(fixture.server.store, 'zones.version', '2025a');
    await fixture.restart();
    expect(await zoneNeed()).toBeUndefined();
  });
});

describe('a server that slept for three days over a change of the clocks', () => {
  it('makes the newest of what it missed, once, at the time of the wall clock from then on', async () => {
    const daily = { rule: { freq: 'daily' as const }, period: { kind: 'rolling' as const, days: 7 } };
    const params = { client: f.client };
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f, daily) });
    await fixture.moveTo('2027-03-26T12:00:00Z');
    const before = fixture.simulators.mails.list().length;
    await fixture.stop();
    // The clocks go forward on 28 March: 08:00 is 07:00 UTC from then on.
    await fixture.restart();
    await fixture.moveTo('2027-03-29T12:00:00Z');
    const made = (await editionsOf(fixture, f.client)).filter((e) => e.dueAt > '2027-03-26T12:00:00.000Z');
    expect(made.map((e) => [e.dueAt, e.state]).sort()).toEqual([
      ['2027-03-27T08:00:00.000Z', 'skipped'],
      ['2027-03-28T07:00:00.000Z', 'skipped'],
      ['2027-03-29T07:00:00.000Z', 'sent'],
    ]);
    expect(fixture.simulators.mails.list().length).toBe(before + 1);
  });
});
