import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { editing, pageOf, readOn } from '../test/editing.ts';
import { type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let report: ReturnType<typeof editing>;

const MARGIN = { key: 'margin', label: 'Margin', unit: 'percent', value: 0.25 };
const RESULT = {
  key: 'result',
  label: 'Result',
  unit: 'money',
  polarity: 'higher',
  formula: 'revenue * margin',
  definition: '',
} as const;
const keep = (metric: object = RESULT) =>
  fixture.owner.ask('POST /api/clients/:client/own-metrics', {
    params: { client: f.client },
    body: metric as typeof RESULT,
  });
const figure = async (metric: string) => {
  const query = { metrics: metric, period: 'month.-1' };
  const { body } = await fixture.owner.ask('GET /api/clients/:client/figures', { params: { client: f.client }, query });
  return (body.totals[0]!.current as { value: number }).value;
};
/** As the page writes it. */
const pounds = (value: number) =>
  `£${value.toLocaleString('en-GB', value < 1000 ? { minimumFractionDigits: 2, maximumFractionDigits: 2 } : { maximumFractionDigits: 0 })}`;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  report = editing(fixture, f);
});
afterAll(() => fixture.close());

describe('what a report assumes', () => {
  it('is named before a formula reads it', async () => {
    expect((await keep()).fields.formula).toMatch(/margin/);
    expect((await report.edit({ op: 'assumptions', assumptions: [MARGIN] })).status).toBe(200);
    expect((await keep()).status).toBe(200);
  });

  it('shares its key with no metric, whichever comes first', async () => {
    expect((await keep({ ...RESULT, key: 'margin', formula: 'revenue / visits' })).fields.key).toMatch(
      /has an assumption with this key/,
    );
    const asMetric = { ...MARGIN, key: 'revenue' };
    const refused = await report.edit({ op: 'assumptions', assumptions: [asMetric] });
    expect(JSON.stringify(refused.fields)).toMatch(/metric with this key already exists: revenue/);
  });

  it('is refused twice under one key, and under a name that is none', async () => {
    const twice = await report.edit({ op: 'assumptions', assumptions: [MARGIN, { ...MARGIN, label: 'Other' }] });
    expect(twice).toMatchObject({ status: 422 });
    expect(JSON.stringify(twice.fields)).toMatch(/same key/);
    expect((await report.edit({ op: 'assumptions', assumptions: [{ ...MARGIN, label: ' ' }] })).status).toBe(422);
    expect((await report.load()).document.assumptions).toEqual([MARGIN]);
  });

  it('stands in Figures and on the page, each value as it is by default', async () => {
    const revenue = await figure('revenue');
    expect(await figure('result')).toBeCloseTo(revenue / 4, 6);
    await report.edit(pageOf('result', { kind: 'kpi', id: 'k', metric: 'result' }));
    expect((await report.shows()).texts).toContain(pounds(revenue / 4));
  });

  it('changes with the report before anything is saved twice', async () => {
    const revenue = await figure('revenue');
    await report.edit({ op: 'assumptions', assumptions: [{ ...MARGIN, value: 0.5 }] });
    expect((await report.shows()).texts).toContain(pounds(revenue / 2));
    await report.edit({ op: 'assumptions', assumptions: [MARGIN] });
    expect((await report.shows()).texts).toContain(pounds(revenue / 4));
  });

  it('is set anew by a schedule, for what it looks at, makes and mails, and for nobody else', async () => {
    const revenue = await figure('revenue');
    await report.edit(pageOf('if', { kind: 'whatIf', id: 'w', metrics: ['result', 'revenue'], title: '' }));
    expect((await report.release()).status).toBe(200);
    const params = { client: f.client };
    const input = scheduleFor(f, { assumed: { margin: 0.1 }, message: 'It came to {{figure.result}}.' });
    const strange = await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params,
      body: { ...input, assumed: { marge: 0.1 } },
    });
    expect(strange.fields.assumed).toBe('The report has no assumption called marge.');
    const { id } = (await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: input })).body;
    await fixture.server.scheduler.settle();

    const [run] = (await fixture.owner.ask('GET /api/reports/:report/runs', { params: { report: f.report } })).body;
    const { texts } = await report.shows({ kind: 'run', schedule: id, nominal: run!.nominal });
    expect(texts).toContain(pounds(revenue / 10));
    // The What-if block says both, and which is which.
    expect(texts).toContain(pounds(revenue / 4));
    expect(texts.join(' ').replace(/\s+/g, ' ')).toMatch(/Margin 10\.0% \(typically 25\.0%\)/);
    expect((await report.shows()).texts).not.toContain(pounds(revenue / 10));

    const made = await fixture.owner.ask('POST /api/schedules/:schedule/make', { params: { schedule: id } });
    await fixture.server.scheduler.settle();
    const edition = { edition: made.body.editionId };
    const { body: review } = await fixture.owner.ask('GET /api/editions/:edition/review', { params: edition });
    expect(readOn(review.pages)).toContain(pounds(revenue / 10));
    expect(review.mails[0]!.text).toContain(pounds(revenue / 10));
  });

  it('that a report no longer has leaves its schedules able to be changed', async () => {
    const [schedule] = (await fixture.owner.ask('GET /api/clients/:client/schedules', { params: { client: f.client } }))
      .body;
    const params = { schedule: schedule!.id };
    const { document } = await report.load();
    const used = document.pages
      .flatMap((p) => p.rows.flatMap((r) => r.blocks))
      .filter((b) => ['k', 'w'].includes(b.id));
    await report.edit(...used.map((b) => ({ op: 'removeBlock', block: b.id })), { op: 'assumptions', assumptions: [] });
    expect((await report.release()).status).toBe(200);
    // The mail no longer names what nothing can be said of.
    const input = { ...schedule!.input, message: 'Here it is.', time: '09:00' };
    const body = { ...input, assumed: { ...input.assumed, other: 1 } };
    const refused = await fixture.owner.ask('PUT /api/schedules/:schedule', { params, body });
    expect(refused.fields.assumed).toMatch(/other/);
    const saved = await fixture.owner.ask('PUT /api/schedules/:schedule', { params, body: input });
    expect(saved.status).toBe(200);
    expect(saved.body.input).toMatchObject({ time: '09:00', assumed: {} });
  });
});
