import type { Figures } from '@chronicon/core/contract';
import type { ScenePage } from '@chronicon/core/page';
import { DEMO_TOKEN } from '@chronicon/simulators';
import Papa from 'papaparse';
import readXlsx from 'read-excel-file/node';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { replaceDays, saveDataset } from '../facts/factStore.ts';
import { archiveOf } from '../test/archive.ts';
import {
  ACCOUNT,
  type Furnished,
  furnish,
  openTestFixture,
  REVIEWER,
  type TestFixture,
  visit,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeAll(async () => {
  fixture = await openTestFixture();
  f = await furnish(fixture);
});
afterAll(() => fixture.close());

const params = () => ({ client: f.client });
const OCTOBER = { from: '2026-10-01', to: '2026-10-31' };
const figures = async (query: Record<string, string>): Promise<Figures> => {
  const { status, body } = await fixture.owner.ask('GET /api/clients/:client/figures', {
    params: params(),
    query: { metrics: 'visits', period: 'month.-1', ...query },
  });
  if (status !== 200) throw new Error(JSON.stringify(body));
  return body;
};
const known = (v: unknown): number => (v as { value: number }).value;

/** The service's own rows, asked over HTTP as the feed does. */
async function rawRows(from: string, to: string): Promise<Record<string, string | number>[]> {
  const url = `${fixture.simulators.url}/services/web-analytics/v1/accounts/${ACCOUNT}/datasets/visits/rows?from=${from}&to=${to}&cursor=0`;
  const reply = await fetch(url, { headers: { authorization: `Bearer ${DEMO_TOKEN}` } });
  const { columns, rows, next } = (await reply.json()) as {
    columns: string[];
    rows: (string | number)[][];
    next: null;
  };
  expect(next).toBeNull();
  return rows.map((r) => Object.fromEntries(columns.map((c, i) => [c, r[i]!])));
}
const sum = (rows: Record<string, string | number>[], measure: string) =>
  rows.reduce((n, r) => n + (r[measure] as number), 0);

const table = (query: Record<string, string>) =>
  fixture.owner.raw(
    `/api/clients/${f.client}/figures/table?${new URLSearchParams({ metrics: 'visits', period: 'month.-1', ...query })}`,
  );

async function previewTexts(): Promise<string> {
  const { body } = await fixture.owner.ask('POST /api/reports/:report/preview', {
    params: { report: f.report },
    body: {},
  });
  return body.pages
    .flatMap((p) => (p.page as ScenePage).ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : [])))
    .join(' ');
}

