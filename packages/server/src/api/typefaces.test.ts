import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { fontPath } from '../render/fonts.ts';
import { cubicFont } from '../test/cubicFont.ts';
import {
  editionsOf,
  type Furnished,
  MANAGER,
  openFurnishedFixture,
  REVIEWER,
  scheduleFor,
  sendSeen,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';
import { tablesOf, viewOf } from '../workers/typeface/tables.ts';

const lora = new Uint8Array(readFileSync(fontPath('lora-400')));
const loraBold = new Uint8Array(readFileSync(fontPath('lora-600')));

/** The same file with another word of permissions. */
function withRights(data: Uint8Array, rights: number): Uint8Array {
  const copy = data.slice();
  viewOf(tablesOf(copy).get('OS/2')!).setUint16(8, rights);
  return copy;
}

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

interface Brought {
  id: string;
  name: string;
  regular: string;
  bold: string | null;
  said: string[];
  usedBy: string[];
}

async function bring(
  who: Visitor,
  data: Uint8Array,
  query = '',
): Promise<{ status: number; body: Brought & { fields: Record<string, string>; message: string } }> {
  const reply = await who.raw(`/api/typefaces${query}`, { method: 'PUT', body: Buffer.from(data) });
  return { status: reply.status, body: (await reply.json()) as Awaited<ReturnType<typeof bring>>['body'] };
}

const BRAND = { main: '#2f6b3a', second: '#b8862d', footer: '', follows: [] };
const own = ({ name, regular, bold }: Brought) => ({ kind: 'own' as const, name, regular, bold });
const brandWith = (text: Brought) =>
  fixture.owner.ask('PUT /api/clients/:client/brand', {
    params: { client: f.client },
    body: { ...BRAND, typefaces: { text: own(text), heads: 'inter' } },
  });
const facesShown = async () => {
  const { body } = await fixture.owner.ask('POST /api/reports/:report/preview', {
    params: { report: f.report },
    body: { look: { kind: 'own' } },
  });
  return new Set(body.pages.flatMap((p) => p.page!.ops.flatMap((op) => (op.k === 'text' ? [op.face as string] : []))));
};
const pdf = async () => Buffer.from(await (await fixture.owner.raw(`/api/reports/${f.report}/pdf`)).arrayBuffer());

async function wordsOf(file: Buffer): Promise<string> {
  const page = await (await getDocument({ data: new Uint8Array(file) }).promise).getPage(1);
  const { items } = await page.getTextContent();
  return items.map((i) => ('str' in i ? i.str : '')).join('');
}

describe('a typeface that was brought', () => {
  it('is written with by a kit, on the screen and on paper alike, and can be taken away when no kit does', async () => {
    const { body: first } = await bring(fixture.owner, cubicFont(lora), '?name=tarn.otf');
    expect(first).toMatchObject({ name: 'Lora', bold: null, usedBy: [] });
    const { body: both } = await bring(fixture.owner, loraBold, `?as=bold&of=${first.id}`);
    expect(both).toMatchObject({ id: first.id, bold: expect.stringMatching(/^[0-9a-f]{64}$/) });
    expect((await brandWith(both)).status).toBe(200);

    const shown = await facesShown();
    expect([...shown]).toEqual(expect.arrayContaining([`own-${both.regular}`, `own-${both.bold}`, 'inter-600']));
    const served = await fixture.owner.raw(`/api/typefaces/${both.regular}`);
    expect(served.headers.get('content-type')).toBe('font/ttf');
    const file = await pdf();
    expect(file.toString('latin1')).toContain(`+Text-own-${both.regular}`);
    expect(await wordsOf(file)).toContain('Visits');

    const used = (await fixture.owner.ask('GET /api/typefaces')).body;
    expect(used.map((t) => t.usedBy)).toEqual([['Tarnbeck Pottery']]);
    const params = { typeface: both.id };
    const no = await fixture.owner.ask('DELETE /api/typefaces/:typeface', { params });
    expect(no.status).toBe(409);
    expect(JSON.stringify(no.body)).toContain('Tarnbeck Pottery writes with it');
    await fixture.owner.ask('PUT /api/clients/:client/brand', {
      params: { client: f.client },
      body: { ...BRAND, typefaces: { text: 'sourceSans', heads: 'sourceSerif' } },
    });
    expect((await fixture.owner.ask('DELETE /api/typefaces/:typeface', { params })).status).toBe(200);
    expect((await fixture.owner.ask('GET /api/typefaces')).body).toEqual([]);
    // What was sent with it is still seen as it was sent; nothing new is written with it.
    expect((await fixture.owner.raw(`/api/typefaces/${both.regular}`)).status).toBe(200);
    expect(await brandWith(both)).toMatchObject({
      status: 422,
      fields: { typefaces: expect.stringContaining('was deleted') },
    });
  });

  it('that may not be parted is embedded whole, and its words are copied all the same', async () => {
    const { body } = await bring(fixture.owner, withRights(lora, 0x0104));
    expect(body.said.at(-1)).toContain('Its licence allows only full embedding: each PDF is up to');
    await brandWith(body);
    const file = await pdf();
    const text = file.toString('latin1');
    expect(text).toContain(`/FontName /Text-own-${body.regular}`);
    expect(text).toMatch(/\/CIDToGIDMap \d+ 0 R/);
    expect(await wordsOf(file)).toContain('Visits');
    expect(file.length).toBeGreaterThan(lora.length / 2);
  });

  it('is refused in words where its maker, its kind or its state says no, and nothing is kept', async () => {
    for (const [data, said] of [
      [withRights(lora, 2), /This font’s licence forbids embedding\. Use another font\./],
      [lora.slice(0, 900), /damaged/],
      [new TextEncoder().encode('<svg/>'), /Not a font file\./],
    ] as const) {
      const reply = await bring(fixture.owner, data);
      expect(reply.status).toBe(422);
      expect(reply.body.fields.typeface).toMatch(said);
    }
    expect((await fixture.owner.ask('GET /api/typefaces')).body).toEqual([]);
  });

  it('is one however often it is brought; a bold one that kits write with is not changed under them', async () => {
    const [a, b] = [await bring(fixture.owner, lora), await bring(fixture.owner, lora)];
    expect(a.body.id).toBe(b.body.id);
    const { body } = await bring(fixture.owner, loraBold, `?as=bold&of=${a.body.id}`);
    await brandWith(body);
    const other = await bring(fixture.owner, lora, `?as=bold&of=${a.body.id}`);
    expect(other).toMatchObject({ status: 409, body: { message: expect.stringContaining('separate font') } });
    expect((await bring(fixture.owner, loraBold, '?as=bold&of=tf_none')).status).toBe(404);
  });

  it('whose file is lost is said by name where the report is edited, and holds what would be sent until it is back', async () => {
    const { body } = await bring(fixture.owner, lora);
    await brandWith(body);
    const path = join(fixture.config.data, 'files', body.regular.slice(0, 2), body.regular);
    rmSync(path);
    const seen = async () =>
      (
        await fixture.owner.ask('POST /api/reports/:report/preview', {
          params: { report: f.report },
          body: { look: { kind: 'dates', from: '2026-10-01', to: '2026-10-31' } },
        })
      ).body;
    expect((await seen()).lacks.join(' ')).toContain('The font file of Lora is missing or damaged.');
    expect((await facesShown()).has('sans')).toBe(true);
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f),
    });
    await fixture.moveTo('2026-11-03T05:10:00Z');
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect(fixture.simulators.mails.list()).toEqual([]);
    const [held] = await editionsOf(fixture, f.client);
    expect(held).toMatchObject({ state: 'held', reason: expect.stringContaining('font file of Lora') });
    await bring(fixture.owner, lora);
    expect((await seen()).lacks.join(' ')).not.toContain('Lora');
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: held!.id } });
    await fixture.server.scheduler.settle();
    // Its time has passed: a person looks, and sends.
    await sendSeen(fixture, held!.id);
    expect(fixture.simulators.mails.list()).toHaveLength(1);
  });

  it('is called by letters: no mark of direction turns what stands beside it', async () => {
    const { body } = await bring(fixture.owner, lora);
    expect((await brandWith({ ...body, name: '\u202eevil' })).fields).toEqual({
      'typefaces.text.name': 'Use letters, digits and punctuation only.',
    });
  });

  it('is a maker’s to bring and to take away; another’s file is no typeface', async () => {
    const reviewer = await visit(fixture.server.url, REVIEWER);
    const manager = await visit(fixture.server.url, MANAGER);
    expect((await bring(reviewer, lora)).status).toBe(403);
    const { body } = await bring(manager, lora);
    expect((await reviewer.ask('DELETE /api/typefaces/:typeface', { params: { typeface: body.id } })).status).toBe(403);
    expect((await reviewer.raw(`/api/typefaces/${body.regular}`)).status).toBe(200);
    expect((await reviewer.raw(`/api/typefaces/${'0'.repeat(64)}`)).status).toBe(404);
    expect(await (await fetch(`${fixture.server.url}/api/typefaces/${body.regular}`)).status).toBe(401);
  });
});
