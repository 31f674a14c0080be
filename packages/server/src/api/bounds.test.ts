import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterAll(() => fixture.close());

const params = () => ({ client: f.client });

describe('dates, ranges and numbers beyond bounds', () => {
  it('are refused at their field, at every route that takes them', async () => {
    const { owner } = fixture;
    const schedule = (change: object) =>
      owner.ask('POST /api/clients/:client/schedules', { params: params(), body: { ...scheduleFor(f), ...change } });
    const yearly = { freq: 'yearly', month: 12, on: { day: 1 } };
    expect((await schedule({ rule: yearly, firstDate: '9999-12-01' })).fields.firstDate).toContain(
      'between 1970 and 2200',
    );
    const long = { kind: 'fixed', from: '1999-01-01', to: '2026-01-01' };
    expect((await schedule({ period: long })).fields['period.to']).toContain('at most 20 years');
    expect((await schedule({ readers: Array(201).fill('co_x') })).fields.readers).toContain('at most 200');
    const note = { from: '0001-01-01', to: '9999-12-31', text: 'for ever', inReports: true };
    expect(
      (await owner.ask('POST /api/clients/:client/notes', { params: params(), body: note })).fields,
    ).toHaveProperty('from');
    const target = { metric: 'visits', span: 'month', from: '9999-12', repeats: true, value: 1 };
    expect(
      (await owner.ask('POST /api/clients/:client/targets', { params: params(), body: target })).fields.from,
    ).toContain('between 1970 and 2200');
    const large = { ...target, from: '2026-10', value: 1e300 };
    expect(
      (await owner.ask('POST /api/clients/:client/targets', { params: params(), body: large })).fields.value,
    ).toContain('too large');
    const figures = (query: Record<string, string>) =>
      owner.ask('GET /api/clients/:client/figures', { params: params(), query: { metrics: 'visits', ...query } });
    expect((await figures({ period: '1970-01-01..2026-01-01' })).status).toBe(422);
    expect((await figures({ period: '2026-13-99..2027-01-01' })).status).toBe(422);
    expect((await figures({ period: '2007-01-01..2026-12-31', step: 'day' })).fields.step).toContain(
      'More than 2000 points',
    );
    expect((await figures({ period: '2007-01-01..2026-12-31' })).status).toBe(200);
  });

  it('stop a file of more columns than any table of figures has', async () => {
    const head = `date,${Array.from({ length: 3_000 }, (_, i) => `c${i}`).join(',')}`;
    const sent = await fixture.owner.raw(`/api/clients/${f.client}/imports?name=wide.csv`, {
      method: 'PUT',
      body: `${head}\n2026-10-01${',1'.repeat(3_000)}\n`,
    });
    expect(await sent.json()).toMatchObject({
      state: 'refused',
      problem: expect.stringContaining('more than 2,000 columns'),
    });
  });

  it('of a request that cannot be read are the asker’s fault, never the server’s', async () => {
    for (const path of [
      '/api/clients/%ff',
      '/api/editions/%E0%A4%A',
      '/api/editions?client=a&client=b',
      '/api/editions?page=1e99',
    ]) {
      const { status } = await fixture.owner.raw(path);
      expect(status).toBeGreaterThanOrEqual(400);
      expect(status).toBeLessThan(500);
    }
    const broken = await fixture.owner.raw('/api/clients', {
      method: 'POST',
      body: '{',
      headers: { 'content-type': 'application/json' },
    });
    expect(broken.status).toBe(400);
  });
});

describe('rows that were stored before there were bounds', () => {
  it('stop no screen, no start and no other client', async () => {
    const { store } = fixture.server;
    const at = fixture.server.clock.now();
    const made = await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: params(),
      body: scheduleFor(f),
    });
    await store
      .updateTable('schedule')
      .set({
        rule: JSON.stringify({ freq: 'yearly', month: 12, on: { day: 1 } }),
        first_date: '9999-12-01',
        period: JSON.stringify({ kind: 'fixed', from: '0001-01-01', to: '9999-12-31' }),
        next_look: at,
      })
      .where('id', '=', made.body.id)
      .execute();
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params: params(), body: scheduleFor(f) });
    const { id: memberId } = await store.selectFrom('member').select('id').executeTakeFirstOrThrow();
    await store
      .insertInto('day_note')
      .values({
        id: 'no_old',
        client_id: f.client,
        first: '0001-01-01',
        last: '9999-12-31',
        text: 'for ever',
        in_reports: 1,
        made_by: memberId,
        created_at: at,
      })
      .execute();
    await store
      .insertInto('target')
      .values({
        id: 'ta_old',
        client_id: f.client,
        metric: 'visits',
        span: 'month',
        start: '9999-12',
        repeats: 0,
        value: 5,
      })
      .execute();
    const own = Array.from({ length: 60 }, (_, i) => ({
      key: `m${i}`,
      label: `m${i}`,
      unit: 'count',
      polarity: 'neutral',
      formula: i === 0 ? 'visits + visits' : `m${i - 1} + m${i - 1}`,
      definition: '',
    }));
    await store
      .updateTable('client')
      .set({ metrics: JSON.stringify({ changed: {}, own }) })
      .execute();

    await fixture.restart();
    for (const path of [
      '/api/desk',
      '/api/clients',
      `/api/clients/${f.client}/targets`,
      `/api/clients/${f.client}/schedules`,
      `/api/clients/${f.client}/notes`,
      `/api/clients/${f.client}/figures?metrics=m59,visits&period=month.-1`,
      `/api/reports/${f.report}`,
      `/api/reports/${f.report}/runs`,
    ]) {
      const response = await fixture.owner.raw(path);
      expect([path, response.status]).toEqual([path, 200]);
    }
    const preview = await fixture.owner.ask('POST /api/reports/:report/preview', { params: { report: f.report } });
    expect(preview.status).toBe(200);
    // The other schedule of the same client goes out all the same.
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect(fixture.simulators.mails.list()).toHaveLength(1);
  });
});