describe('figures', () => {
  it('are the sums of the service’s own rows: in total, filtered either way, day by day, and by label', async () => {
    const rows = await rawRows(OCTOBER.from, OCTOBER.to);
    const mobile = rows.filter((r) => r.device === 'Mobile');
    expect(known((await figures({})).totals[0]!.current)).toBe(sum(rows, 'visits'));
    expect(known((await figures({ filter: 'device=Mobile' })).totals[0]!.current)).toBe(sum(mobile, 'visits'));
    const others = await figures({ filter: 'device!=Mobile', metrics: 'visits,orderRate' });
    expect(known(others.totals[0]!.current)).toBe(sum(rows, 'visits') - sum(mobile, 'visits'));
    const daily = await figures({ step: 'day' });
    expect(daily.series!.lines[0]!.current.map(known).reduce((n, v) => n + v, 0)).toBe(sum(rows, 'visits'));
    const byChannel = await figures({ by: 'channel', metrics: 'revenue', n: '3' });
    for (const row of byChannel.breakdown!.rows) {
      const own = rows.filter((r) => r.channel === row.label);
      expect(known(row.cells[0]!.current)).toBeCloseTo(sum(own, 'revenue'), 6);
    }
    const parts = [...byChannel.breakdown!.rows.map((r) => r.cells), byChannel.breakdown!.other!];
    const whole = parts.reduce((n, cells) => n + known(cells[0]!.current), 0);
    expect(whole).toBeCloseTo(sum(rows, 'revenue'), 6);
  });

  it('are explained: formula, inputs, coverage, fetches, and every row behind them, page by page', async () => {
    const rows = (await rawRows(OCTOBER.from, OCTOBER.to)).filter((r) => r.device === 'Mobile');
    const query = { metric: 'orderRate', ...OCTOBER, filter: 'device=Mobile' };
    const { body } = await fixture.owner.ask('GET /api/clients/:client/figures/explain', { params: params(), query });
    expect(known(body.value)).toBeCloseTo(sum(rows, 'orders') / sum(rows, 'visits'), 12);
    expect(body.formula).toBe('Orders ÷ Visits');
    expect(body.inputs.map((i) => [i.label, known(i.value)])).toEqual([
      ['Orders', sum(rows, 'orders')],
      ['Visits', sum(rows, 'visits')],
    ]);
    const [source] = body.sources;
    expect(source).toMatchObject({ dataset: 'Visits', days: 31, delivered: 31, missing: [], rows: rows.length });
    expect(source!.fetches.length).toBeGreaterThan(0);
    expect(Date.parse(source!.fetches[0]!.at)).toBeLessThanOrEqual(Date.parse(fixture.server.clock.now()));
    const seen: (string | number)[][] = [];
    for (let page = 1; seen.length < rows.length; page++) {
      const found = await fixture.owner.ask('GET /api/clients/:client/figures/rows', {
        params: params(),
        query: { ...query, page: String(page) },
      });
      expect(found.body.total).toBe(rows.length);
      expect(found.body.columns).toEqual(['Day', 'Channel', 'Device', 'Country', 'Orders', 'Visits']);
      seen.push(...found.body.rows);
    }
    expect(seen.reduce((n, r) => n + (r[5] as number), 0)).toBe(sum(rows, 'visits'));
  });

  it('compare with last year, a usual level and a target, each said in words', async () => {
    const lastYear = await figures({ compare: 'lastYear' });
    expect(lastYear.compared).toMatchObject({ from: '2025-10-01', to: '2025-10-31', label: 'October 2025' });
    const usual = await figures({ compare: 'typical.3' });
    expect(usual.compared).toBeNull();
    expect(usual.against).toBe('a typical period (average of 3)');
    const months = await Promise.all(
      [
        ['2026-09-01', '2026-09-30'],
        ['2026-08-01', '2026-08-31'],
        ['2026-07-01', '2026-07-31'],
      ].map(async ([from, to]) => sum(await rawRows(from!, to!), 'visits')),
    );
    expect(known(usual.totals[0]!.compared)).toBeCloseTo(months.reduce((n, v) => n + v, 0) / 3, 6);
    expect((await figures({ compare: 'target' })).totals[0]!.compared).toEqual({ na: 'no-data' });
  });

  it('tell why they changed, in parts that add up to the change', async () => {
    for (const metric of ['revenue', 'orderRate', 'costPerClick']) {
      const { body } = await fixture.owner.ask('GET /api/clients/:client/figures/why', {
        params: params(),
        query: { metric, by: 'channel', period: 'month.-1', compare: 'previous' },
      });
      if (metric === 'costPerClick') {
        expect(body.drivers).toBeNull();
        expect(body.sentence).toContain('no comparison');
        continue;
      }
      const parts = body.drivers!.items.reduce((n, i) => n + i.by, body.drivers!.residual);
      expect(parts).toBeCloseTo(known(body.current) - known(body.before), 9);
      expect(body.sentence).toMatch(/^(Revenue|Order rate) (rose|fell)/);
    }
  });

  it('have a rhythm of weekday and hour that adds up to the month', async () => {
    const { body } = await fixture.owner.ask('GET /api/clients/:client/figures/rhythm', {
      params: params(),
      query: { metric: 'visits', ...OCTOBER },
    });
    const { cells, days } = body.rhythm!;
    const whole = cells.reduce((n, c, d) => n + c.reduce<number>((m, v) => m + (v ?? 0), 0) * days[d]!, 0);
    expect(whole).toBeCloseTo(sum(await rawRows(OCTOBER.from, OCTOBER.to), 'visits'), 3);
    expect(body.weekdays[0]).toBe('Monday');
  });

  it('refuse what cannot be asked, at its field', async () => {
    const ask = (query: Record<string, string>) =>
      fixture.owner.ask('GET /api/clients/:client/figures', { params: params(), query });
    expect((await ask({ metrics: 'visits', period: 'someday' })).fields).toHaveProperty('period');
    expect((await ask({ metrics: 'nothing', period: 'month.-1' })).fields).toEqual({
      metrics: 'Unknown metric: nothing.',
    });
    expect((await ask({ metrics: 'visits', period: 'month.-1', filter: 'device' })).fields).toHaveProperty('filter');
  });
});

