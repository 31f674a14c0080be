import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  editionsOf,
  type Furnished,
  MANAGER,
  openFurnishedBed,
  scheduleFor,
  sendSeen,
  type TestBed,
  visit,
} from '../test/harness.ts';

let bed: TestBed;
let f: Furnished;

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';
const LATER = '2026-11-03T09:00:00Z';

/** A shop whose counter counted one day of October threefold: without it October is worse than September. */
beforeEach(async () => {
  const shop = { account: 'wa-2233', name: 'Quillon Cycle Works', zone: 'Europe/Berlin', currency: 'EUR' };
  ({ bed, f } = await openFurnishedBed(undefined, {}, shop));
  await bed.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body: scheduleFor(f) });
});
afterEach(() => bed.close());

const edition = async () => (await editionsOf(bed, f.client))[0]!;
const proof = async () =>
  (await bed.owner.ask('GET /api/editions/:edition/proof', { params: { edition: (await edition()).id } })).body;

const say = (note: { inReports: boolean }) =>
  bed.owner.ask('POST /api/clients/:client/notes', {
    params: { client: f.client },
    body: { from: '2026-10-08', to: '2026-10-08', text: 'The counter counted thrice.', ...note },
  });
const mails = () => bed.standins.mails.list();
async function mailText(): Promise<string> {
  const found = await bed.standins.mails.read(mails()[0]!.id);
  return found!.parsed.text ?? '';
}
const textOf = ({ pages }: Awaited<ReturnType<typeof proof>>) =>
  pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text] : []))).join(' ');

describe('an odd day that turns a verdict round', () => {
  it('holds a scheduled edition for a person, and the Desk and the edition say so first', async () => {
    await bed.moveTo(DRAWN);
    const held = await edition();
    expect(held).toMatchObject({ state: 'held', hasPdf: true, may: { send: true } });
    expect(held.reason).toContain('Revenue reads +3.9% better; without 8 Sept, 8 Oct: −2.5% worse');
    expect(held.reason).toContain('So it is with 2 more of its figures.');
    expect(held.reason).toContain('Say what happened on that day in a note for readers');
    const { needs } = (await bed.owner.ask('GET /api/desk')).body;
    expect(needs[0]).toMatchObject({
      title: 'Quillon Cycle Works, October 2026: an odd day turns a verdict round',
      action: { label: 'Look and send', to: `/editions/${held.id}` },
    });
    const seen = await proof();
    expect(seen.turned[0]).toContain('(8 Oct: €16,988, usually €5,215)');
    expect(textOf(seen)).toContain('‡ Visits');
    await bed.moveTo(SENT);
    expect(mails()).toEqual([]);
    await sendSeen(bed, held.id);
    await bed.server.clockwork.settle();
    expect(mails()).toHaveLength(1);
    expect(await mailText()).toContain('(+3.1% (without 8 Sept, 8 Oct: −3.2% worse))');
  });

  it('goes by itself once a note tells readers what happened, and prints that note in place of its own', async () => {
    await bed.moveTo(DRAWN);
    await say({ inReports: true });
    await bed.server.clockwork.settle();
    expect((await edition()).state).toBe('cleared');
    const text = textOf(await proof());
    expect(text).toContain('8 Oct: The counter counted thrice.');
    expect(text).not.toContain('‡');
    await bed.moveTo(SENT);
    expect(mails()).toHaveLength(1);
    expect(await mailText()).not.toContain('without');
  });

  it('is not explained to readers by a note for the agency alone', async () => {
    await bed.moveTo(DRAWN);
    await say({ inReports: false });
    await bed.server.clockwork.settle();
    expect((await edition()).state).toBe('held');
  });

  it('waits for a look where what happened was said after its time', async () => {
    await bed.moveTo(LATER);
    await say({ inReports: true });
    await bed.server.clockwork.settle();
    expect(await edition()).toMatchObject({ state: 'held', may: { send: true } });
    expect(mails()).toEqual([]);
  });

  it('goes with its note where the agency chose so, which an owner alone may', async () => {
    await bed.moveTo(DRAWN);
    const manager = await visit(bed.server.url, MANAGER);
    expect((await manager.ask('PUT /api/sending/odd-days', { body: { wait: false } })).status).toBe(403);
    expect((await bed.owner.ask('GET /api/sending')).body.waitsForOddDays).toBe(true);
    await bed.owner.ask('PUT /api/sending/odd-days', { body: { wait: false } });
    await bed.server.clockwork.settle();
    expect((await edition()).state).toBe('cleared');
    await bed.moveTo(SENT);
    expect(mails()).toHaveLength(1);
    expect(textOf(await proof())).toContain('‡ Visits');
    expect(await mailText()).toContain('without 8 Sept, 8 Oct');
  });
});
