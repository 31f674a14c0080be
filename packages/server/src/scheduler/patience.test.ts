import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  ACCOUNT,
  editionsOf,
  type Furnished,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  // The account's last days of October have not come when the run is due on 1 November.
  ({ fixture, f } = await openFurnishedFixture('2026-10-30T08:42:00Z'));
});
afterEach(() => fixture.close());

const start = async (changes: Parameters<typeof scheduleFor>[1] = {}) =>
  fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, { rule: { freq: 'monthly', every: 1, on: { day: 1 } }, ...changes }),
  });
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const mails = () => fixture.simulators.mails.list();

describe('a schedule that waits for late figures', () => {
  it('goes on looking after its time, says until when, and sends by itself once they have come', async () => {
    await start({ patience: 3 });
    fixture.simulators.faults.set(ACCOUNT, 'down');
    await fixture.moveTo('2026-11-01T05:10:00Z');
    await fixture.moveTo('2026-11-01T08:00:30Z');
    expect(await edition()).toMatchObject({
      state: 'collecting',
      reason: expect.stringMatching(/31 October 2026.* Waiting for it until 11:00\.$/),
    });
    expect(mails()).toEqual([]);
    fixture.simulators.faults.set(ACCOUNT, 'none');
    await fixture.moveTo('2026-11-01T09:10:00Z');
    expect(await edition()).toMatchObject({ state: 'sent', dueAt: '2026-11-01T08:00:00.000Z' });
    expect(mails()).toHaveLength(1);
  });

  it('holds it when they still lack at the end of its patience, and sends nothing', async () => {
    await start({ patience: 1 });
    fixture.simulators.faults.set(ACCOUNT, 'down');
    await fixture.moveTo('2026-11-01T08:00:30Z');
    expect((await edition()).state).toBe('collecting');
    await fixture.moveTo('2026-11-01T08:59:00Z');
    expect((await edition()).state).toBe('collecting');
    await fixture.moveTo('2026-11-01T09:00:30Z');
    expect(await edition()).toMatchObject({ state: 'held', reason: expect.stringContaining('Nothing was sent.') });
    fixture.simulators.faults.set(ACCOUNT, 'none');
    await fixture.moveTo('2026-11-01T12:00:00Z');
    // From then on it is a person's.
    expect((await edition()).state).toBe('held');
    expect(mails()).toEqual([]);
  });

  it('takes up another patience while it waits', async () => {
    const { id } = (await start({ patience: 6 })).body;
    fixture.simulators.faults.set(ACCOUNT, 'down');
    await fixture.moveTo('2026-11-01T08:30:00Z');
    const params = { schedule: id };
    const body = scheduleFor(f, { rule: { freq: 'monthly', every: 1, on: { day: 1 } }, patience: 0 });
    expect((await fixture.owner.ask('PUT /api/schedules/:schedule', { params, body })).status).toBe(200);
    await fixture.moveTo('2026-11-01T08:50:00Z');
    expect((await edition()).state).toBe('held');
  });

  it('has none where a person is to see it first, and takes no other hours than are offered', async () => {
    await start({ patience: 6, signOff: { rule: 'first', asks: null } });
    fixture.simulators.faults.set(ACCOUNT, 'down');
    await fixture.moveTo('2026-11-01T08:00:30Z');
    expect((await edition()).state).toBe('held');
    const refused = await start({ patience: 5 as never });
    expect(refused).toMatchObject({ status: 422, fields: { patience: expect.stringContaining('or none') } });
  });
});