describe('uniques', () => {
  it('are what the service counts over exactly these days, and are never added up', async () => {
    const count = async (query: string) => {
      const url = `${fixture.simulators.url}/services/web-analytics/v1/accounts/${ACCOUNT}/datasets/visits/totals?measure=visitors&${query}`;
      const reply = await fetch(url, { headers: { authorization: `Bearer ${DEMO_TOKEN}` } });
      return ((await reply.json()) as { value: number }).value;
    };
    const found = await figures({
      metrics: 'visitors',
      by: 'device',
      compare: 'previous',
    });
    expect(known(found.totals[0]!.current)).toBe(await count('from=2026-10-01&to=2026-10-31'));
    expect(known(found.totals[0]!.compared)).toBe(await count('from=2026-09-01&to=2026-09-30'));
    for (const row of found.breakdown!.rows) {
      expect(known(row.cells[0]!.current)).toBe(await count(`from=2026-10-01&to=2026-10-31&device=${row.label}`));
    }
    const parts = found.breakdown!.rows.reduce((n, r) => n + known(r.cells[0]!.current), 0);
    expect(parts).not.toBe(known(found.totals[0]!.current));
    const filtered = await figures({
      metrics: 'visitors',
      filter: 'device=Mobile,Tablet',
    });
    expect(known(filtered.totals[0]!.current)).toBe(
      await count('from=2026-10-01&to=2026-10-31&device=Mobile&device=Tablet'),
    );
  });

  it('say why they are not there when the service does not answer', async () => {
    fixture.simulators.faults.set(ACCOUNT, 'down');
    const found = await figures({ metrics: 'visitors', period: '2026-10-03..2026-10-09' });
    expect(found.totals[0]!.current).toEqual({ na: 'not-additive' });
    fixture.simulators.faults.set(ACCOUNT, 'none');
    const again = await figures({ metrics: 'visitors', period: '2026-10-03..2026-10-09' });
    expect(known(again.totals[0]!.current)).toBeGreaterThan(0);
  });
});

