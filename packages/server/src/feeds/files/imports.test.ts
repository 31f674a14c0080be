import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { deflateRawSync } from 'node:zlib';
import type { ImportDetail, ImportRow } from '@chronicon/core/contract';
import type { FileMapping } from '@chronicon/core/feeds';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import writeXlsx from 'write-excel-file/node';
import { undoBulk } from '../../facts/bulk.ts';
import { orderBasis } from '../../render/orderBasis.ts';
import { clientById } from '../../store/clients.ts';
import { importById } from '../../store/imports.ts';
import { archived, bookFiles } from '../../test/archive.ts';
import { CLIENT, openTestFixture, type TestFixture } from '../../test/harness.ts';

type Body = NonNullable<RequestInit['body']>;

let fixture: TestFixture;
let client: string;

beforeAll(async () => {
  fixture = await openTestFixture('2026-11-02T08:42:00Z');
});
beforeEach(async () => {
  client = (await fixture.owner.ask('POST /api/clients', { body: CLIENT })).body.id;
});
afterAll(() => fixture.close());

const put = async (name: string, body: Body, feed?: string) => {
  const query = new URLSearchParams({ name, ...(feed && { feed }) });
  const response = await fixture.owner.raw(`/api/clients/${client}/imports?${query}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/octet-stream' },
    body,
  });
  return { status: response.status, body: (await response.json()) as ImportRow & { message?: string } };
};
const params = (id: string) => ({ client, import: id });
const look = async (id: string) =>
  (await fixture.owner.ask('GET /api/clients/:client/imports/:import', { params: params(id) })).body as ImportDetail;
const metricsFor = (...keys: string[]) =>
  keys.map((key) => ({ key, label: key, unit: 'count', polarity: 'higher', kind: 'sum' }));
const begin = (id: string, mapping: FileMapping, more: object = {}) =>
  fixture.owner.ask('POST /api/clients/:client/imports/:import/begin', {
    params: params(id),
    body: { mapping, feed: null, name: 'Till of the shop', metrics: metricsFor('sold'), ...more },
  });
/** Brings a file all the way, as it is found to be. */
async function bring(name: string, body: Body, more: object = {}, change: Partial<FileMapping> = {}) {
  const { body: taken } = await put(name, body);
  expect(taken.problem).toBeNull();
  const { inspection } = await look(taken.id);
  const begun = await begin(taken.id, { ...inspection!.mapping, ...change }, more);
  expect(begun.body).not.toHaveProperty('message');
  await fixture.server.imports.idle();
  return look(taken.id);
}
const total = async (metric: string, period: string, by?: string) => {
  const query = { metrics: metric, period, compare: 'none', ...(by && { by }) };
  const { body } = await fixture.owner.ask('GET /api/clients/:client/figures', { params: { client }, query });
  return by ? body.breakdown!.rows.map((r) => [r.label, r.cells[0]!.current]) : body.totals[0]!.current;
};
const feeds = async () => (await fixture.owner.ask('GET /api/clients/:client/feeds', { params: { client } })).body;
const OCTOBER = '2026-10-01..2026-10-31';
const GOOD = 'day,shop,sold\n2026-10-01,Quay,3\n2026-10-02,Hill,4\n2026-10-04,Quay,5\n';

describe('a file', () => {
  it('is looked at, read as it is told to be, and counts in the figures', async () => {
    const { body: taken } = await put('till.csv', GOOD);
    const seen = await look(taken.id);
    expect(seen).toMatchObject({
      state: 'asking',
      reading: { format: 'text', encoding: 'utf-8', separator: ',' },
    });
    const { mapping } = seen.inspection!;
    const preview = await fixture.owner.ask('POST /api/clients/:client/imports/:import/preview', {
      params: params(taken.id),
      body: { mapping },
    });
    expect(preview.body.columns).toEqual(['day', 'shop', 'sold']);
    expect(preview.body.rows[0]).toEqual({ row: 2, cells: ['2026-10-01', 'Quay', 3], problem: null });
    await begin(taken.id, mapping);
    await fixture.server.imports.idle();
    expect(await look(taken.id)).toMatchObject({
      state: 'done',
      good: 3,
      bad: 0,
      range: { from: '2026-10-01', to: '2026-10-04' },
    });
    // The third has no rows: nothing was sold, which is a figure; the fifth is not covered.
    expect(await total('sold', '2026-10-01..2026-10-04')).toEqual({ value: 12 });
    expect(await total('sold', '2026-10-03..2026-10-03')).toEqual({ value: 0 });
    expect(await total('sold', '2026-10-05..2026-10-05')).toEqual({ na: 'not-covered' });
    expect(await total('sold', '2026-10-01..2026-10-04', 'shop')).toEqual([
      ['Quay', { value: 8 }],
      ['Hill', { value: 4 }],
    ]);
    expect((await feeds())[0]).toMatchObject({ source: 'file', name: 'Till of the shop', state: 'fresh' });
  });

  it('replaces the days that it brings again, and only those; an import can be taken back', async () => {
    const first = await bring('till.csv', GOOD);
    const [feed] = await feeds();
    const again = { feed: feed!.id, name: '' };
    const second = await bring('late.csv', 'day,shop,sold\n2026-10-04,Hill,50\n2026-10-05,Hill,1\n', again);
    expect(await total('sold', '2026-10-01..2026-10-05')).toEqual({ value: 58 });
    const undo = (id: string) =>
      fixture.owner.ask('POST /api/clients/:client/imports/:import/undo', { params: params(id) });
    // The older one lies under the newer one.
    expect((await undo(first.id)).status).toBe(422);
    // Where the server ended in between, the figures are back already; the rest is done now.
    await undoBulk(fixture.server.facts, second.id);
    expect((await undo(second.id)).status).toBe(200);
    expect(await total('sold', '2026-10-01..2026-10-04')).toEqual({ value: 12 });
    expect(await total('sold', '2026-10-05..2026-10-05')).toEqual({ na: 'not-covered' });
    expect((await undo(first.id)).status).toBe(200);
    expect(await total('sold', OCTOBER)).toEqual({ na: 'no-data' });
    expect((await undo(first.id)).status).toBe(422);
  });

  it('is taken back in the order in which imports were done, whichever file was brought first', async () => {
    const rows = (sold: number) => `day,shop,sold\n2026-10-04,Quay,${sold}\n`;
    const { body: early } = await put('early.csv', rows(7));
    const { mapping } = (await look(early.id)).inspection!;
    const later = await bring('later.csv', rows(5));
    const [feed] = await feeds();
    await begin(early.id, mapping, { feed: feed!.id, name: '' });
    await fixture.server.imports.idle();
    expect(await look(early.id)).toMatchObject({ state: 'done', canUndo: true });
    const undo = (id: string) =>
      fixture.owner.ask('POST /api/clients/:client/imports/:import/undo', { params: params(id) });
    expect((await undo(later.id)).status).toBe(422);
    expect(await total('sold', '2026-10-04..2026-10-04')).toEqual({ value: 7 });
    expect((await undo(early.id)).status).toBe(200);
    expect(await total('sold', '2026-10-04..2026-10-04')).toEqual({ value: 5 });
    expect((await undo(later.id)).status).toBe(200);
    expect(await total('sold', OCTOBER)).toEqual({ na: 'no-data' });
  });

  it('leaves days without rows open where a person says that nobody knows them', async () => {
    await bring('till.csv', GOOD, {}, { gaps: 'missing' });
    expect(await total('sold', '2026-10-03..2026-10-03')).toEqual({ na: 'not-covered' });
    expect(await total('sold', '2026-10-01..2026-10-04')).toMatchObject({ value: 12, partial: true });
  });

  it('of whole months is known for whole months alone', async () => {
    await bring('months.csv', 'month;sold\n2026-08;300\n2026-09;310\n');
    expect(await total('sold', '2026-08-01..2026-09-30')).toEqual({ value: 610 });
    expect(await total('sold', '2026-08-01..2026-08-15')).toEqual({ na: 'coarser' });
  });

  it('comes in every dress: tabs, semicolons, UTF-16, Windows-1252, JSON lines, workbooks', async () => {
    // Written by a program that is not ours.
    const workbook = writeXlsx(
      [
        ['Tag', 'Laden', 'sold'],
        [{ value: new Date('2026-10-01'), format: 'dd.mm.yyyy' }, 'Süd', 3],
      ],
      { sheet: 'Oktober' },
    );
    const files: [string, Body, string][] = [
      ['a.tsv', 'Tag\tLaden\tsold\n01.10.2026\tSüd\t3\n', 'utf-8'],
      ['b.csv', Buffer.from('\ufeffTag;Laden;sold\n2026-10-01;Süd;3,0\n', 'utf16le'), 'utf-16le'],
      ['c.csv', Buffer.from('Tag;Laden;sold\n2026-10-01;Süd;3\n', 'latin1'), 'windows-1252'],
      ['d.jsonl', '{"Tag":"2026-10-01","Laden":"Süd","sold":3}\n', 'utf-8'],
      ['e.xlsx', await workbook.toBuffer(), 'utf-8'],
    ];
    for (const [name, body, encoding] of files) {
      const { body: taken } = await put(name, body);
      const { reading, inspection } = await look(taken.id);
      expect([name, reading.encoding]).toEqual([name, encoding]);
      const mapping = { ...inspection!.mapping, numbers: 'comma' as const };
      const preview = await fixture.owner.ask('POST /api/clients/:client/imports/:import/preview', {
        params: params(taken.id),
        body: { mapping },
      });
      expect([name, preview.body.rows[0]!.cells]).toEqual([name, ['2026-10-01', 'Süd', 3]]);
    }
  });

  it('is read by the description that comes with it', async () => {
    const { body: taken } = await put('d.csv', 'd,sold\n03/04/2026,1\n');
    expect((await look(taken.id)).inspection!.doubts).toEqual(['dates']);
    const body = {
      fields: [
        { name: 'd', type: 'date', format: '%m/%d/%Y' },
        { name: 'sold', type: 'integer' },
      ],
    };
    const described = await fixture.owner.ask('PUT /api/clients/:client/imports/:import/description', {
      params: params(taken.id),
      body,
    });
    expect(described.body.inspection).toMatchObject({ doubts: [], mapping: { dates: 'mdy' } });
    const nonsense = await fixture.owner.ask('PUT /api/clients/:client/imports/:import/description', {
      params: params(taken.id),
      body: { hello: 1 },
    });
    expect(nonsense.status).toBe(422);
  });

  it('is counted together with another feed where a person says so, and seen alone by feed', async () => {
    await bring('till.csv', GOOD);
    const { body: taken } = await put(
      'hut.csv',
      GOOD.replaceAll('Quay', 'Hut').replace('Hill', 'Lodge').replaceAll(',4', ',40'),
    );
    const { inspection, known } = await look(taken.id);
    expect(known.brought).toMatchObject([{ key: 'sold', label: 'sold', feed: 'Till of the shop' }]);
    const columns = { ...inspection!.mapping.columns, sold: { as: 'measure', key: 'sold' } as const };
    const as = (more: object) =>
      begin(taken.id, { ...inspection!.mapping, columns }, { name: 'Till of the hut', metrics: [], ...more });
    expect((await as({})).fields['columns.sold']).toContain(
      'Choose to add both together, or import it as a new metric.',
    );
    expect((await as({ together: true })).status).toBe(200);
    await fixture.server.imports.idle();
    const all = '2026-10-01..2026-10-04';
    expect(await total('sold', all)).toEqual({ value: 12 + 48 });
    expect(await total('sold', all, 'feed')).toEqual([
      ['Till of the hut', { value: 48 }],
      ['Till of the shop', { value: 12 }],
    ]);
    expect(await total('sold', all, 'shop')).toEqual([
      ['Lodge', { value: 40 }],
      ['Hut', { value: 8 }],
      ['Quay', { value: 8 }],
      ['Hill', { value: 4 }],
    ]);
    // The next file of either goes on so.
    const [hut] = (await feeds()).filter((x) => x.name === 'Till of the hut');
    const { body: next } = await put('next.csv', 'day,shop,sold\n2026-10-05,Hut,7\n', hut!.id);
    await begin(next.id, (await look(next.id)).inspection!.mapping, { feed: hut!.id, metrics: [], together: true });
    await fixture.server.imports.idle();
    // The other one lacks that day: what there is of it is a part.
    expect(await total('sold', '2026-10-05..2026-10-05')).toMatchObject({ value: 7, partial: true });
  });

  it('never brings what another feed brings already', async () => {
    await bring('till.csv', GOOD);
    const { body: taken } = await put('other.csv', GOOD);
    const { inspection } = await look(taken.id);
    const refused = await begin(taken.id, inspection!.mapping, { name: 'Another till' });
    expect(refused.fields['columns.sold']).toContain('Till of the shop already has this');
  });
});

describe('rows that are set aside', () => {
  const ROWS =
    'day,shop,sold\n2026-10-01,Quay,3\n2026-10-02,Quay,four\n2026-10-03,Quay,5\n2026-10-04,Quay,6\n2026-10-05,Quay,0\n2026-10-06,Quay,0\n';

  it('leave their day open, not 0, until a person says that they count as none', async () => {
    const done = await bring('till.csv', ROWS);
    expect(done).toMatchObject({ good: 5, bad: 1, unknown: [{ from: '2026-10-02', to: '2026-10-02' }] });
    expect(await total('sold', '2026-10-01..2026-10-04')).toEqual({ value: 14, partial: true, share: 0.75 });
    expect(await total('sold', '2026-10-02..2026-10-02')).toEqual({ na: 'not-covered' });
    const said = await fixture.owner.ask('POST /api/clients/:client/imports/:import/aside', {
      params: params(done.id),
    });
    expect(said.status).toBe(200);
    expect(await total('sold', '2026-10-01..2026-10-04')).toEqual({ value: 14 });
    expect((await look(done.id)).unknown).toEqual([]);
    expect(
      (await fixture.owner.ask('POST /api/clients/:client/imports/:import/aside', { params: params(done.id) })).status,
    ).toBe(422);
  });

  it('take the place of days that were known before, and are taken back with their import', async () => {
    await bring('first.csv', 'day,shop,sold\n2026-10-01,Quay,1\n2026-10-02,Quay,1\n');
    const [feed] = await feeds();
    const { body } = await put('second.csv', ROWS);
    await begin(body.id, (await look(body.id)).inspection!.mapping, { feed: feed!.id, metrics: [] });
    await fixture.server.imports.idle();
    expect(await total('sold', '2026-10-01..2026-10-02')).toEqual({ value: 3, partial: true, share: 0.5 });
    await fixture.owner.ask('POST /api/clients/:client/imports/:import/undo', { params: params(body.id) });
    expect(await total('sold', '2026-10-01..2026-10-02')).toEqual({ value: 2 });
  });

  it('are said on the Desk and with their feed, until they count as none or are brought again', async () => {
    const done = await bring('till.csv', ROWS);
    const waiting = async () =>
      (await fixture.owner.ask('GET /api/desk', { query: { client } })).body.needs.filter((n) =>
        n.title.includes('unreadable'),
      );
    expect((await feeds())[0]!.open).toEqual([{ from: '2026-10-02', to: '2026-10-02' }]);
    expect(await waiting()).toMatchObject([
      {
        title: expect.stringContaining('till.csv has unreadable rows for a day'),
        reason: expect.stringContaining('2 October 2026'),
        action: { to: `/clients/${client}/imports/${done.id}` },
      },
    ]);
    const [feed] = await feeds();
    const { body } = await put('again.csv', ROWS.replace('four', '4'));
    await begin(body.id, (await look(body.id)).inspection!.mapping, { feed: feed!.id, metrics: [] });
    await fixture.server.imports.idle();
    expect((await feeds())[0]!.open).toEqual([]);
    expect(await waiting()).toEqual([]);
  });

  it('say nothing any more once a later file of the feed has brought other days or the same', async () => {
    const first = await bring('till.csv', ROWS);
    const [feed] = await feeds();
    const { body } = await put('later.csv', ROWS);
    await begin(body.id, (await look(body.id)).inspection!.mapping, { feed: feed!.id, metrics: [] });
    await fixture.server.imports.idle();
    const none = (id: string) =>
      fixture.owner.ask('POST /api/clients/:client/imports/:import/aside', { params: params(id) });
    expect((await none(first.id)).status).toBe(422);
    expect(await total('sold', '2026-10-02..2026-10-02')).toEqual({ na: 'not-covered' });
    // Pressed twice at once, it is done once.
    const both = await Promise.all([none(body.id), none(body.id)]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 422]);
    expect(await total('sold', '2026-10-02..2026-10-02')).toEqual({ value: 0 });
  });

  it('without a readable date leave the whole file’s days open, or none where a person says so beforehand', async () => {
    const days = [1, 2, 3, 4, 5, 6].map((d) => `2026-10-0${d},Quay,${d}`);
    const rows = `day,shop,sold\n${days.join('\n')}\nsoon,,3\n`;
    const done = await bring('undated.csv', rows);
    expect(done.unknown).toEqual([{ from: '2026-10-01', to: '2026-10-06' }]);
    expect(await total('sold', '2026-10-01..2026-10-03')).toEqual({ na: 'not-covered' });
    client = (await fixture.owner.ask('POST /api/clients', { body: CLIENT })).body.id;
    const told = await bring('undated.csv', rows, {}, { aside: 'none' });
    expect(told.unknown).toEqual([]);
    expect(await total('sold', '2026-10-01..2026-10-03')).toEqual({ value: 6 });
  });

  it('of another currency are not added to the client’s own', async () => {
    const done = await bring('mixed.csv', 'day,shop,sold\n2026-10-01,Quay,£3\n2026-10-02,Quay,"€ 1,234.50"\n');
    expect(done).toMatchObject({ good: 1, bad: 1 });
    const list = await (await fixture.owner.raw(`/api/clients/${client}/imports/${done.id}/rejects`)).text();
    expect(list).toContain('is in €, not in GBP');
    expect(await total('sold', '2026-10-01..2026-10-02')).toMatchObject({ partial: true });
  });
});

describe('a list of rows that were set aside', () => {
  it('whose file is gone is said to be gone, however often it is asked for, and ends nothing', async () => {
    const done = await bring('mixed.csv', 'day,shop,sold\n2026-10-01,Quay,£3\n2026-10-02,Quay,"€ 1,234.50"\n');
    const { rejects } = (await importById(fixture.server.store, done.id))!;
    rmSync(join(fixture.config.data, rejects!));
    const ask = () => fixture.owner.raw(`/api/clients/${client}/imports/${done.id}/rejects`);
    for (let i = 0; i < 8; i++) expect((await ask()).status).toBe(404);
    expect((await fixture.owner.ask('GET /api/session')).status).toBe(200);
  });
});

describe('a workbook of several sheets', () => {
  it('is read from the first that holds days and figures, and says so; another one can be chosen', async () => {
    const cell = (text: string) => `<c t="inlineStr"><is><t>${text}</t></is></c>`;
    const row = (...cells: string[]) => `<row>${cells.join('')}</row>`;
    const day = (d: string, n: number) => row(cell(d), `<c><v>${n}</v></c>`);
    const book = await archived(
      bookFiles({
        Cover: `<sheetData>${row(cell('Sales of the shop'))}${row(cell('Made by the till'))}</sheetData>`,
        Shops: `<sheetData>${row(cell('Shop'), cell('Town'))}${row(cell('Quay'), cell('Tarnbeck'))}</sheetData>`,
        Days: `<sheetData>${row(cell('day'), cell('sold'))}${day('2026-10-01', 3)}${day('2026-10-02', 4)}</sheetData>`,
      }),
    );
    const { body: taken } = await put('book.xlsx', book);
    const found = await look(taken.id);
    expect(found.reading.sheet).toBe('Days');
    expect(found.inspection!.notices.join(' ')).toContain('Using the sheet “Days”');
    const chosen = { ...found.reading, sheet: 'Shops' };
    const again = await fixture.owner.ask('POST /api/clients/:client/imports/:import/look', {
      params: params(taken.id),
      body: chosen,
    });
    expect(again.body.reading.sheet).toBe('Shops');
  });
});

describe('rows of totals', () => {
  const DAYS = [1, 2, 3].flatMap((d) => [`2026-10-0${d},Quay,${d}`, `2026-10-0${d},Hill,${10 * d}`]);
  const file = (...more: string[]) => `day,shop,sold\n${[...DAYS, ...more].join('\n')}\n`;
  const all = '2026-10-01..2026-10-03';

  it.each([
    ['one with a label where the date stands', ['Total,,66']],
    ['one with a label, and fewer cells', ['Total,66']],
    ['one without a label or a date', [',,66']],
    ['those of days, with a label', ['2026-10-01,Total,11', '2026-10-02,Total,22', '2026-10-03,Total,33']],
    ['those of days, without one', ['2026-10-01,,11', '2026-10-02,,22', '2026-10-03,,33']],
    ['one in the language of the file', ['Summe:,,66']],
    ['those that say that they are of all', ['2026-10-01,All,11', '2026-10-02,All,22', '2026-10-03,All,33']],
  ])('count as none: %s', async (_, rows) => {
    const done = await bring('till.csv', file(...rows));
    expect(done).toMatchObject({ state: 'done', good: 6, bad: rows.length, unknown: [] });
    expect(await total('sold', all)).toEqual({ value: 66 });
    const list = await (await fixture.owner.raw(`/api/clients/${client}/imports/${done.id}/rejects`)).text();
    expect(list).toContain('is a total');
  });

  it('are told from rows that say nothing but their day: what is not the sum of the others counts', async () => {
    const done = await bring('till.csv', file('2026-10-01,,11', '2026-10-02,All,5'));
    expect(done).toMatchObject({ good: 8, bad: 0 });
    expect(await total('sold', all)).toEqual({ value: 82 });
    expect(await total('sold', all, 'shop')).toContainEqual(['All', { value: 5 }]);
    client = (await fixture.owner.ask('POST /api/clients', { body: CLIENT })).body.id;
    // No date, and no total either: nobody knows whose day it was.
    expect((await bring('till.csv', file(',,65'))).unknown).toEqual([{ from: '2026-10-01', to: '2026-10-03' }]);
  });

  it('are said before the import, and what a person answers holds for the next files', async () => {
    const { body: taken } = await put('till.csv', file('2026-10-03,Total,33'));
    const found = (await look(taken.id)).inspection!;
    expect(found.hasTotals).toBe(true);
    expect(found.notices.join(' ')).toContain('Row 8 is a total, so it is skipped');
    // “Total” is the name of a shop here.
    await begin(taken.id, { ...found.mapping, totals: 'rows' });
    await fixture.server.imports.idle();
    expect(await total('sold', all)).toEqual({ value: 99 });
    const [feed] = await feeds();
    const { body: next } = await put('next.csv', file('2026-10-03,Total,33'), feed!.id);
    expect((await look(next.id)).inspection!.mapping.totals).toBe('rows');
  });
});

describe('money of two currencies', () => {
  const MIXED =
    'day,Currency,Takings\n2026-10-01,GBP,100\n2026-10-02,EUR,2000\n2026-10-02,GBP,10\n2026-10-03,USD,7\n2026-10-04,GBP,1\n';
  const takings = { key: 'takings', label: 'Takings', unit: 'money', polarity: 'higher', kind: 'sum' };
  const all = '2026-10-01..2026-10-04';

  it('is never one sum: a person is asked, and what they say holds for the files that come by themselves', async () => {
    const { body: taken } = await put('takings.csv', MIXED);
    const { inspection } = await look(taken.id);
    expect(inspection!.doubts).toEqual(['currency']);
    expect(inspection!.columns[1]).toMatchObject({ use: { as: 'currency' }, currencies: ['GBP', 'EUR', 'USD'] });
    const as = (change: object) => begin(taken.id, { ...inspection!.mapping, ...change }, { metrics: [takings] });
    expect((await as({})).fields['columns.Currency']).toContain('rows in EUR, USD');
    const skipped = { columns: { ...inspection!.mapping.columns, Currency: { as: 'skip' } } };
    expect((await as(skipped)).fields['columns.Currency']).toContain('Use it as the currency');
    expect((await as({ otherCurrency: 'left-out' })).status).toBe(200);
    await fixture.server.imports.idle();
    expect(await look(taken.id)).toMatchObject({ state: 'done', good: 3, bad: 2, unknown: [], hasRejects: true });
    expect(await total('takings', all)).toEqual({ value: 111 });
    // Once more by itself, from the feed's folder: nobody is asked again.
    const [feed] = await feeds();
    const { body: next } = await put('next.csv', MIXED.replace('GBP,100', 'GBP,300'), feed!.id);
    expect((await look(next.id)).inspection).toMatchObject({ doubts: [], mapping: { otherCurrency: 'left-out' } });
  });

  it('leaves its days open where nobody knows what it comes to', async () => {
    const { body: taken } = await put('takings.csv', MIXED);
    const { mapping } = (await look(taken.id)).inspection!;
    await begin(taken.id, { ...mapping, otherCurrency: 'unknown' }, { metrics: [takings] });
    await fixture.server.imports.idle();
    expect((await look(taken.id)).unknown).toEqual([{ from: '2026-10-02', to: '2026-10-03' }]);
    expect(await total('takings', all)).toEqual({ value: 111, partial: true, share: 0.5 });
  });

  const dropTo = async (feed: string) => {
    const params = { client, feed };
    const { path } = (await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/drop-key', { params })).body;
    return async (body: string) => {
      await fetch(`${fixture.server.url}${path}/next.csv`, { method: 'PUT', body });
      await fixture.server.imports.idle();
    };
  };
  const october = (currency: string, rate: number) => ({ currency, from: '2026-10-01', to: '2026-10-04', rate });

  it('is converted by the rates that a person gives, which figures and pages state; later days wait for theirs', async () => {
    const { body: taken } = await put('takings.csv', MIXED);
    const { mapping, days } = (await look(taken.id)).inspection!;
    expect(days).toEqual({ from: '2026-10-01', to: '2026-10-31' });
    const as = (rates: object[]) =>
      begin(taken.id, { ...mapping, otherCurrency: 'converted', rates } as FileMapping, { metrics: [takings] });
    expect((await as([october('EUR', 0.5)])).fields['columns.Currency']).toContain('Enter a rate to convert USD');
    expect((await as([october('EUR', 0.5), october('EUR', 0.6)])).fields.mapping).toContain('two rates for EUR');
    expect((await as([october('EUR', 0.5), october('USD', 2)])).status).toBe(200);
    await fixture.server.imports.idle();
    expect(await total('takings', all)).toEqual({ value: 111 + 1_000 + 14 });
    const shown = await fixture.owner.ask('GET /api/clients/:client/figures', {
      params: { client },
      query: { metrics: 'takings', period: all, compare: 'none' },
    });
    expect(shown.body.converted[0]).toMatch(
      /EUR converted at 1 EUR = 0\.5 GBP \(1.*4 Oct.*USD converted at 1 USD = 2 GBP/,
    );
    const own = (await clientById(fixture.server.store, client))!;
    expect((await orderBasis(fixture.server.store, own)).converted).toMatchObject([
      { measures: ['takings'], currency: 'EUR', into: 'GBP', rate: 0.5 },
      { currency: 'USD' },
    ]);
    const [feed] = await feeds();
    const drop = await dropTo(feed!.id);
    await drop('day,Currency,Takings\n2026-10-05,EUR,9\n');
    expect((await feeds())[0]).toMatchObject({ state: 'troubled', trouble: expect.stringContaining('needs review') });
    expect(await total('takings', '2026-10-05..2026-10-05')).toEqual({ na: 'not-covered' });
    await drop('day,Currency,Takings\n2026-10-04,EUR,4\n');
    expect(await total('takings', '2026-10-04..2026-10-04')).toEqual({ value: 2 });
  });

  it('goes into a feed for each currency, which later files go on with; one that is new waits for a person', async () => {
    const two = MIXED.replace('2026-10-03,USD,7\n', '');
    const { body: taken } = await put('takings.csv', two);
    const { mapping } = (await look(taken.id)).inspection!;
    await begin(taken.id, { ...mapping, otherCurrency: 'split' }, { metrics: [takings] });
    await fixture.server.imports.idle();
    expect((await feeds()).map((f) => f.name).sort()).toEqual(['Till of the shop', 'Till of the shop (EUR)']);
    expect(await total('takings', all)).toEqual({ value: 111 });
    expect(await total('takingsEur', '2026-10-02..2026-10-02')).toEqual({ value: 2_000 });
    const main = (await feeds()).find((f) => f.name === 'Till of the shop')!;
    const drop = await dropTo(main.id);
    await drop('day,Currency,Takings\n2026-10-05,EUR,9\n2026-10-05,GBP,8\n');
    expect(await total('takings', '2026-10-05..2026-10-05')).toEqual({ value: 8 });
    expect(await total('takingsEur', '2026-10-05..2026-10-05')).toEqual({ value: 9 });
    await drop('day,Currency,Takings\n2026-10-06,USD,9\n2026-10-06,GBP,8\n');
    expect(await total('takings', '2026-10-06..2026-10-06')).toEqual({ na: 'not-covered' });
    expect((await feeds()).find((f) => f.id === main.id)).toMatchObject({ state: 'troubled' });
  });

  it('that a heading names is left out, and taken where a person says that it is the client’s own', async () => {
    const { body: taken } = await put('costs.csv', 'day,Cost (USD)\n2026-10-01,5\n2026-10-02,6\n');
    const found = (await look(taken.id)).inspection!;
    expect(found.mapping.columns['Cost (USD)']).toEqual({ as: 'skip' });
    expect(found.notices.join(' ')).toContain('is in USD, not in GBP');
    const columns = { ...found.mapping.columns, 'Cost (USD)': { as: 'measure', key: 'adCost' } as const };
    const as = (change: object) => begin(taken.id, { ...found.mapping, columns, ...change }, { metrics: [] });
    expect((await as({})).fields['columns.Cost (USD)']).toContain('says USD');
    expect((await as({ ownMoney: ['Cost (USD)'] })).status).toBe(200);
    await fixture.server.imports.idle();
    expect(await total('adCost', '2026-10-01..2026-10-02')).toEqual({ value: 11 });
  });
});

describe('a table of days down its columns', () => {
  it('is read as a row for each day, shown so before, and by the next file of the same kind', async () => {
    const { body: taken } = await put('wide.csv', 'shop,2026-10-01,2026-10-02\nQuay,3,4\nHill,,5\n');
    const { mapping, columns } = (await look(taken.id)).inspection!;
    expect(columns.map((c) => c.name)).toEqual(['shop', 'Day', 'Value']);
    const preview = await fixture.owner.ask('POST /api/clients/:client/imports/:import/preview', {
      params: params(taken.id),
      body: { mapping },
    });
    expect(preview.body.rows.map((r) => [r.row, ...r.cells!])).toEqual([
      [2, '2026-10-01', 'Quay', 3],
      [2, '2026-10-02', 'Quay', 4],
      [3, '2026-10-02', 'Hill', 5],
    ]);
    await begin(taken.id, mapping, { metrics: metricsFor('value') });
    await fixture.server.imports.idle();
    const { body: next } = await put('wide2.csv', 'shop,2026-10-03,2026-10-04,2026-10-05\nQuay,1,1,x\n');
    expect(next.feed).toBe((await feeds())[0]!.id);
    await begin(next.id, mapping, { feed: next.feed, name: '', metrics: [] });
    await fixture.server.imports.idle();
    expect(await total('value', '2026-10-01..2026-10-04')).toEqual({ value: 14 });
    expect(await look(next.id)).toMatchObject({ good: 2, bad: 1 });
  });

  it('of weeks is a feed of weeks, which no file of days goes into', async () => {
    const done = await bring('weeks.csv', 'Week,sold\n2026-W40,70\n2026-W41,80\n');
    expect(done.range).toEqual({ from: '2026-09-28', to: '2026-10-11' });
    expect(await total('sold', '2026-09-28..2026-10-04')).toEqual({ value: 70 });
    expect(await total('sold', '2026-09-29..2026-10-04')).toHaveProperty('na');
    const [feed] = await feeds();
    const { body: days } = await put('days.csv', 'Week,sold\n2026-10-12,70\n');
    const { mapping } = (await look(days.id)).inspection!;
    const begun = await begin(days.id, { ...mapping, dates: 'ymd' }, { feed: feed!.id, name: '' });
    expect(begun.fields.feed).toContain('whole weeks');
  });
});

describe('a column of rates', () => {
  const RATES = 'day,shop,Open rate,sent\n2026-10-01,Quay,10%,100\n2026-10-01,Hill,50%,300\n2026-10-02,Quay,20%,100\n';
  const mapping = (found: ImportDetail): FileMapping => {
    const { mapping: m } = found.inspection!;
    return { ...m, columns: { ...m.columns, 'Open rate': { as: 'measure', key: 'opened' } } };
  };
  const rate = { key: 'opened', label: 'Opened', unit: 'percent', polarity: 'higher' };
  const sent = { key: 'sent', label: 'Sent', unit: 'count', polarity: 'higher', kind: 'sum' };

  it('is weighted by another one, and never added up', async () => {
    const { body } = await put('mails.csv', RATES);
    const found = await look(body.id);
    expect(found.inspection!.mapping.columns['Open rate']).toEqual({ as: 'skip' });
    const as = (kind: object) => begin(body.id, mapping(found), { metrics: [{ ...rate, ...kind }, sent] });
    expect((await as({ kind: 'sum' })).fields['columns.Open rate']).toContain('can’t be summed');
    expect((await as({ kind: 'level' })).fields['columns.Open rate']).toContain('one row per date');
    expect((await as({ kind: 'weighted' })).fields['metrics.opened']).toContain('Choose the weight column.');
    expect((await as({ kind: 'weighted', weight: 'sent' })).status).toBe(200);
    await fixture.server.imports.idle();
    expect(await total('opened', '2026-10-01..2026-10-02')).toEqual({ value: (10 + 150 + 20) / 500 });
    expect(await total('opened', '2026-10-01..2026-10-02', 'shop')).toEqual([
      ['Hill', { value: 0.5 }],
      ['Quay', { value: 0.15 }],
    ]);
  });

  it('adds up where a person says that it holds none', async () => {
    const { body } = await put('rates.csv', 'day,Rate cards\n2026-10-01,3\n2026-10-02,4\n');
    const { inspection } = await look(body.id);
    const columns = { ...inspection!.mapping.columns, 'Rate cards': { as: 'measure', key: 'cards' } as const };
    const card = { key: 'cards', label: 'Cards', unit: 'count', polarity: 'higher', kind: 'sum', noRates: true };
    await begin(body.id, { ...inspection!.mapping, columns }, { metrics: [card] });
    await fixture.server.imports.idle();
    expect(await total('cards', '2026-10-01..2026-10-02')).toEqual({ value: 7 });
  });
});

describe('a file at fault', () => {
  it('has its bad rows set aside, listed by row and reason, and harmless to spreadsheets', async () => {
    const rows = [
      'day,shop,sold',
      '2026-10-01,Quay,3',
      '2026-10-02,Quay',
      '2026-10-02,Quay,1,2',
      '02/10/2026,Quay,4',
      '2026-12-24,Quay,4',
      '2026-10-03,=HYPERLINK(1),-4',
      '2026-10-03,Quay,four',
      ',Quay,4',
      '2026-10-04,Quay,5',
    ];
    const done = await bring('till.csv', `${rows.join('\n')}\n`);
    expect(done).toMatchObject({ state: 'done', good: 2, bad: 7, hasRejects: true });
    const list = await (await fixture.owner.raw(`/api/clients/${client}/imports/${done.id}/rejects`)).text();
    const lines = list.trim().split('\r\n');
    expect(lines.map((l) => l.split(',')[0])).toEqual(['Row', '3', '4', '5', '6', '7', '8', '9']);
    expect(lines[1]).toContain('has 2 cells; the heading has 3');
    expect(lines[3]).toContain('is not a date like “');
    expect(lines[4]).toContain('is in the future');
    expect(lines[5]).toContain('below zero');
    expect(lines[5]).toContain("'=HYPERLINK(1)");
    expect(lines[7]).toContain('has no date');
  });

  it.each<[string, Body, string]>([
    ['empty.csv', '\n\n', 'The file has no rows.'],
    [
      'picture.csv',
      Buffer.from([0x89, 0x50, 0, 0, 1, 2, 3, 0]),
      'Unsupported file. Upload CSV, TSV, XLSX or JSON Lines.',
    ],
    ['list.json', '[{"a":1}]', 'JSON Lines'],
    [
      'old.xls',
      Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]),
      'This workbook has an old format or a password. Save it as XLSX without a password.',
    ],
    ['broken.xlsx', Buffer.from('PK\u0003\u0004nothing of the kind', 'latin1'), 'damaged'],
  ])('(%s) is refused in words, and the server goes on', async (name, body, words) => {
    const { body: taken } = await put(name, body);
    expect(taken).toMatchObject({ state: 'refused', problem: expect.stringContaining(words) });
    expect((await fixture.owner.ask('GET /api/health')).status).toBe(200);
  });

  it('with a quotation mark that is never closed loses no more than that row, and says which', async () => {
    const done = await bring('q.csv', 'day,shop,sold\n2026-10-01,Quay,3\n2026-10-02,"Quay,4\n2026-10-03,Hill,5\n');
    expect(done).toMatchObject({ good: 1, bad: 1 });
    const list = await (await fixture.owner.raw(`/api/clients/${client}/imports/${done.id}/rejects`)).text();
    expect(list).toContain('quotation mark');
    // One that swallows megabytes is not read to its end.
    const long = `day,shop,sold\n2026-10-01,Quay,3\n2026-10-02,"Quay,4\n${'2026-10-03,Hill,5\n'.repeat(600_000)}`;
    const { body: taken } = await put('long.csv', long);
    expect(taken).toMatchObject({ state: 'refused', problem: expect.stringContaining('Row 3') });
  });

  it('whose bytes are not the chosen encoding has those rows set aside', async () => {
    const rows = Array.from({ length: 30_000 }, (_, i) => `2026-10-${String((i % 28) + 1).padStart(2, '0')},Quay,1`);
    const body = Buffer.concat([
      Buffer.from(`day,shop,sold\n${rows.join('\n')}\n`),
      Buffer.from('2026-10-01,S\xfcd,3\n', 'latin1'),
    ]);
    const done = await bring('late.csv', body);
    expect(done).toMatchObject({ good: 30_000, bad: 1 });
  });

  it('that mixes styles of dates is read in the one that most rows have; duplicate and nameless columns are told', async () => {
    const { body: taken } = await put(
      'mix.csv',
      'day,sold,sold,\n25/09/2026,1,2,3\n26/09/2026,1,2,3\n09/27/2026,1,2,3\n',
    );
    const { inspection } = await look(taken.id);
    expect(inspection!.mapping.dates).toBe('dmy');
    expect(inspection!.columns.map((c) => c.name)).toEqual(['day', 'sold', 'sold (2)', 'Column 4']);
    expect(inspection!.notices.join(' ')).toMatch(
      /names more than one column.*no heading of its own.*more than one format/,
    );
    await begin(taken.id, inspection!.mapping, { metrics: metricsFor('sold', 'sold2', 'column4') });
    await fixture.server.imports.idle();
    expect(await look(taken.id)).toMatchObject({ state: 'done', good: 2, bad: 1 });
  });

  it('as a workbook: merged heads, errors and formulas without results are told; nothing is guessed', async () => {
    const row = (day: string, sold: string) => `<row><c t="d"><v>${day}</v></c>${sold}<c><v>1</v></c></row>`;
    const text = (said: string) => `<c t="inlineStr"><is><t>${said}</t></is></c>`;
    const sheet = `<sheetData><row>${text('day')}${text('sold')}<c/></row>${row('2026-10-01', '<c><v>3</v></c>')}${row(
      '2026-10-02',
      '<c t="e"><f>B2/0</f><v>#DIV/0!</v></c>',
    )}${row('2026-10-03', '<c><f>B2*2</f></c>')}</sheetData><mergeCells count="1"><mergeCell ref="B1:C1"/></mergeCells>`;
    const { body: taken } = await put('m.xlsx', await archived(bookFiles({ Sales: sheet })));
    const { inspection } = await look(taken.id);
    expect(inspection!.notices.join(' ')).toContain('Give each column one');
    const metrics = metricsFor(...Object.values(inspection!.mapping.columns).flatMap((u) => ('key' in u ? u.key : [])));
    await begin(taken.id, inspection!.mapping, { metrics });
    await fixture.server.imports.idle();
    expect(await look(taken.id)).toMatchObject({ good: 1, bad: 2 });
    const list = await (await fixture.owner.raw(`/api/clients/${client}/imports/${taken.id}/rejects`)).text();
    expect(list).toContain('#DIV/0!');
    expect(list).toContain('has a formula without its result');
  });

  it('that unpacks to gigabytes is not unpacked', async () => {
    // An archive of one entry that says it is small and is half a gigabyte of nothing.
    const packed = deflateRawSync(Buffer.alloc(64 * 1024 * 1024), { level: 9 });
    const zip = zipOf('xl/worksheets/sheet1.xml', packed, 3 * 1024 * 1024 * 1024);
    const { body: taken } = await put('bomb.xlsx', zip);
    expect(taken).toMatchObject({ state: 'refused', problem: expect.stringContaining('unpacks to more than') });
    const liar = await put('liar.xlsx', zipOf('xl/worksheets/sheet1.xml', packed, 1_000));
    expect(liar.body.state).toBe('refused');
  });

  it('larger than is taken is refused before and while it comes, and nothing of it stays', async () => {
    const told = await fetch(`${fixture.server.url}/api/clients/${client}/imports?name=big.csv`, {
      method: 'PUT',
      headers: { 'content-length': '2' },
      body: 'ab',
    });
    expect(told.status).toBe(401);
    const folder = join(fixture.config.data, 'imports');
    const before = readdirSync(folder).length;
    const block = Buffer.alloc(8 * 1024 * 1024, 'day,shop,sold\n');
    let sent = 0;
    const body = new ReadableStream({
      pull(to) {
        // Two gigabytes, if somebody takes them.
        if (sent++ < 256) to.enqueue(block);
        else to.close();
      },
    });
    const query = new URLSearchParams({ name: 'stream.csv' });
    const refused = await fixture.owner
      .raw(`/api/clients/${client}/imports?${query}`, { method: 'PUT', body, duplex: 'half' } as RequestInit)
      .then(async (r) => ({ status: r.status, text: await r.text() }))
      // The server may hang up on what it no longer reads.
      .catch(() => ({ status: 413, text: 'exceeds' }));
    expect(refused.status).toBe(413);
    expect(refused.text).toContain('exceeds');
    expect(sent).toBeLessThan(200);
    expect(readdirSync(folder)).toHaveLength(before);
    expect((await fixture.owner.ask('GET /api/health')).status).toBe(200);
  });
});

