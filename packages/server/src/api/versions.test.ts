import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { editing } from '../test/editing.ts';
import { type Furnished, openFurnishedFixture, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let report: ReturnType<typeof editing>;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  report = editing(fixture, f);
});
afterEach(() => fixture.close());

const params = (more = {}) => ({ report: f.report, ...more });
const versions = async () => (await fixture.owner.ask('GET /api/reports/:report/versions', { params: params() })).body;
const keep = async (name: string, version?: number) =>
  fixture.owner.ask('POST /api/reports/:report/versions', {
    params: params(),
    body: { name, version: version ?? (await report.load()).version },
  });
const restore = async (kept: string, version?: number) =>
  fixture.owner.ask('POST /api/reports/:report/versions/:kept/restore', {
    params: params({ kept }),
    body: { version: version ?? (await report.load()).version },
  });

describe('what a report was', () => {
  it('is kept at each release, and by a name when somebody says so, the newest first', async () => {
    await fixture.moveTo('2026-11-02T09:00:00Z');
    await report.edit({ op: 'title', title: 'Second' });
    await report.release();
    await fixture.moveTo('2026-11-02T09:01:00Z');
    await report.edit({ op: 'title', title: 'Third' });
    expect((await keep('Before the board met')).status).toBe(200);
    expect((await versions()).map((v) => [v.kind, v.name, v.title, v.by])).toEqual([
      ['kept', 'Before the board met', 'Third', 'Ines Tallow'],
      ['release', '', 'Second', 'Ines Tallow'],
      ['release', '', 'Monthly overview', 'Ines Tallow'],
    ]);
  });

  it('is brought back whole, as the draft alone, and what it is now is kept', async () => {
    const before = await report.load();
    const [first] = await versions();
    await report.edit({ op: 'removePage', page: before.document.pages[1]!.id }, { op: 'title', title: 'Short' });
    const back = await restore(first!.id);
    expect(back.status).toBe(200);
    expect(await report.load()).toMatchObject({ title: before.title, document: before.document });
    expect((await report.load()).released!.current).toBe(true);
    const [kept] = await versions();
    expect(kept).toMatchObject({ id: back.body.kept, kind: 'before', title: 'Short' });
    // And that is taken back by the same way.
    await restore(kept!.id);
    expect((await report.load()).title).toBe('Short');
  });

  it('is neither kept nor brought back over what somebody else saved meanwhile', async () => {
    const { version } = await report.load();
    const [first] = await versions();
    await report.edit({ op: 'title', title: 'Meanwhile' });
    expect((await keep('Mine', version)).status).toBe(409);
    expect((await restore(first!.id, version)).status).toBe(409);
    expect((await report.load()).title).toBe('Meanwhile');
    const both = await Promise.all([restore(first!.id), restore(first!.id)]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 409]);
  });

  it('has names, which only releases may be without', async () => {
    const { id } = (await keep('Draft of spring')).body;
    const name = (kept: string, to: string) =>
      fixture.owner.ask('PUT /api/reports/:report/versions/:kept', { params: params({ kept }), body: { name: to } });
    expect((await name(id, 'Spring')).status).toBe(200);
    expect((await name(id, ' ')).fields.name).toMatch(/name/);
    const release = (await versions()).find((v) => v.kind === 'release')!;
    await name(release.id, 'As the client saw it');
    expect((await name(release.id, '')).status).toBe(200);
    expect((await keep('')).fields.name).toMatch(/name/);
    expect((await keep('x'.repeat(81))).status).toBe(422);
    const one = await fixture.owner.ask('GET /api/reports/:report/versions/:kept', { params: params({ kept: id }) });
    expect(one.body).toMatchObject({ name: 'Spring', document: { version: 2 } });
  });

  it('of very many, the oldest without a name is let go', async () => {
    await keep('Stays');
    const { n: _, ...like } = await fixture.server.store
      .selectFrom('report_version')
      .selectAll()
      .executeTakeFirstOrThrow();
    const rows = Array.from({ length: 400 }, (_, i) => ({
      ...like,
      id: `rv_many_${i}`,
      name: '',
      at: `2027-01-01T00:00:00.${String(i).padStart(3, '0')}Z`,
    }));
    for (let i = 0; i < rows.length; i += 50)
      await fixture.server.store
        .insertInto('report_version')
        .values(rows.slice(i, i + 50))
        .execute();
    await fixture.moveTo('2027-02-01T09:00:00Z');
    await keep('And this');
    const left = await versions();
    expect(left.map((v) => v.name).filter((n) => n !== '')).toEqual(['And this', 'Stays']);
    expect(left).toHaveLength(401);
    expect(left.some((v) => v.id === 'rv_many_0')).toBe(false);
  });

  it('is not another report’s', async () => {
    const [first] = await versions();
    const other = (
      await fixture.owner.ask('POST /api/clients/:client/reports', {
        params: { client: f.client },
        body: { title: 'Other', starter: 'empty' },
      })
    ).body.id;
    const at = { report: other, kept: first!.id };
    expect((await fixture.owner.ask('GET /api/reports/:report/versions/:kept', { params: at })).status).toBe(404);
    const body = { version: 1 };
    expect(
      (await fixture.owner.ask('POST /api/reports/:report/versions/:kept/restore', { params: at, body })).status,
    ).toBe(404);
  });
});
