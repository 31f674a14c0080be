import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CLIENT, furnish, openTestFixture, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let client: string;

beforeAll(async () => {
  fixture = await openTestFixture('2026-11-02T08:42:00Z');
  client = (await fixture.owner.ask('POST /api/clients', { body: CLIENT })).body.id;
});
afterAll(() => fixture.close());

const own = (label: string, more: object = {}) => ({ label, unit: 'count', polarity: 'higher', kind: 'sum', ...more });
const make = (name: string, grain: string, metrics: object[], of = client) =>
  fixture.owner.ask('POST /api/clients/:client/typed', { params: { client: of }, body: { name, grain, metrics } });
const gridOf = async (feed: string, year = 2026) =>
  (
    await fixture.owner.ask('GET /api/clients/:client/feeds/:feed/grid', {
      params: { client, feed },
      query: { year: String(year) },
    })
  ).body;
const fill = (feed: string, ...cells: [start: string, metric: string, value: number | null][]) =>
  fixture.owner.ask('PUT /api/clients/:client/feeds/:feed/grid', {
    params: { client, feed },
    body: { cells: cells.map(([start, metric, value]) => ({ start, metric, value })) },
  });
const total = async (metric: string, period: string) => {
  const query = { metrics: metric, period, compare: 'none' };
  const { body } = await fixture.owner.ask('GET /api/clients/:client/figures', { params: { client }, query });
  return body.totals[0]!.current;
};

describe('figures that are typed in', () => {
  it('count for whole months, one unknown beside one known, and can be emptied again', async () => {
    const { feed } = (await make('Shop', 'month', [own('Shop sales', { unit: 'money' }), own('Calls taken')])).body;
    const { columns, rows } = await gridOf(feed);
    expect(columns.map((c) => c.metric)).toEqual(['shopSales', 'callsTaken']);
    expect(rows.map((r) => r.over)).toEqual([...Array(10).fill(true), false, false]);
    await fill(
      feed,
      ['2026-09-01', 'shopSales', 1200.5],
      ['2026-10-01', 'shopSales', 900],
      ['2026-10-01', 'callsTaken', 40],
    );
    expect((await gridOf(feed)).rows[9]!.values).toEqual([900, 40]);
    expect(await total('shopSales', '2026-09-01..2026-10-31')).toEqual({ value: 2100.5 });
    // Nobody said how many calls September had: that is not zero.
    expect(await total('callsTaken', '2026-09-01..2026-10-31')).toMatchObject({ value: 40, partial: true });
    expect(await total('shopSales', '2026-10-05..2026-10-11')).toEqual({ na: 'coarser' });
    await fill(feed, ['2026-09-01', 'shopSales', null]);
    expect((await gridOf(feed)).rows[8]!.values).toEqual([null, null]);
    expect(await total('shopSales', '2026-09-01..2026-09-30')).toEqual({ na: 'not-covered' });
  });

  it('by week begin on the client’s weekday; a level is as of the week’s end', async () => {
    const metrics = [own('Footfall'), own('Members', { kind: 'level' })];
    const { feed } = (await make('Door', 'week', metrics)).body;
    const { rows } = await gridOf(feed);
    expect(rows[0]!.start).toBe('2026-01-05');
    await fill(feed, ['2026-10-19', 'footfall', 70], ['2026-10-19', 'members', 300], ['2026-10-26', 'members', 310]);
    expect(await total('footfall', '2026-10-19..2026-10-25')).toEqual({ value: 70 });
    expect(await total('members', '2026-10-19..2026-11-01')).toEqual({ value: 310 });
    expect((await gridOf(feed)).rows.find((r) => r.start === '2026-10-19')!.values).toEqual([70, 300]);
  });

  it('are refused where they make no sense, all or none, at the cell', async () => {
    const { feed } = (await make('Odd', 'month', [own('Visitors counted')])).body;
    const bad: [string, string, number | null][] = [
      ['2026-10-02', 'visitorsCounted', 1],
      ['2026-11-01', 'visitorsCounted', 1],
      ['2026-10-01', 'revenue', 1],
      ['2026-10-01', 'visitorsCounted', -1],
    ];
    for (const cell of bad) {
      const refused = await fill(feed, ['2026-09-01', 'visitorsCounted', 5], cell);
      expect([cell, refused.status, Object.keys(refused.fields)]).toEqual([cell, 422, ['cells.1']]);
    }
    expect((await gridOf(feed)).rows[8]!.values).toEqual([null]);
  });

  it('may be a standard figure, but none that is made from others or that a feed brings', async () => {
    const { client: fed } = await furnish(fixture);
    const brought = await make('Shop', 'month', [{ ...own(''), metric: 'revenue' }], fed);
    expect(brought.fields['metrics.0']).toContain('already has this.');
    const made = await make('Rates', 'month', [{ ...own(''), metric: 'answerRate' }], fed);
    expect(made.fields['metrics.0']).toContain('This metric is calculated from others, so it can’t be entered.');
    const calls = await make('Book', 'month', [{ ...own(''), metric: 'calls' }], fed);
    expect(calls.status).toBe(200);
    expect((await make('Book', 'month', [own('X')], fed)).fields.name).toContain('already');
  });
});