describe('an import', () => {
  const many = (rows: number) =>
    `day,shop,sold\n${Array.from({ length: rows }, (_, i) => `2026-0${1 + (i % 9)}-01,Shop ${i % 50},1`).join('\n')}\n`;

  it('is seen whole or not at all, can be stopped, and leaves nothing then', async () => {
    const { body: taken } = await put('many.csv', many(400_000));
    const { inspection } = await look(taken.id);
    await begin(taken.id, inspection!.mapping);
    const cancelled = await fixture.owner.ask('POST /api/clients/:client/imports/:import/cancel', {
      params: params(taken.id),
    });
    expect(cancelled.status).toBe(200);
    await fixture.server.imports.idle();
    expect(await look(taken.id)).toMatchObject({
      state: 'cancelled',
      problem: expect.stringContaining('Nothing was imported'),
    });
    expect(await total('sold', '2026-01-01..2026-10-31')).toEqual({ na: 'no-data' });
  });

  it('that a crash interrupted goes on after a restart, and can still be taken back', async () => {
    await bring('till.csv', GOOD);
    const [feed] = await feeds();
    const second = await bring('more.csv', 'day,shop,sold\n2026-10-04,Hill,50\n', { feed: feed!.id, name: '' });
    // As if the process had died between the facts and the row.
    const row = fixture.server.store.updateTable('file_import').set({ state: 'importing' });
    await row.where('id', '=', second.id).execute();
    await fixture.restart();
    await fixture.server.imports.idle();
    expect(await look(second.id)).toMatchObject({ state: 'done', canUndo: true });
    expect(await total('sold', '2026-10-01..2026-10-04')).toEqual({ value: 57 });
    await fixture.owner.ask('POST /api/clients/:client/imports/:import/undo', { params: params(second.id) });
    expect(await total('sold', '2026-10-01..2026-10-04')).toEqual({ value: 12 });
  });
});

