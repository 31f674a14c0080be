import type { Edit } from '@chronicon/core/contract/edits';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  editionsOf,
  type Furnished,
  openFurnishedFixture,
  scheduleFor,
  sendSeen,
  type TestFixture,
} from '../test/harness.ts';
import { bytesOf, dictAt, get, listAt, openPdf, textAt } from '../test/pdfFile.ts';

let fixture: TestFixture;
let f: Furnished;

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';

beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const edit = async (...edits: Edit[]) => {
  const params = { report: f.report };
  const { version } = (await fixture.owner.ask('GET /api/reports/:report', { params })).body;
  const saved = await fixture.owner.ask('POST /api/reports/:report/edits', { params, body: { version, edits } });
  expect(saved.status).toBe(200);
  await fixture.owner.ask('POST /api/reports/:report/release', { params, body: { version: saved.body.version } });
};
const schedule = () =>
  fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body: scheduleFor(f) });
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const pdfOf = async () =>
  openPdf(new Uint8Array(await (await fixture.owner.raw(`/api/reports/${f.report}/pdf`)).arrayBuffer()));
const sizes = async () =>
  (await pdfOf()).pdf.getPages().map((p) => [Math.round(p.getWidth()), Math.round(p.getHeight())]);

describe('paper', () => {
  it('is the agency’s, unless the client, the report or the page has another', async () => {
    const settings = (await fixture.owner.ask('GET /api/clients/:client', { params: { client: f.client } })).body;
    expect((await sizes())[0]).toEqual([595, 842]);
    await fixture.owner.ask('PUT /api/agency/paper', { body: { size: 'letter', orientation: 'portrait' } });
    expect((await sizes())[0]).toEqual([612, 792]);
    const params = { client: f.client };
    await fixture.owner.ask('PUT /api/clients/:client', {
      params,
      body: { ...settings, paperSize: 'a4', orientation: 'landscape' },
    });
    expect((await sizes())[0]).toEqual([842, 595]);
    await edit({ op: 'paper', page: null, paper: { orientation: 'portrait' } });
    expect((await sizes())[0]).toEqual([595, 842]);
    const { document } = (await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body;
    await edit({ op: 'paper', page: document.pages[1]!.id, paper: { size: 'letter', orientation: 'landscape' } });
    const [first, ...more] = await sizes();
    expect(first).toEqual([595, 842]);
    expect(more.at(-1)).toEqual([792, 612]);
  });

  it('is refused where there is none of the name', async () => {
    const body = { size: 'a5', orientation: 'portrait' } as never;
    expect((await fixture.owner.ask('PUT /api/agency/paper', { body })).status).toBe(422);
  });
});

describe('figures that go along', () => {
  it('are within the file where the report asks, and in the mail that goes out', async () => {
    const names = async () => {
      const { catalog } = await pdfOf();
      return listAt(catalog, 'AF').map((f) => textAt(f as never, 'UF'));
    };
    expect(await names()).toEqual([]);
    await edit({ op: 'attachFigures', attach: true });
    expect((await names())[0]).toMatch(/^Tarnbeck Pottery .+\.csv$/);
    await schedule();
    await fixture.moveTo(SENT);
    await fixture.server.scheduler.settle();
    const mail = await fixture.simulators.mails.read(fixture.simulators.mails.list()[0]!.id);
    const file = await openPdf(new Uint8Array(mail!.parsed.attachments[0]!.content));
    const [spec] = listAt(file.catalog, 'AF');
    const csv = Buffer.from(bytesOf(get(dictAt(spec as never, 'EF')!, 'F'))).toString('utf8');
    expect(csv.split('\r\n')[0]).toContain('Page,Block,Figure,Label,From,To,Value');
    expect(csv).toMatch(/Overview,KPI row,Visits,,2026-10-01,2026-10-31,\d+,2026-09-01,2026-09-30,\d+,/);
  });
});

describe('a character that no face can draw', () => {
  const lost = 'Overview \u{10380}';

  it('is told of in the composer and before the edition goes, which waits for a person', async () => {
    await edit({ op: 'title', title: lost });
    const { lacks } = (
      await fixture.owner.ask('POST /api/reports/:report/preview', { params: { report: f.report }, body: {} })
    ).body;
    expect(lacks.join(' ')).toContain('No font supports U+10380');
    await schedule();
    await fixture.moveTo(DRAWN);
    const held = await edition();
    expect(held).toMatchObject({ state: 'held', hasPdf: true, may: { send: true } });
    expect(held.reason).toContain('No font supports U+10380');
    const { needs } = (await fixture.owner.ask('GET /api/desk')).body;
    expect(needs[0]).toMatchObject({ action: { label: 'Review and send', to: `/editions/${held.id}` } });
    expect(needs[0]!.title).toContain(': some characters can’t be displayed');
    const review = (await fixture.owner.ask('GET /api/editions/:edition/review', { params: { edition: held.id } }))
      .body;
    expect(review.remarks[0]).toContain('U+10380');
    await fixture.moveTo(SENT);
    expect(fixture.simulators.mails.list()).toEqual([]);
    await sendSeen(fixture, held.id);
    await fixture.server.scheduler.settle();
    expect(fixture.simulators.mails.list()).toHaveLength(1);
  });

  it('lets the edition go by itself once it is written otherwise', async () => {
    await edit({ op: 'title', title: lost });
    await schedule();
    await fixture.moveTo(DRAWN);
    expect((await edition()).state).toBe('held');
    await edit({ op: 'title', title: 'Overview' });
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('ready');
  });
});
