import type { Look } from '@chronicon/core/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { editing } from '../test/editing.ts';
import {
  CLIENT,
  type Furnished,
  memberOf,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
  type Visitor,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let analyst: Visitor;
let report: ReturnType<typeof editing>;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z'));
  report = editing(fixture, f);
  analyst = await memberOf(fixture, 'analyst@fernglass.example', 'analyst', [f.client]);
});
afterAll(() => fixture.close());

const PHONES = { name: 'Phones', parts: [{ dimension: 'device', how: 'only' as const, values: ['Mobile'] }] };
const keep = (who: Visitor, body: object, client = f.client) =>
  who.ask('POST /api/clients/:client/segments', { params: { client }, body });
const segments = async (client = f.client) =>
  (await fixture.owner.ask('GET /api/clients/:client/segments', { params: { client } })).body;
const visits = async (filter: string) => {
  const query = { metrics: 'visits', period: 'month.-1', filter };
  const answer = await fixture.owner.ask('GET /api/clients/:client/figures', { params: { client: f.client }, query });
  return { status: answer.status, fields: answer.fields, value: answer.body.totals?.[0]?.current };
};
describe('segments', () => {
  it('narrow the figures as their parts do, alone and beside others', async () => {
    const { id } = (await keep(fixture.owner, PHONES)).body;
    const plain = await visits('device=Mobile');
    expect(plain.value).toMatchObject({ value: expect.any(Number) });
    expect((await visits(`segment=${id}`)).value).toEqual(plain.value);
    expect((await visits(`segment=${id};channel!=Email`)).value).toEqual(
      (await visits('device=Mobile;channel!=Email')).value,
    );
    expect((await visits(`segment=${id};device!=Mobile`)).value).toEqual({ value: 0 });
    expect((await visits('device~=mob')).value).toEqual(plain.value);
    expect(await visits('segment=sg_nothing')).toMatchObject({ status: 422, fields: { filter: /no longer there/ } });
  });

  it('have one name each, and keep something', async () => {
    expect((await keep(analyst, { ...PHONES, name: 'phones' })).fields.name).toMatch(/already/);
    expect((await keep(analyst, { name: '', parts: PHONES.parts })).fields.name).toMatch(/name/);
    expect((await keep(analyst, { name: 'None', parts: [] })).status).toBe(422);
    const within = [{ dimension: 'segment', how: 'only', values: ['sg_1'] }];
    expect((await keep(analyst, { name: 'Of another', parts: within })).status).toBe(422);
  });

  it('of all clients are an owner’s to keep and to change, and every client has them', async () => {
    const shared = { ...PHONES, name: 'Away from desks', shared: true };
    expect((await keep(analyst, shared)).status).toBe(403);
    const { id } = (await keep(fixture.owner, shared)).body;
    const other = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quillon Cycle Works' } }))
      .body.id;
    expect((await segments(other)).map((s) => [s.name, s.shared])).toEqual([['Away from desks', true]]);
    const params = { client: f.client, segment: id };
    const body = { name: 'Mine', parts: PHONES.parts };
    expect((await analyst.ask('PUT /api/clients/:client/segments/:segment', { params, body })).status).toBe(403);
    expect((await analyst.ask('DELETE /api/clients/:client/segments/:segment', { params })).status).toBe(403);
    expect((await fixture.owner.ask('DELETE /api/clients/:client/segments/:segment', { params })).status).toBe(200);
    expect(await segments(other)).toEqual([]);
  });

  it('stand beneath what they narrow on the page, follow a change, and stay while a report names them', async () => {
    const { id } = (await segments())[0]!;
    const before = await report.shows();
    const block = (await report.load()).document.pages
      .flatMap((p) => p.rows.flatMap((r) => r.blocks))
      .find((b) => b.kind === 'ranking')!;
    const filter = [{ dimension: 'segment', how: 'only', values: [id] }];
    expect((await report.edit({ op: 'setBlock', block: block.id, set: { filter } })).status).toBe(200);
    const after = await report.shows();
    expect(before.texts).not.toContain('Phones');
    expect(after.texts).toContain('Phones');
    expect((await segments()).find((s) => s.id === id)!.usedIn).toEqual(['Monthly overview']);

    const params = { client: f.client, segment: id };
    const renamed = { name: 'On a phone', parts: PHONES.parts };
    await fixture.owner.ask('PUT /api/clients/:client/segments/:segment', { params, body: renamed });
    expect((await report.shows()).texts).toContain('On a phone');
    const refused = await fixture.owner.ask('DELETE /api/clients/:client/segments/:segment', { params });
    expect(refused).toMatchObject({ status: 409, body: { message: /Monthly overview/ } });
  });

  it('are sent alone by a schedule that chooses them, which keeps them from being removed', async () => {
    const { id } = (await segments())[0]!;
    await report.release();
    const filter = [{ dimension: 'segment', how: 'only', values: [id] }];
    const start = (change: object) =>
      fixture.owner.ask('POST /api/clients/:client/schedules', {
        params: { client: f.client },
        body: scheduleFor(f, change),
      });
    const lost = [{ dimension: 'segment', how: 'only', values: ['sg_other'] }];
    expect((await start({ filter: lost })).fields).toEqual({
      filter: expect.stringMatching(/was deleted: choose another/),
    });
    const other = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Hollin Dairy' } })).body.id;
    const theirs = (await keep(fixture.owner, { ...PHONES, name: 'Theirs' }, other)).body.id;
    const of = (segment: string) => [{ dimension: 'segment', how: 'only', values: [segment] }];
    expect((await start({ filter: of(theirs) })).fields.filter).toMatch(/was deleted: choose another/);
    expect((await start({ filter: [{ dimension: 'nothing', how: 'only', values: ['x'] }] })).status).toBe(422);

    // Pages by landing page are not known by keyword, too: they would be held each time.
    const byWords = [{ dimension: 'keyword', how: 'only', values: ['kiln'] }];
    expect((await start({ filter: byWords })).fields.leftOut).toMatch(
      /The filter can’t apply to .* can’t be filtered by .*Keyword/,
    );

    const { id: schedule } = (await start({ filter })).body;
    expect((await segments()).find((s) => s.id === id)!.usedIn).toEqual([
      'Monthly overview',
      'a schedule of Monthly overview',
    ]);
    // The report no longer names it; the schedule does.
    const block = (await report.load()).document.pages
      .flatMap((p) => p.rows.flatMap((r) => r.blocks))
      .find((b) => b.kind === 'ranking')!;
    await report.edit({ op: 'setBlock', block: block.id, set: { filter: null } });
    await report.release();
    const params = { client: f.client, segment: id };
    const refused = await fixture.owner.ask('DELETE /api/clients/:client/segments/:segment', { params });
    expect(refused).toMatchObject({ status: 409, body: { message: /A schedule of “Monthly overview”/ } });

    const look = { kind: 'run' as const, schedule, nominal: '2026-11-03' };
    const texts = async (at: Look) => (await report.shows(at)).texts.join(' | ');
    expect(await texts(look)).toContain('On a phone');
    expect(await texts({ kind: 'own' })).not.toContain('On a phone');
    await fixture.owner.ask('DELETE /api/schedules/:schedule', { params: { schedule } });
    await report.edit({ op: 'setBlock', block: block.id, set: { filter } });
  });

  it('that are gone are said in the place of what they narrowed; the rest stands, and no edition is made', async () => {
    const { id } = (await segments())[0]!;
    await report.release();
    // As a copy of before would be, restored without it.
    await fixture.server.store.deleteFrom('segment').where('id', '=', id).execute();
    const { lacks, texts } = await report.shows();
    expect(texts).toContain('No longer available: a segment.');
    expect(texts.join(' ')).toContain('Visits');
    expect(lacks.join(' ')).toMatch(/was deleted: a segment/);
    const made = await fixture.owner.ask('POST /api/reports/:report/make', {
      params: { report: f.report },
      body: { contacts: [f.contact] },
    });
    await fixture.server.scheduler.settle();
    const edition = { edition: made.body.editionId };
    expect((await fixture.owner.ask('GET /api/editions/:edition', { params: edition })).body).toMatchObject({
      state: 'held',
      reason: /was deleted: a segment/,
    });
    // Whoever edits it is not kept from doing so by what is gone.
    expect((await report.edit({ op: 'title', title: 'Overview' })).status).toBe(200);
  });
});