describe('files that come by themselves', () => {
  const dropKey = async (feed: string) =>
    (await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/drop-key', { params: { client, feed } })).body;

  it('are put to a secret address, that of their feed alone, until another one is made', async () => {
    await bring('till.csv', GOOD);
    const [feed] = await feeds();
    const { path } = await dropKey(feed!.id);
    const drop = (to: string, body: string) => fetch(`${fixture.server.url}${to}/day.csv`, { method: 'PUT', body });
    const taken = await drop(path, 'day,shop,sold\n2026-10-05,Hill,7\n');
    expect(taken.status).toBe(202);
    await fixture.server.imports.idle();
    expect(await total('sold', '2026-10-01..2026-10-05')).toEqual({ value: 19 });
    // Columns that nobody told of wait for a person.
    const other = await drop(path, 'day,place,sold\n2026-10-06,Hill,7\n');
    expect(await other.json()).toMatchObject({ message: expect.stringContaining('It needs review first.') });
    expect((await feeds())[0]).toMatchObject({
      state: 'troubled',
      trouble: expect.stringContaining('day.csv needs review'),
    });
    const desk = (await fixture.owner.ask('GET /api/desk')).body.needs;
    expect(desk.find((n) => n.key === feed!.id)).toMatchObject({ action: { label: 'See files' } });
    await dropKey(feed!.id);
    expect((await drop(path, GOOD)).status).toBe(401);
    expect((await drop('/api/drop/nonsense', GOOD)).status).toBe(401);
  });

  it('are taken from the folder of their feed once nobody writes to them any more, with their description', async () => {
    await bring('till.csv', GOOD);
    const [feed] = await feeds();
    const { folder } = await dropKey(feed!.id);
    const at = join(fixture.config.inbox, folder);
    mkdirSync(at, { recursive: true });
    writeFileSync(join(at, 'late.csv'), 'day,shop,sold\n04/10/2026,Hill,1\n05/10/2026,Hill,7\n');
    const described = {
      tableSchema: { columns: [{ titles: 'day', datatype: { base: 'date', format: 'dd/MM/yyyy' } }] },
    };
    writeFileSync(join(at, 'late.csv-metadata.json'), JSON.stringify(described));
    await fixture.server.inbox.look();
    expect(readdirSync(at)).toContain('late.csv');
    await fixture.server.inbox.look();
    await fixture.server.imports.idle();
    expect(readdirSync(at)).toEqual([]);
    // The feed is used to another style of dates: what comes otherwise is set aside row by row, not guessed.
    const all = (await fixture.owner.ask('GET /api/clients/:client/imports', { params: { client } })).body;
    expect(all[0]).toMatchObject({ source: 'folder', fileName: 'late.csv' });
  });
});

/** An archive with one deflated entry that claims a size. */
function zipOf(name: string, packed: Buffer, claimed: number): Buffer {
  const local = Buffer.alloc(30);
  local.writeUInt32LE(0x04034b50, 0);
  local.writeUInt16LE(20, 4);
  local.writeUInt16LE(8, 8);
  local.writeUInt32LE(packed.length, 18);
  local.writeUInt32LE(claimed, 22);
  local.writeUInt16LE(name.length, 26);
  const central = Buffer.alloc(46);
  central.writeUInt32LE(0x02014b50, 0);
  central.writeUInt16LE(20, 6);
  central.writeUInt16LE(8, 10);
  central.writeUInt32LE(packed.length, 20);
  central.writeUInt32LE(claimed, 24);
  central.writeUInt16LE(name.length, 28);
  const file = Buffer.from(name);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(central.length + file.length, 12);
  end.writeUInt32LE(local.length + file.length + packed.length, 16);
  return Buffer.concat([local, file, packed, central, file, end]);
}
