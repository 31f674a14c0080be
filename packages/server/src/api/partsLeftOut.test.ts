import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  editionsOf,
  type Furnished,
  MANAGER,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
  visit,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z'));
});
afterEach(() => fixture.close());

// The report ranks landing pages, which no feed knows by keyword.
const byWords = [{ dimension: 'keyword', how: 'only' as const, values: ['kiln'] }];
const phones = [{ dimension: 'device', how: 'only' as const, values: ['Mobile'] }];
const start = (change: object) =>
  fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, change),
  });
const gapsOf = async (change: object) =>
  (
    await fixture.owner.ask('POST /api/clients/:client/schedules/filter-gaps', {
      params: { client: f.client },
      body: scheduleFor(f, change),
    })
  ).body.gaps;

describe('a block that the filter of a schedule cannot apply to', () => {
  it('is named before the schedule is saved, with its page and why', async () => {
    expect(await gapsOf({ filter: phones })).toEqual([]);
    const gaps = await gapsOf({ filter: byWords });
    expect(gaps.length).toBeGreaterThan(1);
    for (const gap of gaps) expect(gap.why).toMatch(/^.+ can’t be filtered by .*Keyword/);
    expect(new Set(gaps.map((g) => g.block)).size).toBe(gaps.length);
    // Of a page that does not go nothing is said.
    const report = (await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body;
    const [first] = report.document.pages;
    const some = await gapsOf({ filter: byWords, pages: [first!.id] });
    expect(new Set(some.map((g) => g.page))).toEqual(new Set([first!.title]));
  });

  it('is left out of the schedule, and its editions go without it', async () => {
    const report = (await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body;
    const ranking = report.document.pages
      .flatMap((p) => p.rows.flatMap((r) => r.blocks))
      .find((b) => b.kind === 'ranking')!;
    const { status } = await start({ filter: phones, leftOut: [ranking.id] });
    expect(status).toBe(200);
    await fixture.moveTo('2026-11-03T05:10:00Z');
    const [edition] = await editionsOf(fixture, f.client);
    const review = (await fixture.owner.ask('GET /api/editions/:edition/review', { params: { edition: edition!.id } }))
      .body;
    const text = review.pages.flatMap((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text] : []))).join(' ');
    expect(text).toContain('Mobile');
    expect(text).not.toContain('Revenue by channel');
  });

  it('keeps the schedule from being saved until it is left out, in words that say both ways on', async () => {
    const refused = await start({ filter: byWords });
    expect(refused.fields.leftOut).toMatch(/Hide it in this schedule, or choose another filter\.$/);
    const all = (await gapsOf({ filter: byWords })).map((g) => g.block);
    const nothing = await start({ filter: byWords, leftOut: all });
    expect(nothing.fields.leftOut).toMatch(
      /Nothing in the report would be sent\. Show some blocks, or choose another filter\./,
    );
  });
});

describe('a schedule that is not started yet', () => {
  const params = () => ({ client: f.client });
  const draftOf = async (who = fixture.owner) =>
    (await who.ask('GET /api/clients/:client/schedule-draft', { params: params() })).body.draft;

  it('is kept for whoever began it, whatever it lacks, until it is started or let go', async () => {
    expect(await draftOf()).toBeNull();
    const input = { time: '07:30', readers: [], message: '' };
    const kept = await fixture.owner.ask('PUT /api/clients/:client/schedule-draft', {
      params: params(),
      body: { input },
    });
    expect(kept.status).toBe(200);
    expect(await draftOf()).toEqual({ input, savedAt: expect.any(String) });
    const manager = await visit(fixture.server.url, MANAGER);
    expect([404, 200]).toContain(
      (await manager.ask('GET /api/clients/:client/schedule-draft', { params: params() })).status,
    );
    await start({});
    expect(await draftOf()).toBeNull();
    await fixture.owner.ask('PUT /api/clients/:client/schedule-draft', { params: params(), body: { input } });
    await fixture.owner.ask('DELETE /api/clients/:client/schedule-draft', { params: params() });
    expect(await draftOf()).toBeNull();
    const large = { message: 'x'.repeat(250_000) };
    const refused = await fixture.owner.ask('PUT /api/clients/:client/schedule-draft', {
      params: params(),
      body: { input: large },
    });
    expect(refused.status).toBe(422);
  });
});

describe('a report that is deleted', () => {
  const params = () => ({ report: f.report });
  const list = async () =>
    (await fixture.owner.ask('GET /api/clients/:client/reports', { params: { client: f.client } })).body;

  it('is in no list any more, ends its schedules, and leaves its editions in the archive', async () => {
    await start({});
    await fixture.moveTo('2026-11-03T08:00:30Z');
    const [sent] = await editionsOf(fixture, f.client);
    expect(sent!.state).toBe('sent');
    expect((await list())[0]).toMatchObject({ schedules: 1 });
    const gone = await fixture.owner.ask('DELETE /api/reports/:report', { params: params() });
    expect(gone.body).toEqual({ ended: 1 });
    expect(await list()).toEqual([]);
    expect((await fixture.owner.ask('GET /api/reports/:report', { params: params() })).status).toBe(404);
    const schedules = await fixture.owner.ask('GET /api/clients/:client/schedules', { params: { client: f.client } });
    expect(schedules.body).toEqual([]);
    const [kept] = await editionsOf(fixture, f.client);
    expect(kept).toMatchObject({ id: sent!.id, state: 'sent', hasPdf: true });
    const pdf = await fixture.owner.raw(`/api/editions/${sent!.id}/pdf`);
    expect(pdf.status).toBe(200);
    // Nothing more comes of it.
    await fixture.moveTo('2026-12-03T09:00:00Z');
    expect(await editionsOf(fixture, f.client)).toHaveLength(1);
  });

  it('can be copied before, under a name of its own', async () => {
    const copy = await fixture.owner.ask('POST /api/clients/:client/reports', {
      params: { client: f.client },
      body: { title: 'Monthly overview (copy)', report: f.report },
    });
    await fixture.owner.ask('DELETE /api/reports/:report', { params: params() });
    expect((await list()).map((r) => r.title)).toEqual(['Monthly overview (copy)']);
    expect((await list())[0]).toMatchObject({ id: copy.body.id, released: null, schedules: 0 });
  });
});
