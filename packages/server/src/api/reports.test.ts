import { deflateSync } from 'node:zlib';
import type { ScenePage } from '@chronicon/core/page';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CLIENT, editionsOf, type Furnished, openFurnishedFixture, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterAll(() => fixture.close());

const params = () => ({ report: f.report });
const load = async () => (await fixture.owner.ask('GET /api/reports/:report', { params: params() })).body;
const preview = async (body: object = {}) =>
  (await fixture.owner.ask('POST /api/reports/:report/preview', { params: params(), body })).body;
const textsOf = (pages: { page: ScenePage | null }[]) =>
  pages.flatMap((p) => p.page!.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : [])));

/** CRC-32 of PNG chunks (ISO 3309), for a picture made here. */
function crc(bytes: Buffer): number {
  let c = ~0;
  for (const b of bytes) {
    c ^= b;
    for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  }
  return ~c >>> 0;
}

/** A PNG of one colour with an alpha channel. */
function png(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const out = Buffer.alloc(8 + body.length);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc(body), 4 + body.length);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 6, 0, 0, 0], 8);
  const row = Buffer.concat([Buffer.from([0]), Buffer.alloc(width * 4, 0x80)]);
  const rows = Buffer.concat(Array.from({ length: height }, () => row));
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

describe('a report', () => {
  it('begins in the client’s language from a starter, two pages, last month against the month before', async () => {
    const report = await load();
    expect(report.document.pages).toHaveLength(2);
    const shown = await preview();
    expect(shown.period).toMatchObject({ label: 'October 2026', from: '2026-10-01', to: '2026-10-31' });
    expect(shown.compared).toMatchObject({ label: 'September 2026' });
    expect(shown.lacks).toEqual([]);
    expect(textsOf(shown.pages)).toContain('Revenue per day');
  });

  it('shows an edit before it is saved, and sends again only the page that changed', async () => {
    const { document } = await load();
    const first = await preview();
    const edited = structuredClone(document);
    const heading = edited.pages[1]!.rows[0]!.blocks[0]!;
    if (heading.kind !== 'heading') throw new Error('not a heading');
    heading.text = 'Another heading';
    const next = await preview({ document: edited, have: first.pages.map((p) => p.hash) });
    expect(next.pages.map((p) => p.page === null)).toEqual([true, false]);
    expect(textsOf([next.pages[1]!])).toContain('Another heading');
    expect((await load()).document).toEqual(document);
  });

  it('says in the preview which days its figures lack', async () => {
    const { document } = await load();
    const shown = await preview({ document: { ...document, period: { kind: 'unit', unit: 'month', offset: 0 } } });
    expect(shown.lacks.join(' ')).toContain('no data yet for 2–30 November 2026');
  });

  it('compares with what is asked for, and with nothing', async () => {
    const { document } = await load();
    const year = await preview({ document: { ...document, comparison: { kind: 'lastYear' } } });
    expect(year.compared?.label).toBe('October 2025');
    const none = await preview({ document: { ...document, comparison: { kind: 'none' } } });
    expect(none.compared).toBeNull();
    expect(textsOf(none.pages).some((t) => t.startsWith('compared with'))).toBe(false);
  });

  it.each([
    [
      'a period that runs backwards',
      { period: { kind: 'fixed', from: '2026-10-02', to: '2026-10-01' } },
      'document.period.to',
    ],
    ['no page', { pages: [] }, 'document.pages'],
  ])('is not saved with %s', async (_, change, field) => {
    const report = await load();
    const body = { title: report.title, version: report.version, document: { ...report.document, ...change } };
    const answer = await fixture.owner.ask('PUT /api/reports/:report', { params: params(), body });
    expect([answer.status, Object.keys(answer.fields)]).toEqual([422, [field]]);
    expect((await load()).version).toBe(report.version);
  });
});

describe('the brand', () => {
  it('is on the page: a PNG logo, both colours, the footer', async () => {
    const upload = await fixture.owner.raw(`/api/clients/${f.client}/logo`, {
      method: 'PUT',
      body: new Uint8Array(png(40, 20)),
    });
    expect(upload.status).toBe(200);
    const brand = { main: '#123456', second: '#abcdef', footer: 'Made with care' };
    await fixture.owner.ask('PUT /api/clients/:client/brand', { params: { client: f.client }, body: brand });
    const { pages } = await preview();
    const ops = pages[0]!.page!.ops;
    const picture = ops.find((op) => op.k === 'image')!;
    expect(picture).toMatchObject({ w: 68, h: 34 });
    expect(JSON.stringify(ops)).toContain('#abcdef');
    expect(textsOf(pages)).toContain('Made with care');
    const served = await fixture.owner.raw(
      `/api/clients/${f.client}/pictures/${picture.k === 'image' ? picture.file : ''}`,
    );
    expect(served.headers.get('content-type')).toBe('image/png');

    await fixture.owner.ask('POST /api/reports/:report/make', { params: params(), body: { contacts: [] } });
    await fixture.server.scheduler.settle();
    const [edition] = await editionsOf(fixture, f.client);
    const pdf = Buffer.from(await (await fixture.owner.raw(`/api/editions/${edition!.id}/pdf`)).arrayBuffer());
    const document = await getDocument({ data: Uint8Array.from(pdf) }).promise;
    expect(document.numPages).toBe(pages.length);
    expect(pdf.toString('latin1')).toContain('/Subtype /Image');
  });

  it('refuses a colour that is none, at its field', async () => {
    const body = { main: 'blue', second: '#abcdef', footer: '' };
    const answer = await fixture.owner.ask('PUT /api/clients/:client/brand', { params: { client: f.client }, body });
    expect(Object.keys(answer.fields)).toEqual(['main']);
  });

  it('goes back to the name when the logo is taken away', async () => {
    await fixture.owner.ask('DELETE /api/clients/:client/logo', { params: { client: f.client } });
    expect(textsOf((await preview()).pages)).toContain('Tarnbeck Pottery');
  });
});

describe('a client with feeds', () => {
  it('keeps its zone and currency, and may change the rest', async () => {
    const change = (patch: object) =>
      fixture.owner.ask('PUT /api/clients/:client', { params: { client: f.client }, body: { ...CLIENT, ...patch } });
    expect((await change({ currency: 'EUR' })).fields.currency).toContain('and GBP');
    expect((await change({ zone: 'Europe/Paris' })).fields.zone).toContain('data uses Europe/London');
    const renamed = await change({ name: 'Tarnbeck Potteries' });
    expect([renamed.status, renamed.body.name, renamed.body.currency]).toEqual([200, 'Tarnbeck Potteries', 'GBP']);
  });
});

describe('the clock of a demo', () => {
  it('goes forward only, says so at its field, and stays where it was put over a restart', async () => {
    const back = await fixture.owner.ask('POST /api/demo/clock', { body: { to: '2026-10-01T00:00:00Z' } });
    expect([back.status, back.fields.to]).toEqual([422, 'The clock only moves forward; choose a later time.']);
    const on = await fixture.owner.ask('POST /api/demo/clock', { body: { to: '2026-11-20T09:00:00Z' } });
    expect(on.body.now.slice(0, 16)).toBe('2026-11-20T09:00');
    // Who moved it by days is still signed in.
    expect((await fixture.owner.ask('GET /api/session')).status).toBe(200);
    await fixture.restart();
    expect(fixture.server.clock.now().slice(0, 13)).toBe('2026-11-20T09');
    expect(fixture.simulators.clock.now().toISOString().slice(0, 13)).toBe('2026-11-20T09');
  });
});
