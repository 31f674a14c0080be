import { FILTER_VALUES } from '@chronicon/core/bounds';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { editing, pageOf } from '../test/editing.ts';
import { type Furnished, openFurnishedFixture, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let report: ReturnType<typeof editing>;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  report = editing(fixture, f);
});
afterAll(() => fixture.close());

const kpis = (id: string, more: object = {}) => ({ kind: 'kpiRow', id, metrics: ['visits'], ...more });
const visits = async (period: string, filter = '') => {
  const query = { metrics: 'visits', period, filter };
  const { body } = await fixture.owner.ask('GET /api/clients/:client/figures', { params: { client: f.client }, query });
  return (body.totals[0]!.current as { value: number }).value.toLocaleString('en-GB');
};
const tidy = (texts: string[]) => texts.join(' ').replace(/\s+/g, ' ');

describe('a block with dates of its own', () => {
  it('counts what Figures counts for them, says which they are, and leaves the others alone', async () => {
    await report.edit(
      pageOf('weeks', kpis('plain'), kpis('own', { period: { kind: 'fixed', from: '2026-09-07', to: '2026-09-13' } })),
    );
    const { texts } = await report.shows();
    expect(texts).toContain(await visits('2026-09-07..2026-09-13'));
    expect(texts).toContain(await visits('2026-10-01..2026-10-31'));
    expect(tidy(texts)).toContain('7–13 September 2026');
  });

  it('goes with what is looked at where they hang on the day', async () => {
    await report.edit({ op: 'setBlock', block: 'own', set: { period: { kind: 'rolling', days: 7 } } });
    // The seven days before today: the 26th of October to the 1st of November.
    expect(tidy((await report.shows()).texts)).toContain('26 October – 1 November 2026');
    await report.edit({ op: 'setBlock', block: 'own', set: { period: null } });
    expect(tidy((await report.shows()).texts)).not.toContain('26 October – 1 November 2026');
  });

  it('may be held against something else than the report, or against nothing', async () => {
    await report.edit({ op: 'setBlock', block: 'own', set: { comparison: { kind: 'lastYear' } } });
    expect(tidy((await report.shows()).texts)).toContain('vs October 2025');
    await report.edit({ op: 'setBlock', block: 'own', set: { comparison: { kind: 'none' } } });
    expect(tidy((await report.shows()).texts)).not.toContain('vs October 2025');
    await report.edit({ op: 'setBlock', block: 'own', set: { comparison: null } });
  });

  it('is refused dates that end before they begin, at the block', async () => {
    const period = { kind: 'fixed', from: '2026-09-13', to: '2026-09-07' };
    const refused = await report.edit({ op: 'setBlock', block: 'own', set: { period } });
    expect(refused.status).toBe(422);
    expect(JSON.stringify(refused.fields)).toMatch(/period/);
  });
});

describe('a block with a filter of its own', () => {
  it.each([
    ['only these', { dimension: 'channel', how: 'only', values: ['Email'] }, 'channel=Email'],
    ['all but these', { dimension: 'channel', how: 'except', values: ['Email', 'Direct'] }, 'channel!=Email,Direct'],
    ['those that contain it', { dimension: 'channel', how: 'contains', values: ['SEARCH'] }, 'channel~=search'],
    ['those that lack it', { dimension: 'channel', how: 'lacks', values: ['search'] }, 'channel!~=search'],
  ])('counts %s, as Figures does', async (_, part, asFigures) => {
    expect((await report.edit({ op: 'setBlock', block: 'own', set: { filter: [part] } })).status).toBe(200);
    const value = await visits('2026-10-01..2026-10-31', asFigures);
    expect(value).not.toBe(await visits('2026-10-01..2026-10-31'));
    expect((await report.shows()).texts).toContain(value);
  });

  it('is refused an empty text to look for, too many values, and what is no dimension, in words', async () => {
    const refused = async (part: object) =>
      JSON.stringify((await report.edit({ op: 'setBlock', block: 'own', set: { filter: [part] } })).fields);
    const many = Array.from({ length: FILTER_VALUES + 1 }, (_, i) => `v${i}`);
    expect(await refused({ dimension: 'channel', how: 'contains', values: [' '] })).toMatch(/Enter a text to match\./);
    expect(await refused({ dimension: 'channel', how: 'only', values: many })).toContain(`${FILTER_VALUES} values`);
    expect(await refused({ dimension: 'plot', how: 'only', values: ['B'] })).toMatch(/Dimension not found\./);
    expect(await refused({ dimension: 'segment', how: 'except', values: ['sg_1'] })).toMatch(
      /Segments can’t be changed here\./,
    );
    // No name is a value like others.
    expect(await refused({ dimension: 'channel', how: 'only', values: [''] })).toBe('{}');
    await report.edit({ op: 'setBlock', block: 'own', set: { filter: null } });
  });

  it('takes the report’s own place of it away again', async () => {
    await report.edit({ op: 'setBlock', block: 'own', set: { filter: null } });
    const value = await visits('2026-10-01..2026-10-31', 'channel=Email');
    await report.edit({ op: 'filter', filter: [{ dimension: 'channel', how: 'only', values: ['Email'] }] });
    const { texts } = await report.shows();
    expect(texts.filter((t) => t === value).length).toBeGreaterThan(1);
    await report.edit({ op: 'filter', filter: [] });
    expect((await report.shows()).texts).not.toContain(value);
  });
});

