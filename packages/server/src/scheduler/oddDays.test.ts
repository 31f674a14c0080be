import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  editionsOf,
  type Furnished,
  MANAGER,
  openFurnishedFixture,
  scheduleFor,
  sendSeen,
  type TestFixture,
  visit,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';
const LATER = '2026-11-03T09:00:00Z';

/** A shop whose counter counted one day of October threefold: without it October is worse than September. */
beforeEach(async () => {
  const shop = { account: 'wa-2233', name: 'Quillon Cycle Works', zone: 'Europe/Berlin', currency: 'EUR' };
  ({ fixture, f } = await openFurnishedFixture(undefined, {}, shop));
  await fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f),
  });
});
afterEach(() => fixture.close());

const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const review = async () =>
  (await fixture.owner.ask('GET /api/editions/:edition/review', { params: { edition: (await edition()).id } })).body;

const say = (note: { inReports: boolean }) =>
  fixture.owner.ask('POST /api/clients/:client/notes', {
    params: { client: f.client },
    body: { from: '2026-10-08', to: '2026-10-08', text: 'The counter counted thrice.', ...note },
  });
const mails = () => fixture.simulators.mails.list();
async function mailText(): Promise<string> {
  const found = await fixture.simulators.mails.read(mails()[0]!.id);
  return found!.parsed.text ?? '';
}
const textOf = ({ pages }: Awaited<ReturnType<typeof review>>) =>
  pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text] : []))).join(' ');

describe('an odd day that turns a verdict round', () => {
  it('holds a scheduled edition for a person, and the Desk and the edition say so first', async () => {
    await fixture.moveTo(DRAWN);
    const held = await edition();
    expect(held).toMatchObject({ state: 'held', hasPdf: true, may: { send: true } });
    expect(held.reason).toContain(
      'Revenue: +3.9% (better). Without 8 Oct and the day it is compared with: revenue −2.5%.',
    );
    expect(held.reason).toContain('The same applies to 2 more metrics.');
    expect(held.reason).toContain('Add a note explaining the day');
    const { needs } = (await fixture.owner.ask('GET /api/desk')).body;
    expect(needs[0]).toMatchObject({
      title: 'Quillon Cycle Works, October 2026: an unusual day reverses a trend',
      action: { label: 'Review and send', to: `/editions/${held.id}` },
    });
    const seen = await review();
    expect(seen.turned[0]).toContain('8 Oct: revenue €16,988 (usually about €5,215)');
    expect(textOf(seen)).toContain('‡ Visits');
    await fixture.moveTo(SENT);
    expect(mails()).toEqual([]);
    await sendSeen(fixture, held.id);
    await fixture.server.scheduler.settle();
    expect(mails()).toHaveLength(1);
    expect(await mailText()).toContain(
      'visits were 59,199 (+3.1%).\n8 October 2026: visits 5,560 (usually about 1,809). Without that day and the one it is compared with: visits −3.2%.',
    );
  });

  it('goes by itself once a note tells readers what happened, and prints that note beside its own', async () => {
    await fixture.moveTo(DRAWN);
    await say({ inReports: true });
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('ready');
    const text = textOf(await review());
    expect(text).toContain('8 Oct: The counter counted thrice.');
    expect(text).toContain('‡ Visits');
    expect(text).toContain('usually');
    await fixture.moveTo(SENT);
    expect(mails()).toHaveLength(1);
    expect(await mailText()).toContain('Without that day and the one it is compared with: visits −3.2%.');
  });

  it('goes by itself once the day is excluded, which every page and the mail say, until it counts again', async () => {
    await fixture.moveTo(DRAWN);
    const body = {
      from: '2026-10-08',
      to: '2026-10-08',
      reason: 'The counter counted thrice',
      printed: true,
      metrics: [],
    };
    const params = { client: f.client };
    const made = await fixture.owner.ask('POST /api/clients/:client/excluded-days', { params, body });
    expect(made.status).toBe(200);
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('ready');
    const text = textOf(await review()).replace(/\s+/g, ' ');
    expect(text).not.toContain('‡');
    expect(text).toContain('Visits §');
    expect(text).toContain('§ Visits (without 8 Sept, 8 Oct): The counter counted thrice.');
    expect(text).toContain('(without 8 Oct).');
    // Counting it again makes the edition what it was.
    const gone = { ...params, excluded: made.body.id };
    await fixture.owner.ask('DELETE /api/clients/:client/excluded-days/:excluded', { params: gone });
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('held');
    await fixture.owner.ask('POST /api/clients/:client/excluded-days', { params, body });
    await fixture.server.scheduler.settle();
    await fixture.moveTo(SENT);
    expect(mails()).toHaveLength(1);
    expect(await mailText()).toMatch(/−3\.2% \(without 8 Oct\)/);
  });

  it('is not explained to readers by a note for the agency alone', async () => {
    await fixture.moveTo(DRAWN);
    await say({ inReports: false });
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('held');
  });

  it('waits for a look where what happened was said after its time', async () => {
    await fixture.moveTo(LATER);
    await say({ inReports: true });
    await fixture.server.scheduler.settle();
    expect(await edition()).toMatchObject({ state: 'held', may: { send: true } });
    expect(mails()).toEqual([]);
  });

  it('goes with its note where the agency chose so, which an owner alone may', async () => {
    await fixture.moveTo(DRAWN);
    const manager = await visit(fixture.server.url, MANAGER);
    expect((await manager.ask('PUT /api/sending/odd-days', { body: { wait: false } })).status).toBe(403);
    expect((await fixture.owner.ask('GET /api/sending')).body.waitsForOddDays).toBe(true);
    await fixture.owner.ask('PUT /api/sending/odd-days', { body: { wait: false } });
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('ready');
    await fixture.moveTo(SENT);
    expect(mails()).toHaveLength(1);
    expect(textOf(await review())).toContain('‡ Visits');
    expect(await mailText()).toContain('Without that day and the one it is compared with');
  });
});
