import type { FileMapping } from '@chronicon/core/feeds';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterAll(() => fixture.close());

const ask: TestFixture['owner']['ask'] = (...args) => fixture.owner.ask(...args);
const client = () => ({ client: f.client });

/** Brings a file whose columns are called as members of every object are. @returns the names of its figures and breakdowns */
async function bring(columns: readonly string[]): Promise<FileMapping> {
  const rows = ['2026-10-01', '2026-10-02', '2026-10-03'].map((d, i) =>
    [d, ...columns.map((_, c) => (c === 0 ? 'valueOf' : `${c + i}`))].join(','),
  );
  const put = await fixture.owner.raw(`/api/clients/${f.client}/imports?name=odd.csv`, {
    method: 'PUT',
    body: `day,${columns.join(',')}\n${rows.join('\n')}\n`,
  });
  const { id } = (await put.json()) as { id: string };
  const params = { ...client(), import: id };
  await fixture.server.imports.idle();
  const seen = (await ask('GET /api/clients/:client/imports/:import', { params })).body;
  const { mapping } = seen.inspection!;
  const metrics = Object.values(mapping.columns).flatMap((use) =>
    use.as === 'measure' ? { key: use.key, label: use.key, unit: 'count', polarity: 'higher', kind: 'sum' } : [],
  );
  const body = { mapping, feed: null, name: 'Odd names', metrics };
  const begun = await ask('POST /api/clients/:client/imports/:import/begin', { params, body });
  expect(begun.status, JSON.stringify(begun.body)).toBe(200);
  await fixture.server.imports.idle();
  expect((await ask('GET /api/clients/:client/imports/:import', { params })).body).toMatchObject({
    state: 'done',
    bad: 0,
  });
  return mapping;
}

describe('names of Object’s members', () => {
  it('name figures that are typed in', async () => {
    const sum = { unit: 'count', polarity: 'higher', kind: 'sum' };
    const metrics = ['toLocaleString', 'constructor'].map((label) => ({ label, ...sum }));
    const made = await ask('POST /api/clients/:client/typed', {
      params: client(),
      body: { name: 'Typed', grain: 'month', metrics } as never,
    });
    expect(made.status).toBe(200);
    const offered = (await ask('GET /api/clients/:client/metrics', { params: client() })).body.metrics;
    expect(offered.filter((m) => m.field === 'own').map((m) => m.label)).toEqual(['toLocaleString', 'constructor']);
  });

  it('are names like any other: of columns, figures, breakdowns, values, blocks and segments', async () => {
    const mapping = await bring(['constructor', 'toString', 'hasOwnProperty', 'isPrototypeOf']);
    const keyOf = (name: string) => {
      const use = mapping.columns[name]!;
      return 'key' in use ? use.key : '';
    };
    const [dimension, metric] = [keyOf('constructor'), keyOf('toString')];
    const query = { metrics: metric, period: '2026-10-01..2026-10-03', compare: 'none' };
    const figures = async (more: Record<string, string> = {}) =>
      ask('GET /api/clients/:client/figures', { params: client(), query: { ...query, ...more } });
    expect((await figures()).body.totals[0]!.current).toEqual({ value: 6 });
    const by = (await figures({ by: dimension })).body.breakdown!;
    expect(by.rows.map((r) => [r.label, r.cells[0]!.current])).toEqual([['valueOf', { value: 6 }]]);
    expect((await figures({ filter: `${dimension}=valueOf` })).body.totals[0]!.current).toEqual({ value: 6 });
    expect((await figures({ filter: 'toLocaleString=x' })).status).toBeLessThan(500);

    const segment = await ask('POST /api/clients/:client/segments', {
      params: client(),
      body: { name: 'constructor', parts: [{ dimension: 'device', how: 'only', values: ['valueOf'] }] },
    });
    expect(segment.status).toBe(200);
    const params = { report: f.report };
    const { body: report } = await ask('GET /api/reports/:report', { params });
    const { document, version } = report;
    const [page] = document.pages;
    const renamed = (id: string) => {
      const [row] = page!.rows;
      return { ...page!, rows: [{ ...row!, blocks: row!.blocks.map((block) => ({ ...block, id })) }] };
    };
    for (const id of ['constructor', '__proto__', 'toString']) {
      const body = { title: report.title, document: { ...document, pages: [renamed(id)] }, version };
      expect((await ask('PUT /api/reports/:report', { params, body })).status).toBe(422);
    }
  });

  it('of nothing that is there are refused in words, whatever they stand for', async () => {
    const params = client();
    for (const name of ['constructor', '__proto__', 'toString', 'hasOwnProperty']) {
      for (const [route, query] of [
        ['figures', { metrics: name, period: 'month.-1' }],
        ['figures', { metrics: 'visits', period: 'month.-1', by: name }],
        ['figures', { metrics: 'visits', period: 'month.-1', filter: `${name}=x` }],
        [
          'figures/why',
          { metric: 'visits', by: 'channel', period: 'month.-1', compare: 'previous', filter: `${name}=x` },
        ],
        ['figures/why', { metric: 'visits', by: name, period: 'month.-1', compare: 'previous' }],
        ['figures/explain', { metric: name, from: '2026-10-01', to: '2026-10-31' }],
        ['figures/explain', { metric: 'visits', from: '2026-10-01', to: '2026-10-31', filter: `${name}=x` }],
        ['figures/rows', { metric: 'visits', from: '2026-10-01', to: '2026-10-31', filter: `${name}=x` }],
        ['figures/rhythm', { metric: 'visits', from: '2026-10-01', to: '2026-10-31', filter: `${name}=x` }],
        ['figures/table', { as: 'csv', metrics: 'visits', period: 'month.-1', filter: `${name}=x` }],
        ['figures/table', { as: name, metrics: 'visits', period: 'month.-1' }],
        ['labels', { dimension: name }],
      ] as [string, Record<string, string>][]) {
        const { status } = await fixture.owner.raw(`/api/clients/${f.client}/${route}?${new URLSearchParams(query)}`);
        expect([route, query, status < 500]).toEqual([route, query, true]);
      }
      const target = { metric: name, span: 'month', from: '2026-10', repeats: true, value: 1 };
      expect((await ask('POST /api/clients/:client/targets', { params, body: target })).status).toBeLessThan(500);
      const body = scheduleFor(f, { filter: [{ dimension: name, how: 'only', values: ['x'] }] });
      expect((await ask('POST /api/clients/:client/schedules', { params, body })).status).toBeLessThan(500);
    }
  });
});