describe('what stands on condition', () => {
  it('is left out without figures, and there with them', async () => {
    const spend = { kind: 'kpiRow', id: 'spend', metrics: ['adCost'] };
    expect(await report.edit(pageOf('ads', spend))).toMatchObject({ status: 200 });
    expect((await report.shows()).texts).toContain('Ad spend');
    await report.edit({ op: 'setBlock', block: 'spend', set: { when: 'withFigures' } });
    expect((await report.shows()).texts).not.toContain('Ad spend');
    await report.edit({ op: 'setBlock', block: 'own', set: { when: 'withFigures' } });
    expect((await report.shows()).texts).toContain('Visits');
  });

  it('is dropped with its page, and comes back with it', async () => {
    const all = await report.shows();
    await report.edit({ op: 'dropPage', page: 'weeks', dropped: true });
    const less = await report.shows();
    expect(less.sheets).toBe(all.sheets - 1);
    await report.edit({ op: 'dropPage', page: 'weeks', dropped: false });
    expect(await report.shows()).toEqual(all);
  });
});

describe('a metric that is gone while a report shows it', () => {
  const metric = {
    key: 'perDay',
    label: 'Visits a day',
    unit: 'decimal',
    polarity: 'higher',
    formula: 'visits / 31',
    definition: '',
  } as const;

  it('cannot be taken away under the report’s feet', async () => {
    const params = { client: f.client };
    await fixture.owner.ask('POST /api/clients/:client/own-metrics', { params, body: metric });
    await report.edit(pageOf('gone', { kind: 'kpi', id: 'perDay', metric: 'perDay' }));
    const refused = await fixture.owner.ask('DELETE /api/clients/:client/own-metrics/:metric', {
      params: { ...params, metric: 'perDay' },
    });
    expect(refused).toMatchObject({ status: 422, fields: { metric: /Monthly overview/ } });
  });

  it('after last night’s copy says so in its place, breaks nothing else, and keeps nobody from editing', async () => {
    // As a copy of before would be, restored without it.
    const { metrics } = (await fixture.server.store
      .selectFrom('client')
      .select('metrics')
      .where('id', '=', f.client)
      .executeTakeFirstOrThrow()) as { metrics: string };
    const without = { ...JSON.parse(metrics), own: [] };
    await fixture.server.store
      .updateTable('client')
      .set({ metrics: JSON.stringify(without) })
      .where('id', '=', f.client)
      .execute();
    const { texts, lacks } = await report.shows();
    expect(texts).toContain('No longer available: perDay.');
    expect(texts).toContain('Visits');
    expect(lacks.join(' ')).toMatch(/was deleted/);
    expect((await report.edit({ op: 'title', title: 'October' })).status).toBe(200);
    // Only what asks for it anew is refused.
    const anew = await report.edit(pageOf('again', { kind: 'kpi', id: 'again', metric: 'perDay' }));
    expect(anew.status).toBe(422);
  });
});
