import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { editing, OCTOBER, readOn } from '../test/editing.ts';
import { CLIENT, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z'));
});
afterAll(() => fixture.close());

const KIT = {
  main: '#203a5e',
  second: '#b0413e',
  footer: 'Made by Fernglass',
  address: 'Fernglass Media, 4 Mill Lane',
};
const client = async (id = f.client) =>
  (await fixture.owner.ask('GET /api/clients/:client', { params: { client: id } })).body;
const setAgency = (body: object) => fixture.owner.ask('PUT /api/agency/brand', { body });
const setOwn = (body: object) =>
  fixture.owner.ask('PUT /api/clients/:client/brand', { params: { client: f.client }, body });
const preview = async (brand?: object) => {
  const { body } = await fixture.owner.ask('POST /api/reports/:report/preview', {
    params: { report: f.report },
    body: { look: OCTOBER, brand },
  });
  const ops = body.pages.flatMap((p) => p.page!.ops) as { k: string; fill?: string; file?: string }[];
  return { texts: readOn(body.pages.map((p) => p.page!)), ops };
};
const picture = (as: string, body: Uint8Array) =>
  fixture.owner.raw(`/api/clients/${f.client}/logo?as=${as}`, { method: 'PUT', body });
const plain = { width: 900, height: 600, channels: 3 as const, background: '#5c8567' };

describe('the agency’s kit', () => {
  it('is what a new client has, and follows when it is changed', async () => {
    expect((await client()).brand.follows).toEqual(['colours', 'typefaces', 'footer', 'address', 'mail']);
    expect((await setAgency(KIT)).status).toBe(200);
    expect((await client()).drawn).toMatchObject(KIT);
    const { texts, ops } = await preview();
    expect(texts.join(' ')).toContain('Made by Fernglass');
    expect(texts.join(' ')).toContain('4 Mill Lane');
    expect(ops.some((o) => o.fill === KIT.main)).toBe(true);
    const [row] = (await fixture.owner.ask('GET /api/clients', { query: { text: 'Tarnbeck' } })).body.clients;
    expect(row!.colour).toBe(KIT.main);
  });

  it('leaves alone what a client has of its own', async () => {
    const own = { main: '#7a1f5c', second: '#1f7a4d', footer: 'By Tarnbeck', follows: ['address'] };
    expect((await setOwn(own)).fields).toEqual({});
    await setAgency({ ...KIT, main: '#004488', footer: 'Other', address: 'New address' });
    const { drawn } = await client();
    expect(drawn).toMatchObject({ main: '#7a1f5c', footer: 'By Tarnbeck', address: 'New address' });
    const [row] = (await fixture.owner.ask('GET /api/clients', { query: { text: 'Tarnbeck' } })).body.clients;
    expect(row!.colour).toBe('#7a1f5c');
    expect((await setOwn({ ...own, follows: ['nothing'] })).status).toBe(422);
    expect((await setAgency({ ...KIT, address: 'x'.repeat(241) })).fields.address).toMatch(/240/);
  });

  it('reaches editions that were drawn before and are not sent yet', async () => {
    await setOwn({ main: '#111111', second: '#222222', footer: '', follows: ['colours', 'footer', 'address'] });
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f),
    });
    await fixture.moveTo('2026-11-03T05:10:00Z');
    const pdf = async () =>
      (await fixture.server.store.selectFrom('edition').select('pdf').executeTakeFirstOrThrow()).pdf;
    const drawn = await pdf();
    expect(drawn).not.toBeNull();
    await setAgency({ ...KIT, main: '#5e2a20' });
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect(await pdf()).not.toBe(drawn);
    expect(fixture.simulators.mails.list()).toHaveLength(1);
  });
});

describe('a brand that is being chosen', () => {
  it('is seen on the client’s reports before it is kept', async () => {
    const chosen = { main: '#0b6e4f', second: '#c1121f', footer: 'As it would be', follows: [] };
    const { texts, ops } = await preview(chosen);
    expect(texts.join(' ')).toContain('As it would be');
    expect(ops.some((o) => o.fill === '#0b6e4f')).toBe(true);
    expect((await preview()).texts.join(' ')).not.toContain('As it would be');
  });

  it('has a logo, one for dark ground and a picture of its covers, each by itself', async () => {
    const png = new Uint8Array(await sharp({ create: plain }).png().toBuffer());
    for (const as of ['logo', 'logoDark', 'cover']) expect((await picture(as, png)).status).toBe(200);
    const { brand } = await client();
    expect(brand.cover).toMatchObject({ kind: 'image', width: 900 });
    const { file } = brand.cover!;
    expect((await fixture.owner.raw(`/api/clients/${f.client}/pictures/${file}`)).status).toBe(200);
    const report = editing(fixture, f);
    const page = { id: 'front', title: 'Front', rows: [{ id: 'fr', blocks: [{ kind: 'cover', id: 'c', text: '' }] }] };
    await report.edit({ op: 'addPage', page, after: null });
    expect((await preview()).ops.some((o) => o.k === 'image' && o.file === file)).toBe(true);
    const gone = await fixture.owner.ask('DELETE /api/clients/:client/logo', {
      params: { client: f.client },
      query: { as: 'cover' },
    });
    expect(gone.body.brand).toMatchObject({ cover: null, logo: { kind: 'image' } });
    const svg = new TextEncoder().encode(
      '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"><path d="M0 0L4 4Z"/></svg>',
    );
    expect(await (await picture('cover', svg)).json()).toMatchObject({ fields: { logo: /photograph/ } });
    expect((await picture('poster', png)).status).toBe(422);
    const other = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Hollin Dairy' } })).body.id;
    expect((await fixture.owner.raw(`/api/clients/${other}/pictures/${file}`)).status).toBe(404);
  });
});