describe('exports', () => {
  it('hold numbers and dates that spreadsheet programs read as such, in either style', async () => {
    const bytes = Buffer.from(
      await (await table({ as: 'csv', metrics: 'revenue,bounceRate', step: 'day' })).arrayBuffer(),
    );
    // A byte order mark, so that spreadsheet programs take it for UTF-8.
    expect([...bytes.subarray(0, 3)]).toEqual([0xef, 0xbb, 0xbf]);
    const [head, first] = bytes.toString('utf8').slice(1).split('\r\n');
    expect(head).toBe('Day,Revenue,Bounce rate,Partly known,Unusual days,Excluded days');
    expect(first).toMatch(/^2026-10-01,\d+(\.\d+)?,0\.\d+,,,$/);
    const comma = await (await table({ as: 'csv-comma', metrics: 'revenue', step: 'day', compare: 'previous' })).text();
    expect(comma.split('\r\n')[0]).toBe(
      'Day;Compared day;Revenue;Revenue, 1–30 September 2026;Revenue, change;Partly known;Unusual days;Excluded days',
    );
    expect(comma.split('\r\n')[1]).toMatch(/^2026-10-01;2026-09-01;\d+(,\d+)?;\d+(,\d+)?;-?\d+(,\d+)?;;;$/);
    expect((await table({ as: 'pdf' })).status).toBe(422);
  });

  it('give the change of a rate as a part of what it was, and its points in a column of their own', async () => {
    const query = { metrics: 'bounceRate,visits', by: 'device', compare: 'previous' };
    const csv = await (await table({ as: 'csv', ...query })).text();
    const { data } = Papa.parse<string[]>(csv.slice(1).trimEnd());
    const [head, ...rows] = data;
    const september = ', 1–30 September 2026';
    expect(head!.slice(1, 8)).toEqual([
      expect.stringMatching(/^Bounce rate, 1/),
      `Bounce rate${september}`,
      'Bounce rate, change',
      'Bounce rate, change in points',
      expect.stringMatching(/^Visits, 1/),
      `Visits${september}`,
      'Visits, change',
    ]);
    expect(rows.length).toBeGreaterThan(1);
    for (const [, now, before, change, points, visits, visitsBefore, visitsChange] of rows.map((r) => r.map(Number))) {
      expect(change).toBeCloseTo((now! - before!) / before!, 10);
      expect(points).toBeCloseTo((now! - before!) * 100, 10);
      expect(visitsChange).toBeCloseTo((visits! - visitsBefore!) / visitsBefore!, 10);
    }
  });

  it('are workbooks of real numbers, dates and durations', async () => {
    const response = await table({ as: 'xlsx', metrics: 'visits,revenue,bounceRate,engagedTime', step: 'day' });
    expect(response.headers.get('content-disposition')).toContain('Tarnbeck Pottery Visits October 2026.xlsx');
    const book = Buffer.from(await response.arrayBuffer());
    // Read by a program that is not ours; a number in a format of time is a date to it.
    const [{ data: rows }] = (await readXlsx(book)) as unknown as [{ data: unknown[][] }];
    const head = rows.findIndex((r) => r[0] === 'Day');
    const first = rows[head + 1]!;
    expect(first[0]).toEqual(new Date('2026-10-01T00:00:00Z'));
    expect([1, 2, 3].map((c) => typeof first[c])).toEqual(['number', 'number', 'number']);
    expect(first[4]).toBeInstanceOf(Date);
    const files = await archiveOf(book);
    const cells = [...files.get('xl/worksheets/sheet1.xml')!.matchAll(/<c r="([A-E])\d+" s="(\d+)"><v>/g)];
    const styles = files.get('xl/styles.xml')!;
    const ids = [...styles.slice(styles.indexOf('<cellXfs')).matchAll(/<xf numFmtId="(\d+)"/g)].map((m) => m[1]);
    const codes = new Map(
      [...styles.matchAll(/<numFmt numFmtId="(\d+)" formatCode="([^"]+)"/g)].map((m) => [m[1], m[2]]),
    );
    expect(cells.slice(0, 5).map(([, column, style]) => [column, codes.get(ids[Number(style)])])).toEqual([
      ['A', 'yyyy-mm-dd'],
      ['B', '#,##0'],
      ['C', '#,##0.00 [$GBP]'],
      ['D', '0.0%'],
      ['E', '[h]:mm:ss'],
    ]);
    const total = (await figures({ metrics: 'visits' })).totals[0]!.current;
    const sumOfCells = rows.slice(head + 1).reduce((n, r) => n + Number(r[1]), 0);
    expect(sumOfCells).toBe(known(total));
  });

  it('make text from outside harmless where a spreadsheet would take it for a formula', async () => {
    const labels = ['=1+1', '+44 20', '-5', '@sum(a1)', '\tx', 'Plain, "quoted"'];
    const spec = { key: 'odd', name: 'Odd', firstDay: '2026-10-01', dimensions: ['campaign'], measures: ['adClicks'] };
    const owner = { feedId: 'fe_odd', clientId: f.client, position: 9 };
    const id = await saveDataset(fixture.server.facts, owner, spec);
    const rows = labels.map((label, i) => ({ day: '2026-10-05', dims: [label], measures: [10 + i] }));
    await replaceDays(fixture.server.facts, id, spec, OCTOBER, rows, '2026-11-01T05:00:00.000Z');
    const csv = await (await table({ as: 'csv', metrics: 'adClicks', by: 'campaign' })).text();
    const lines = csv.trimEnd().split('\r\n').slice(1);
    for (const line of lines) expect(line).not.toMatch(/^"?[=+\-@\t]/);
    expect(csv).toContain("'=1+1,10");
    expect(csv).toContain('"Plain, ""quoted""",15');
    const book = Buffer.from(await (await table({ as: 'xlsx', metrics: 'adClicks', by: 'campaign' })).arrayBuffer());
    const sheet = (await archiveOf(book)).get('xl/worksheets/sheet1.xml')!;
    expect(sheet).toContain("'=1+1");
    expect(sheet).not.toContain('<f');
    for (const [, text] of sheet.matchAll(/<t [^>]*>([^<]*)/g)) expect(text).not.toMatch(/^[=+\-@\t]/);
  });
});

describe('notes on days', () => {
  it('stand beside the figures, and in reports only when readers are to see them', async () => {
    const note = { from: '2026-10-12', to: '2026-10-12', text: 'Kiln firing streamed live', inReports: true };
    const kept = { from: '2026-10-20', to: '2026-10-21', text: 'Ask about the tag', inReports: false };
    const add = (body: object) => fixture.owner.ask('POST /api/clients/:client/notes', { params: params(), body });
    const { id } = (await add(note)).body;
    await add(kept);
    expect((await figures({})).notes.map((n) => n.text)).toEqual([kept.text, note.text]);
    expect((await figures({ period: 'month.-2' })).notes).toEqual([]);
    const texts = await previewTexts();
    expect(texts).toContain('12 Oct: Kiln firing streamed live');
    expect(texts).not.toContain(kept.text);
    expect((await add({ ...note, to: '2026-10-01' })).fields).toEqual({
      to: 'The end date is before the start date.',
    });
    await fixture.owner.ask('DELETE /api/clients/:client/notes/:note', { params: { ...params(), note: id } });
    expect(await previewTexts()).not.toContain(note.text);
  });

  it('are written by those who may change things', async () => {
    const reviewer = await visit(fixture.server.url, REVIEWER);
    const body = { ...OCTOBER, text: 'x', inReports: true };
    expect((await reviewer.ask('POST /api/clients/:client/notes', { params: params(), body })).status).toBe(403);
  });
});

describe('days that are excluded', () => {
  const day = {
    from: '2026-10-19',
    to: '2026-10-19',
    reason: 'The tag was off',
    printed: false,
    metrics: [] as string[],
  };
  const exclude = (more: Partial<typeof day> = {}) =>
    fixture.owner.ask('POST /api/clients/:client/excluded-days', { params: params(), body: { ...day, ...more } });
  const explained = async (without: string) =>
    (
      await fixture.owner.ask('GET /api/clients/:client/figures/explain', {
        params: params(),
        query: { metric: 'visits', ...OCTOBER, without },
      })
    ).body;

  it('leave every figure of Figures, its table and its explanation, and each says so', async () => {
    const before = await figures({ compare: 'previous' });
    const dayOf = (reply: typeof before, i: number) => reply.series!.lines[0]!.current[i]!;
    const lost = dayOf(before, 18) as { value: number };
    const { body: made } = await exclude();
    const after = await figures({ compare: 'previous' });
    const valueOver = (reply: typeof before) => (reply.totals[0]!.current as { value: number }).value;
    expect(valueOver(after)).toBe(valueOver(before) - lost.value);
    expect(dayOf(after, 18)).toEqual({ na: 'excluded' });
    expect(after.excluded[0]).toMatchObject({ period: ['2026-10-19'], compared: ['2026-09-19'] });
    expect(after.excluded[0]!.words).toBe('without 19 Sept, 19 Oct');
    expect(after.exclusions).toMatchObject([{ id: made.id, reason: 'The tag was off' }]);
    const weeks = await figures({ compare: 'previous', step: 'week' });
    expect(weeks.series!.lines[0]!.without.filter((w) => w !== '')).toEqual(['without 19 Sept, 19 Oct']);
    expect(await explained('2026-10-19')).toMatchObject({
      value: { value: valueOver(after) },
      sources: [{ days: 30, delivered: 30 }],
    });
    expect(await (await table({ as: 'csv', step: 'month', compare: 'previous' })).text()).toContain(
      'without 19 Sept, 19 Oct',
    );
    const bydevice = await (await table({ as: 'csv', by: 'device', compare: 'previous' })).text();
    expect(bydevice.trimEnd().split('\n').at(-1)).toContain('without 19 Sept, 19 Oct');
    expect(await previewTexts()).toContain('without 19 Oct');
    await fixture.owner.ask('DELETE /api/clients/:client/excluded-days/:excluded', {
      params: { ...params(), excluded: made.id },
    });
    expect(await figures({ compare: 'previous' })).toEqual(before);
  });

  it('may be so for named metrics alone', async () => {
    const { body: made } = await exclude({ metrics: ['orders'] });
    const found = await figures({ metrics: 'visits,orders,orderRate' });
    expect(found.excluded.map((e) => e !== null)).toEqual([false, true, true]);
    const params_ = { ...params(), excluded: made.id };
    const changed = await fixture.owner.ask('PUT /api/clients/:client/excluded-days/:excluded', {
      params: params_,
      body: { ...day, metrics: ['visits'] },
    });
    expect(changed.body.metrics).toEqual(['visits']);
    expect((await figures({ metrics: 'visits,orders' })).excluded.map((e) => e !== null)).toEqual([true, false]);
    await fixture.owner.ask('DELETE /api/clients/:client/excluded-days/:excluded', { params: params_ });
  });

  it('are refused in words: without a reason, too many at once, of a metric that is not there, by who may not', async () => {
    expect((await exclude({ reason: ' ' })).fields).toEqual({ reason: 'Enter a reason.' });
    expect((await exclude({ from: '2026-01-01' })).fields?.to).toContain('at most 92 days');
    expect((await exclude({ metrics: ['nothing'] })).fields).toEqual({ metrics: 'Unknown metric: nothing.' });
    const reviewer = await visit(fixture.server.url, REVIEWER);
    const asked = await reviewer.ask('POST /api/clients/:client/excluded-days', { params: params(), body: day });
    expect(asked.status).toBe(403);
    expect((await fixture.owner.ask('GET /api/clients/:client/excluded-days', { params: params() })).body).toEqual([]);
  });
});

describe('a client’s own metrics', () => {
  const own = { key: 'perHundred', label: 'Sales per 100 visits', unit: 'money', polarity: 'higher', definition: '' };
  const tryOut = async (formula: string) =>
    (
      await fixture.owner.ask('POST /api/clients/:client/own-metrics/try', {
        params: params(),
        body: { key: 'perHundred', unit: 'money', formula },
      })
    ).body;

  it('are tried while they are written: the fault at its place, or what they come to', async () => {
    expect((await tryOut('revenue / vists')).fault).toEqual({ at: 10, message: 'Unknown metric: vists.' });
    expect((await tryOut('revenue + visits')).fault?.at).toBe(8);
    const good = await tryOut('revenue / visits * 100');
    expect(good.fault).toBeNull();
    expect(good.inputs.map((i) => i.label)).toEqual(['Revenue', 'Visits']);
    expect(good.results!.map((r) => r.label)).toEqual(['October 2026', 'September 2026']);
    expect(good.results![0]!.text).toMatch(/^£\d/);
  });

  it('answer a hostile formula with its fault, at once', async () => {
    const began = performance.now();
    for (const formula of [
      '('.repeat(10_000),
      '9'.repeat(5_000),
      `visits${'*visits'.repeat(2_000)}`,
      'process.exit(1)',
    ]) {
      expect((await tryOut(formula)).fault, formula.slice(0, 12)).not.toBeNull();
    }
    expect(performance.now() - began).toBeLessThan(10_000);
    expect((await fetch(`${fixture.server.url}/api/health`)).status).toBe(200);
  });

  it('are added, shown in reports and mails, and kept while something uses them', async () => {
    const body = { ...own, formula: 'revenue / visits * 100' };
    const add = () => fixture.owner.ask('POST /api/clients/:client/own-metrics', { params: params(), body });
    expect((await add()).status).toBe(200);
    expect((await add()).fields).toEqual({ key: 'A metric with this key already exists.' });
    const report = (await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body;
    const document = structuredClone(report.document);
    for (const row of document.pages[0]!.rows) {
      for (const b of row.blocks) if (b.kind === 'kpiRow') b.metrics = ['visits', 'perHundred'];
    }
    const save = (d: typeof document, version: number) =>
      fixture.owner.ask('PUT /api/reports/:report', {
        params: { report: f.report },
        body: { title: report.title, document: d, version },
      });
    expect((await save(document, report.version)).status).toBe(200);
    expect(await previewTexts()).toContain('Sales per 100 visits');
    const remove = () =>
      fixture.owner.ask('DELETE /api/clients/:client/own-metrics/:metric', {
        params: { ...params(), metric: 'perHundred' },
      });
    expect((await remove()).fields.metric).toBe('In use: the report Monthly overview. Remove it there first.');
    const unknown = structuredClone(report.document);
    for (const row of unknown.pages[0]!.rows) for (const b of row.blocks) if (b.kind === 'trend') b.metric = 'nowhere';
    const refused = await save(unknown, report.version + 1);
    expect(Object.values(refused.fields)).toEqual(['Unknown metric: nowhere.']);
    expect((await save(report.document, report.version + 1)).status).toBe(200);
    expect((await remove()).status).toBe(200);
  });

  it('can be standard ones under another name, which read another measure', async () => {
    const change = (body: object) =>
      fixture.owner.ask('PUT /api/clients/:client/metrics/:metric', {
        params: { ...params(), metric: 'orders' },
        body,
      });
    const rows = await rawRows(OCTOBER.from, OCTOBER.to);
    expect((await change({ label: '', polarity: 'higher', reads: { orders: 'nothing' } })).fields.reads).toContain(
      'nothing',
    );
    await change({ label: 'Class bookings', polarity: 'higher', reads: { orders: 'leads' } });
    const found = await figures({ metrics: 'orders' });
    expect(found.metrics[0]!.label).toBe('Class bookings');
    expect(known(found.totals[0]!.current)).toBe(sum(rows, 'leads'));
    expect(await previewTexts()).toContain('Class bookings');
    await fixture.owner.ask('DELETE /api/clients/:client/metrics/:metric', {
      params: { ...params(), metric: 'orders' },
    });
    expect(known((await figures({ metrics: 'orders' })).totals[0]!.current)).toBe(sum(rows, 'orders'));
  });
});

describe('targets', () => {
  const set = (body: object) => fixture.owner.ask('POST /api/clients/:client/targets', { params: params(), body });
  const list = async () => (await fixture.owner.ask('GET /api/clients/:client/targets', { params: params() })).body;

  it('tell how far they are and where they will end, and are compared with', async () => {
    await set({ metric: 'visits', span: 'month', from: '2026-01', repeats: true, value: 9_000 });
    await set({ metric: 'bounceRate', span: 'year', from: '2026-01', repeats: false, value: 0.4 });
    await fixture.moveTo('2026-11-16T09:00:00Z');
    const rows = await rawRows('2026-11-01', '2026-11-15');
    const [bounce, visits] = await list();
    expect(visits).toMatchObject({ phase: 'running', span: { from: '2026-11-01', to: '2026-11-30' } });
    expect(known(visits!.soFar)).toBe(sum(rows, 'visits'));
    const pace = known(visits!.projection);
    expect(pace).toBeGreaterThan(sum(rows, 'visits') * 1.7);
    expect(pace).toBeLessThan(sum(rows, 'visits') * 2.3);
    expect(visits!.outlook).toBe(pace >= 9_000 ? 'on-course' : 'short');
    expect(bounce!.projection).toBeNull();
    expect(['on-course', 'short']).toContain(bounce!.outlook);
    const compared = await figures({ compare: 'target' });
    expect(compared.totals[0]!.compared).toEqual({ value: 9_000 });
    expect(compared.series!.lines[0]!.target![0]).toBeCloseTo(9_000 / 31, 6);
  });

  it('of a part hold that part alone: no figure under a filter, and no row, is held against the whole’s', async () => {
    const monthly = { span: 'month', from: '2026-01', repeats: true };
    await set({ ...monthly, metric: 'revenue', value: 50_000 });
    const email = { filter: 'channel=Email', metrics: 'revenue', compare: 'target' };
    const held = async (query: Record<string, string>) => (await figures(query)).totals[0]!.compared;
    expect(await held({ metrics: 'revenue', compare: 'target' })).toEqual({ value: 50_000 });
    expect(await held(email)).toEqual({ na: 'no-data' });
    expect((await figures(email)).series!.lines[0]!.target).toBeNull();
    expect((await set({ ...monthly, metric: 'revenue', value: 4_000, filter: { channel: ['Email'] } })).status).toBe(
      200,
    );
    expect(await held(email)).toEqual({ value: 4_000 });
    expect(await held({ metrics: 'revenue', compare: 'target' })).toEqual({ value: 50_000 });
    const rows = (await figures({ metrics: 'revenue', compare: 'target', by: 'channel' })).breakdown!.rows;
    expect(rows.find((r) => r.label === 'Email')!.cells[0]!.compared).toEqual({ value: 4_000 });
    expect(rows.find((r) => r.label === 'Direct')!.cells[0]!.compared).toEqual({ na: 'no-data' });
    const progress = (await list()).find((t) => t.of.length > 0)!;
    expect(progress).toMatchObject({ of: ['Channel Email'], input: { filter: { channel: ['Email'] } } });
    const { from } = progress.span;
    const soFar = await figures({ metrics: 'revenue', filter: 'channel=Email', period: `${from}..2026-11-15` });
    expect(progress.soFar).toEqual(soFar.totals[0]!.current);
    const wrong = await set({ ...monthly, metric: 'revenue', value: 1, filter: { mood: ['good'] } });
    expect(wrong.status).toBe(422);
  });

  it('that are ceilings read as missed once they are broken, though their month is not over', async () => {
    const change = { params: { ...params(), metric: 'orders' }, body: { label: '', polarity: 'lower', reads: {} } };
    await fixture.owner.ask('PUT /api/clients/:client/metrics/:metric', change);
    await set({ metric: 'orders', span: 'month', from: '2026-11', repeats: false, value: 3 });
    const ceiling = (await list()).find((t) => t.metric.key === 'orders')!;
    expect(known(ceiling.soFar)).toBeGreaterThan(3);
    expect(ceiling).toMatchObject({ phase: 'running', outlook: 'missed' });
    await fixture.owner.ask('DELETE /api/clients/:client/metrics/:metric', { params: change.params });
  });

  it('are refused where they mean nothing, and twice for the same', async () => {
    expect((await set({ metric: 'visits', span: 'date', on: '2026-12-31', value: 9 })).fields).toHaveProperty('span');
    expect(
      (await set({ metric: 'nothing', span: 'month', from: '2026-12', repeats: false, value: 9 })).fields,
    ).toHaveProperty('metric');
    const again = await set({ metric: 'visits', span: 'month', from: '2026-01', repeats: true, value: 6_000 });
    expect(again.fields).toEqual({ from: 'This target already exists. Change that one.' });
    expect(
      (await set({ metric: 'visits', span: 'month', from: '2026-13', repeats: true, value: 1 })).fields,
    ).toHaveProperty('from');
  });
});
