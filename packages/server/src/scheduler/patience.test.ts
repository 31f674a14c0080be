import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ACCOUNT, editionsOf, type Furnished, openFurnishedBed, scheduleFor, type TestBed } from '../test/harness.ts';

let bed: TestBed;
let f: Furnished;
beforeEach(async () => {
  // The account's last days of October have not come when the run is due on 1 November.
  ({ bed, f } = await openFurnishedBed('2026-10-30T08:42:00Z'));
});
afterEach(() => bed.close());

const start = async (changes: Parameters<typeof scheduleFor>[1] = {}) =>
  bed.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, { rule: { freq: 'monthly', every: 1, on: { day: 1 } }, ...changes }),
  });
const edition = async () => (await editionsOf(bed, f.client))[0]!;
const mails = () => bed.standins.mails.list();

describe('a schedule that waits for late figures', () => {
  it('goes on looking after its time, says until when, and sends by itself once they have come', async () => {
    await start({ patience: 3 });
    bed.standins.faults.set(ACCOUNT, 'down');
    await bed.moveTo('2026-11-01T05:10:00Z');
    await bed.moveTo('2026-11-01T08:00:30Z');
    expect(await edition()).toMatchObject({
      state: 'gathering',
      reason: expect.stringMatching(/31 October 2026.* It waits for them until 11:00\.$/),
    });
    expect(mails()).toEqual([]);
    bed.standins.faults.set(ACCOUNT, 'none');
    await bed.moveTo('2026-11-01T09:10:00Z');
    expect(await edition()).toMatchObject({ state: 'sent', dueAt: '2026-11-01T08:00:00.000Z' });
    expect(mails()).toHaveLength(1);
  });

  it('holds it when they still lack at the end of its patience, and sends nothing', async () => {
    await start({ patience: 1 });
    bed.standins.faults.set(ACCOUNT, 'down');
    await bed.moveTo('2026-11-01T08:00:30Z');
    expect((await edition()).state).toBe('gathering');
    await bed.moveTo('2026-11-01T08:59:00Z');
    expect((await edition()).state).toBe('gathering');
    await bed.moveTo('2026-11-01T09:00:30Z');
    expect(await edition()).toMatchObject({ state: 'held', reason: expect.stringContaining('Nothing was sent.') });
    bed.standins.faults.set(ACCOUNT, 'none');
    await bed.moveTo('2026-11-01T12:00:00Z');
    // From then on it is a person's.
    expect((await edition()).state).toBe('held');
    expect(mails()).toEqual([]);
  });

  it('takes up another patience while it waits', async () => {
    const { id } = (await start({ patience: 6 })).body;
    bed.standins.faults.set(ACCOUNT, 'down');
    await bed.moveTo('2026-11-01T08:30:00Z');
    const params = { schedule: id };
    const body = scheduleFor(f, { rule: { freq: 'monthly', every: 1, on: { day: 1 } }, patience: 0 });
    expect((await bed.owner.ask('PUT /api/schedules/:schedule', { params, body })).status).toBe(200);
    await bed.moveTo('2026-11-01T08:50:00Z');
    expect((await edition()).state).toBe('held');
  });

  it('has none where a person is to see it first, and takes no other hours than are offered', async () => {
    await start({ patience: 6, signOff: { rule: 'first', asks: null } });
    bed.standins.faults.set(ACCOUNT, 'down');
    await bed.moveTo('2026-11-01T08:00:30Z');
    expect((await edition()).state).toBe('held');
    const refused = await start({ patience: 5 as never });
    expect(refused).toMatchObject({ status: 422, fields: { patience: expect.stringContaining('or none') } });
  });
});
