import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { editing, OCTOBER, pageOf } from '../test/editing.ts';
import { CLIENT, type Furnished, memberOf, openFurnishedFixture, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let other: string;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  other = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quillon Cycle Works' } })).body.id;
});
afterEach(() => fixture.close());

const METRIC = {
  key: 'pagesEach',
  label: 'Pages each',
  unit: 'decimal' as const,
  polarity: 'higher' as const,
  formula: 'pageViews / visits',
  definition: 'How far people look around.',
};
const add = (changes: Record<string, unknown> = {}, who = fixture.owner) =>
  who.ask('POST /api/clients/:client/own-metrics', {
    params: { client: f.client },
    body: { ...METRIC, shared: true, ...changes },
  });
const offered = async (client: string) =>
  (await fixture.owner.ask('GET /api/clients/:client/metrics', { params: { client } })).body.metrics.find(
    (m) => m.key === METRIC.key,
  );
const params = () => ({ client: f.client, metric: METRIC.key });

describe('a metric for all clients', () => {
  it('is there for each, and has figures where its parts are brought', async () => {
    expect((await add()).status).toBe(200);
    expect(await offered(f.client)).toMatchObject({ shared: true, available: true, label: 'Pages each' });
    expect(await offered(other)).toMatchObject({ shared: true, available: false });
    const report = editing(fixture, f);
    await report.edit(pageOf('each', { kind: 'kpiRow', id: 'k', metrics: ['pagesEach'] }));
    const { body } = await fixture.owner.ask('POST /api/reports/:report/preview', {
      params: { report: f.report },
      body: { look: OCTOBER },
    });
    const texts = body.pages.flatMap((p) => p.page!.ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])));
    expect(texts).toContain('Pages each');
    // Whatever is saved of the client leaves it with the agency.
    await fixture.owner.ask('PUT /api/clients/:client/names', {
      params: { client: f.client },
      body: { dimension: 'channel', label: 'Email', name: 'Letters' },
    });
    expect(await offered(other)).toMatchObject({ shared: true });
    expect(
      (
        await fixture.owner.ask('PUT /api/clients/:client/own-metrics/:metric', {
          params: params(),
          body: { ...METRIC, label: 'Pages a visit' },
        })
      ).status,
    ).toBe(200);
    expect((await offered(other))!.label).toBe('Pages a visit');
  });

  it('is taken away when no client uses it, and it is said where one does', async () => {
    await add();
    const report = editing(fixture, f);
    await report.edit(pageOf('each', { kind: 'kpiRow', id: 'k', metrics: ['pagesEach'] }));
    const remove = () =>
      fixture.owner.ask('DELETE /api/clients/:client/own-metrics/:metric', { params: { ...params(), client: other } });
    expect((await remove()).fields.metric).toContain('of Tarnbeck Pottery');
    await report.edit({ op: 'removePage', page: 'each' });
    expect((await remove()).status).toBe(200);
    expect(await offered(f.client)).toBeUndefined();
  });

  it('is an owner’s; made of what every client may have; and no other’s by its key', async () => {
    const manager = await memberOf(fixture, 'kell@fernglass.example', 'manager', [f.client]);
    expect((await add({}, manager)).status).toBe(403);
    const ownOf = (client: string, changes: Record<string, unknown>) =>
      fixture.owner.ask('POST /api/clients/:client/own-metrics', {
        params: { client },
        body: { ...METRIC, ...changes },
      });
    expect((await ownOf(other, { key: 'perVisit', formula: 'orders / visits' })).status).toBe(200);
    expect((await add({ key: 'perVisit' })).fields.key).toBe('Quillon Cycle Works has its own metric with this key.');
    expect((await add({ formula: 'perVisit * 2' })).fields.formula).toContain('standard metrics');
    expect((await add({ key: 'visits' })).status).toBe(422);
    await add();
    expect((await ownOf(other, {})).fields.key).toContain('already');
    expect((await ownOf(other, { key: 'twice', formula: 'pagesEach * 2' })).status).toBe(200);
    expect((await manager.ask('DELETE /api/clients/:client/own-metrics/:metric', { params: params() })).status).toBe(
      403,
    );
    expect(
      (await fixture.owner.ask('DELETE /api/clients/:client/own-metrics/:metric', { params: params() })).fields.metric,
    ).toContain('the metric Pages each of Quillon Cycle Works');
  });
});
