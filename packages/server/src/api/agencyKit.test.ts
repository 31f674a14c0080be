import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { editing, OCTOBER, pageOf } from '../test/editing.ts';
import { CLIENT, type Furnished, memberOf, openFurnishedFixture, type TestFixture } from '../test/harness.ts';

const WHITE = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 10"><path fill="#ffffff" d="M1 1h18v8h-18z"/></svg>',
);

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  await editing(fixture, f).edit(pageOf('front', { kind: 'cover', id: 'c', text: '', ground: 'colour' }));
});
afterEach(() => fixture.close());

const KIT = { main: '#7a1f3d', second: '#a86a12', footer: 'From Fernglass', address: '' };
const OWN = { main: '#2f6b3a', second: '#b8862d', footer: 'Ours' };
const follow = (...follows: ('colours' | 'logo' | 'cover' | 'footer')[]) =>
  fixture.owner.ask('PUT /api/clients/:client/brand', { params: { client: f.client }, body: { ...OWN, follows } });
const bring = (as: string) => fixture.owner.raw(`/api/agency/logo?as=${as}`, { method: 'PUT', body: WHITE });

/** What is filled and written on all pages, by what is being chosen of the agency's kit. */
async function drawn(agencyBrand?: typeof KIT) {
  const { body } = await fixture.owner.ask('POST /api/reports/:report/preview', {
    params: { report: f.report },
    body: { look: OCTOBER, ...(agencyBrand && { agencyBrand }) },
  });
  const ops = body.pages.flatMap((p) => p.page!.ops);
  return {
    fills: new Set(ops.flatMap((op) => (op.k === 'rect' || op.k === 'path' ? [op.fill] : []))),
    texts: ops.flatMap((op) => (op.k === 'text' ? [op.text] : [])).join(' '),
    /** Drawings in white: the logo for dark ground. */
    white: ops.filter((op) => op.k === 'path' && op.fill === '#ffffff').length,
  };
}

describe('the agency’s kit', () => {
  it('gives its logo to clients that want it, on the cover’s own ground; the rest keep theirs', async () => {
    expect((await bring('logoDark')).status).toBe(200);
    expect((await drawn()).white).toBe(0);
    await follow('logo');
    expect((await drawn()).white).toBeGreaterThan(0);
    // What is typed of the kit leaves its pictures where they are.
    await fixture.owner.ask('PUT /api/agency/brand', { body: KIT });
    expect((await drawn()).white).toBeGreaterThan(0);
    await fixture.owner.ask('DELETE /api/agency/logo', { query: { as: 'logoDark' } });
    expect((await drawn()).white).toBe(0);
    const fresh = await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quillon Cycle Works' } });
    const made = (await fixture.owner.ask('GET /api/clients/:client', { params: { client: fresh.body.id } })).body;
    // A new client is not the agency.
    expect(made.brand.follows).not.toContain('logo');
    expect(made.brand.follows).toContain('typefaces');
  });

  it('shows the reports that follow it as they would be, before it is kept', async () => {
    const followers = async () => (await fixture.owner.ask('GET /api/agency/brand/followers')).body;
    await follow();
    expect(await followers()).toEqual([]);
    await follow('colours', 'footer');
    expect(await followers()).toEqual([
      expect.objectContaining({ id: f.report, client: { id: f.client, name: 'Tarnbeck Pottery' } }),
    ]);
    const before = await drawn();
    expect(before.fills).not.toContain(KIT.main);
    const tried = await drawn(KIT);
    expect(tried.fills).toContain(KIT.main);
    expect(tried.texts).toContain('From Fernglass');
    expect((await drawn()).texts).toBe(before.texts);
    await follow();
    expect((await drawn(KIT)).fills).not.toContain(KIT.main);
  });

  it('is an owner’s to change', async () => {
    const manager = await memberOf(fixture, 'kell@fernglass.example', 'manager', [f.client]);
    expect((await manager.raw('/api/agency/logo', { method: 'PUT', body: WHITE })).status).toBe(403);
    expect((await manager.ask('DELETE /api/agency/logo', { query: { as: 'logo' } })).status).toBe(403);
    expect((await bring('nothing')).status).toBe(422);
    expect((await bring('cover')).status).toBe(422);
  });
});
