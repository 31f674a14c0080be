import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  editionsOf,
  type Furnished,
  openFurnishedFixture,
  scheduleFor,
  sendSeen,
  type TestFixture,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

/** A server on which what a person sends can be undone for thirty seconds, as it is outside of tests. */
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture(undefined, { CHRONICON_UNDO: '30' }));
});
afterEach(() => fixture.close());

const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const mails = () => fixture.simulators.mails.list();

/** A run that waited for a person past its time. */
async function waiting() {
  await fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, { signOff: { rule: 'first', asks: null } }),
  });
  await fixture.moveTo('2026-11-03T12:00:00Z');
  return edition();
}

describe('an edition that a person sends', () => {
  it('goes after thirty seconds in which it can be undone, and says how many are left', async () => {
    const { id, state } = await waiting();
    expect(state).toBe('review');
    await sendSeen(fixture, id);
    const ready = await edition();
    expect(ready).toMatchObject({ state: 'ready', sentAt: null, may: { takeBack: true } });
    expect(ready.goesIn).toBeGreaterThan(0);
    expect(ready.goesIn).toBeLessThanOrEqual(30);
    expect(mails()).toEqual([]);
    await fixture.moveTo('2026-11-03T12:00:40Z');
    expect(await edition()).toMatchObject({ state: 'sent', goesIn: null, dueAt: '2026-11-03T08:00:00.000Z' });
    expect(mails()).toHaveLength(1);
    // It was due in the morning, and went out at noon: both are said.
    expect((await edition()).sentAt).toMatch(/^2026-11-03T12:00:/);
    const { clients } = (await fixture.owner.ask('GET /api/clients')).body;
    expect(clients.find((c) => c.id === f.client)!.lastSent).toMatch(/^2026-11-03T12:00:/);
  });

  it('reaches nobody where it is undone in time, and can be sent again', async () => {
    const { id } = await waiting();
    await sendSeen(fixture, id);
    const undone = await fixture.owner.ask('POST /api/editions/:edition/take-back', { params: { edition: id } });
    expect(undone.status).toBe(200);
    await fixture.moveTo('2026-11-03T12:05:00Z');
    expect((await edition()).state).toBe('review');
    expect(mails()).toEqual([]);
    await sendSeen(fixture, id);
    await fixture.moveTo('2026-11-03T12:06:00Z');
    expect(mails()).toHaveLength(1);
  });
});
