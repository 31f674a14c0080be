import { blocksOf, type Edit, STARTERS } from '@chronicon/core/report';
import { DEMO_TOKEN } from '@chronicon/simulators';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { editing } from '../test/editing.ts';
import {
  CLIENT,
  type Furnished,
  memberOf,
  openFurnishedFixture,
  type TestFixture,
  type Visitor,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let source: ReturnType<typeof editing>;
let template: string;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-02T08:42:00Z'));
  source = editing(fixture, f);
  template = (
    await fixture.owner.ask('POST /api/templates', {
      body: { name: 'Our shop month', about: 'For shops', report: f.report },
    })
  ).body.id;
});
afterAll(() => fixture.close());

let n = 0;
const newClient = async (name = `Client ${n++}`) =>
  (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name } })).body.id;
const reportFor = async (client: string, body: object) =>
  fixture.owner.ask('POST /api/clients/:client/reports', { params: { client }, body: { title: 'Month', ...body } });
const following = async (who: Visitor = fixture.owner) =>
  (await who.ask('GET /api/templates/:template/following', { params: { template } })).body.followers;
const typedTexts = async (report: string) =>
  (await fixture.owner.ask('GET /api/reports/:report/typed-texts', { params: { report } })).body.texts;
/** Takes the report's draft into the template, with every text that was typed. */
const take = async (texts?: string[]) =>
  fixture.owner.ask('POST /api/templates/:template/take', {
    params: { template },
    body: { report: f.report, texts: texts ?? (await typedTexts(f.report)).map((t) => t.text) },
  });
const follow = async (reports: string[], version?: number) => {
  const now = (await fixture.owner.ask('GET /api/templates/:template', { params: { template } })).body.version;
  return fixture.owner.ask('POST /api/templates/:template/follow', {
    params: { template },
    body: { version: version ?? now, reports },
  });
};
const at = (report: string) => editing(fixture, { report });
const headings = async (report: string) =>
  blocksOf((await at(report).load()).document).flatMap((b) => (b.kind === 'heading' ? b.text : []));
const setHeading = async (text: string): Promise<void> => {
  const block = blocksOf((await source.load()).document).find((b) => b.kind === 'heading')!;
  await source.edit({ op: 'setBlock', block: block.id, set: { text } });
};

describe('designs to begin with', () => {
  it('are those of the agency, then those that come with the product', async () => {
    const all = (await fixture.owner.ask('GET /api/templates')).body;
    expect(all.map((t) => t.id ?? t.starter)).toEqual([template, ...STARTERS.map((s) => s.key)]);
    expect(all.find((t) => t.id === template)).toMatchObject({ name: 'Our shop month', reports: 1, behind: 0 });
  });

  it('each make a report in the client’s language that opens and can be released', async () => {
    const client = (
      await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quillon', language: 'pl-PL' } })
    ).body.id;
    for (const { key } of STARTERS) {
      const made = await reportFor(client, { starter: key });
      expect([key, made.status, made.fields]).toEqual([key, 200, {}]);
      const { id, version } = made.body;
      expect((await at(id).shows()).sheets).toBeGreaterThanOrEqual(key === 'empty' ? 0 : 1);
      const released = await fixture.owner.ask('POST /api/reports/:report/release', {
        params: { report: id },
        body: { version },
      });
      expect(released.status).toBe(200);
    }
  });

  it('say what a client lacks for them, and what it has in its place', async () => {
    const client = await newClient();
    const feed = await fixture.owner.ask('POST /api/clients/:client/feeds', {
      params: { client },
      body: { kind: 'calls', account: 'ca-3502', token: DEMO_TOKEN },
    });
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/confirm', {
      params: { client, feed: feed.body.id },
    });
    await fixture.server.scheduler.settle();
    const needs = (
      await fixture.owner.ask('POST /api/clients/:client/needs', { params: { client }, body: { template } })
    ).body;
    const visits = needs.metrics.find((m) => m.key === 'visits')!;
    expect(visits).toMatchObject({ label: 'Visits', there: false });
    expect(visits.near.map((m) => m.key)).toContain('calls');
    expect(needs.metrics.find((m) => m.key === 'revenue')!.near).toEqual([]);
    expect(needs.dimensions.find((d) => d.key === 'channel')!.there).toBe(false);
    const own = (
      await fixture.owner.ask('POST /api/clients/:client/needs', { params: { client: f.client }, body: { template } })
    ).body;
    expect(own.metrics.every((m) => m.there)).toBe(true);
    const binding = { metrics: { visits: 'calls' }, dimensions: {} };
    const made = await reportFor(client, { template, binding });
    const rows = blocksOf(made.body.document).flatMap((b) => (b.kind === 'kpiRow' ? b.metrics : []));
    expect(rows).toContain('calls');
    expect(rows).not.toContain('visits');
    expect(
      (await reportFor(client, { template, binding: { metrics: { visits: 'no such' }, dimensions: {} } })).status,
    ).toBe(422);
  });

  it('take none of a client’s words, segments and pictures along', async () => {
    const block = blocksOf((await source.load()).document).find((b) => b.kind === 'commentary')!;
    const segment = (
      await fixture.owner.ask('POST /api/clients/:client/segments', {
        params: { client: f.client },
        body: { name: 'Phones', parts: [{ dimension: 'device', how: 'only', values: ['Mobile'] }] },
      })
    ).body.id;
    const ranking = blocksOf((await source.load()).document).find((b) => b.kind === 'ranking')!;
    await source.edit(
      { op: 'setBlock', block: block.id, set: { span: 'standing', text: 'A secret of Tarnbeck' } },
      {
        op: 'setBlock',
        block: ranking.id,
        set: { filter: [{ dimension: 'segment', how: 'only', values: [segment] }] },
      },
    );
    await take();
    const made = await reportFor(await newClient(), { template });
    expect(JSON.stringify(made.body.document)).not.toMatch(/secret|segment/);
    const copied = await reportFor(await newClient(), { report: f.report });
    expect(JSON.stringify(copied.body.document)).not.toMatch(/secret|segment/);
    expect(copied.body.template).toMatchObject({ id: template });
  });
});

describe('what somebody typed into a report', () => {
  it('is in no template and no other client’s report, unless it was seen and ticked', async () => {
    const [page] = (await source.load()).document.pages;
    await setHeading('Tarnbeck Pottery lost its dealer in Hull');
    await source.edit({ op: 'namePage', page: page!.id, title: 'Hull after the strike' });
    const texts = await typedTexts(f.report);
    expect(texts.filter((t) => /Hull/.test(t.text))).toEqual([
      { text: 'Hull after the strike', where: 'Title of a page', namesClient: false },
      {
        text: 'Tarnbeck Pottery lost its dealer in Hull',
        where: 'Heading on “Visits”',
        namesClient: true,
      },
    ]);
    await take([]);
    // Nor to somebody who may not see the client.
    const analyst = await memberOf(fixture, 'analyst.elsewhere@fernglass.example', 'analyst', [await newClient()]);
    const read = await analyst.ask('GET /api/templates/:template', { params: { template } });
    expect(read.status).toBe(200);
    expect(JSON.stringify(read.body)).not.toMatch(/Hull|Tarnbeck/);
    const made = await fixture.owner.ask('POST /api/templates', {
      body: { name: 'Nothing ticked', about: '', report: (await reportFor(f.client, { report: f.report })).body.id },
    });
    const bare = await analyst.ask('GET /api/templates/:template', { params: { template: made.body.id } });
    expect(JSON.stringify(bare.body)).not.toMatch(/Hull|Tarnbeck/);
    const client = await newClient('Alder & Finch');
    const clone = (texts: string[]) =>
      fixture.owner.ask('POST /api/reports/:report/clone', {
        params: { report: f.report },
        body: { clients: [client], texts },
      });
    const plain = (await clone([])).body.made[0]!.report;
    expect(JSON.stringify((await at(plain).load()).document)).not.toMatch(/Hull|Tarnbeck/);
    const ticked = (await clone(['Tarnbeck Pottery lost its dealer in Hull'])).body.made[0]!.report;
    expect(await headings(ticked)).toContain('Alder & Finch lost its dealer in Hull');
    await fixture.owner.ask('DELETE /api/templates/:template', { params: { template: made.body.id } });
  });

  it('names each client that follows by its own name', async () => {
    const client = await newClient('Quillon Yard');
    const made = (await reportFor(client, { template })).body.id;
    await setHeading('What Tarnbeck Pottery sells');
    await take();
    await follow([made]);
    expect(await headings(made)).toContain('What Quillon Yard sells');
    expect(await headings(f.report)).toContain('What Tarnbeck Pottery sells');
  });
});

describe('reports that follow a template', () => {
  it('have its change when somebody says so, each seen first, beside what was changed in them', async () => {
    const reports: string[] = [];
    for (let i = 0; i < 3; i++) reports.push((await reportFor(await newClient(), { template })).body.id);
    const trend = blocksOf((await at(reports[0]!).load()).document).find((b) => b.kind === 'trend')!;
    await at(reports[0]!).edit({ op: 'setBlock', block: trend.id, set: { title: 'Their own title' } });
    await setHeading('A new heading for all');
    await take();
    const before = (await following()).filter((x) => reports.includes(x.report));
    expect(before.map((x) => x.changes)).toEqual(
      before.map(() => [expect.stringMatching(/^Heading “.*”: .* changes\.$/)]),
    );
    expect(await headings(reports[1]!)).not.toContain('A new heading for all');

    const done = await follow(reports.slice(0, 2));
    expect(done.body.followed.map((x) => x.report)).toEqual(reports.slice(0, 2));
    expect(await headings(reports[0]!)).toContain('A new heading for all');
    expect(await headings(reports[2]!)).not.toContain('A new heading for all');
    const kept = blocksOf((await at(reports[0]!).load()).document).find((b) => b.id === trend.id);
    expect(kept).toMatchObject({ title: 'Their own title' });
    const list = await following();
    expect(list.find((x) => x.report === reports[0])!.changes).toEqual([]);

    // Each is undone by itself, and has the change before it again.
    const undo = list.find((x) => x.report === reports[0])!.undo!;
    const { version } = await at(reports[0]!).load();
    await fixture.owner.ask('POST /api/reports/:report/versions/:kept/restore', {
      params: { report: reports[0]!, kept: undo },
      body: { version },
    });
    expect(await headings(reports[0]!)).not.toContain('A new heading for all');
    expect(await headings(reports[1]!)).toContain('A new heading for all');
    expect((await following()).find((x) => x.report === reports[0])!.changes).toHaveLength(1);
    expect((await at(reports[0]!).load()).template).toMatchObject({ name: 'Our shop month' });
  });

  it('are shown a page at a time, those that are behind first', async () => {
    const reports: string[] = [];
    for (let i = 0; i < 2; i++) reports.push((await reportFor(await newClient(), { template })).body.id);
    await setHeading('Another heading again');
    await take();
    await follow([reports[0]!]);
    const page = async (page: string) =>
      (await fixture.owner.ask('GET /api/templates/:template/following', { params: { template }, query: { page } }))
        .body;
    const first = await page('1');
    const newest = Math.max(...first.followers.map((x) => x.version));
    const isBehind = first.followers.map((x) => x.version < newest);
    expect(isBehind).toEqual([...isBehind].sort((a, b) => Number(b) - Number(a)));
    expect(first.total).toBe(first.followers.length);
    expect(first.behind).toBe(isBehind.filter(Boolean).length);
    expect(first.behind).toBeGreaterThan(0);
    expect((await page('2')).followers).toEqual([]);
  });

  it('are left as they are where one of those that were chosen cannot follow', async () => {
    const follower = (await reportFor(await newClient(), { template })).body.id;
    const other = (await reportFor(await newClient(), { starter: STARTERS[0]!.key })).body.id;
    await setHeading('A heading that only one can have');
    await take();
    const refused = await follow([follower, other]);
    expect(refused.fields['reports.1']).toMatch(/doesn’t use th(e|is) template/);
    expect(await headings(follower)).not.toContain('A heading that only one can have');
  });

  it('keep their client’s metrics in the place of the template’s', async () => {
    const binding = { metrics: { visits: 'leads' }, dimensions: {} };
    const { id } = (await reportFor(await newClient(), { template, binding })).body;
    const page = (await source.load()).document.pages[0]!;
    const row = { id: 'added-row', blocks: [{ kind: 'kpi' as const, id: 'added', metric: 'visits' }] };
    await source.edit({ op: 'addRow', page: page.id, row, after: null } as Edit);
    await take();
    await follow([id]);
    const added = blocksOf((await at(id).load()).document).find((b) => b.id === 'added');
    expect(added).toMatchObject({ metric: 'leads' });
    const taken = await fixture.owner.ask('POST /api/templates/:template/take', {
      params: { template },
      body: { report: id },
    });
    expect(taken.fields.report).toMatch(
      /This report replaced metrics of the template\. Update the template from a report that uses its metrics\./,
    );
  });

  it('are not taken into it while they are behind: what others changed would be undone', async () => {
    const { id } = (await reportFor(await newClient(), { template })).body;
    await setHeading('Changed while it looked away');
    await take();
    const behind = () =>
      fixture.owner.ask('POST /api/templates/:template/take', { params: { template }, body: { report: id } });
    expect(await behind()).toMatchObject({ status: 409, body: { message: /would undo that/ } });
    await follow([id]);
    expect((await behind()).status).toBe(200);
    // And the source is behind now, in its turn.
    expect((await take()).status).toBe(409);
    await follow([f.report]);
  });

  it('say what they can no longer follow, and follow the rest', async () => {
    const { id } = (await reportFor(await newClient(), { template })).body;
    const heading = blocksOf((await at(id).load()).document).find((b) => b.kind === 'heading')!;
    await at(id).edit({ op: 'removeBlock', block: heading.id });
    await setHeading('Nobody here reads it');
    await take();
    const said = (await following()).find((x) => x.report === id)!;
    expect(said.leaves).toHaveLength(1);
    expect(said.changes).toEqual([]);
    expect((await follow([id])).status).toBe(200);
    expect(await headings(id)).toEqual([]);
  });

  it('follow what was seen alone: another version meanwhile, another template’s report, a stranger’s', async () => {
    const { id } = (await reportFor(await newClient(), { template })).body;
    expect((await follow([id], 1)).status).toBe(409);
    const { id: free } = (await reportFor(await newClient(), { starter: 'shop' })).body;
    expect((await follow([free])).fields).toEqual({
      'reports.0': expect.stringMatching(/It doesn’t use this template\./),
    });
    expect(
      (await fixture.owner.ask('POST /api/templates/:template/take', { params: { template }, body: { report: free } }))
        .fields.report,
    ).toMatch(/doesn’t use th(e|is) template/);
    const stranger = await memberOf(fixture, 'stranger@fernglass.example', 'manager', [await newClient('Theirs')]);
    expect(await following(stranger)).toEqual([]);
    const ask = (body: object, route: 'follow' | 'take') =>
      stranger.ask(`POST /api/templates/:template/${route}`, { params: { template }, body });
    expect((await ask({ version: 1, reports: [id] }, 'follow')).status).toBe(404);
    expect((await ask({ report: id }, 'take')).status).toBe(404);
    expect((await stranger.ask('POST /api/templates', { body: { name: 'X', about: '', report: id } })).status).toBe(
      404,
    );
    const [list] = (await stranger.ask('GET /api/templates')).body;
    expect(list).toMatchObject({ id: template, reports: 0, behind: 0 });
  });

  it('stay as they are when it is removed', async () => {
    const { id: other } = (
      await fixture.owner.ask('POST /api/templates', {
        body: {
          name: 'Short life',
          about: '',
          report: (await reportFor(await newClient(), { starter: 'leads' })).body.id,
        },
      })
    ).body;
    const { id } = (await reportFor(await newClient(), { template: other })).body;
    const name = (to: string) =>
      fixture.owner.ask('PUT /api/templates/:template', {
        params: { template: other },
        body: { name: to, about: 'a' },
      });
    expect((await name('our SHOP month')).fields.name).toMatch(/already/);
    expect((await name('Shorter')).status).toBe(200);
    expect((await fixture.owner.ask('DELETE /api/templates/:template', { params: { template: other } })).status).toBe(
      200,
    );
    expect((await at(id).load()).template).toBeNull();
    expect((await fixture.owner.ask('GET /api/templates/:template', { params: { template: other } })).status).toBe(404);
  });
});

describe('a design to begin with', () => {
  const needsOf = async (client: string, body: object) =>
    (await fixture.owner.ask('POST /api/clients/:client/needs', { params: { client }, body })).body;
  const blocksFor = async (client: string, body: object) =>
    blocksOf((await reportFor(client, body)).body.document).map((b) => b.kind);

  it('is made without what no feed answers, which is said before, and stands whole where nothing is known yet', async () => {
    const { drops } = await needsOf(f.client, { starter: 'upkeep' });
    expect(drops.length).toBeGreaterThan(0);
    const whole = blocksOf((await reportFor(await newClient(), { starter: 'upkeep' })).body.document).length;
    const made = await reportFor(f.client, { starter: 'upkeep' });
    const shown = blocksOf(made.body.document).length;
    expect(shown).toBeLessThan(whole);
    // It can be drawn at once: nothing of it would hold an edition.
    const preview = await fixture.owner.ask('POST /api/reports/:report/preview', {
      params: { report: made.body.id },
      body: {},
    });
    expect(preview.body.lacks.filter((l) => l.includes('No feed'))).toEqual([]);
    expect((await needsOf(await newClient(), { starter: 'upkeep' })).drops).toEqual([]);
  });

  it('keeps what it lacks where it is somebody’s own: a template says so in its place', async () => {
    expect((await needsOf(f.client, { template })).drops).toEqual([]);
    const all = blocksOf((await source.load()).document).length;
    expect(await blocksFor(f.client, { template })).toHaveLength(all);
  });
});

describe('a report for many clients', () => {
  it('is made for each as a draft, with what each lacks', async () => {
    const clients = [await newClient(), await newClient()];
    const made = await fixture.owner.ask('POST /api/reports/:report/clone', {
      params: { report: f.report },
      body: { clients, title: 'Cloned' },
    });
    expect(made.body.made.map((m) => m.client)).toEqual(clients);
    expect(made.body.made[0]!.missing).toContain('Visits');
    const first = await at(made.body.made[0]!.report).load();
    expect(first).toMatchObject({ title: 'Cloned', released: null, template: { id: template } });
    // The name of the one client makes way for that of the other.
    const named = await fixture.owner.ask('POST /api/reports/:report/clone', {
      params: { report: f.report },
      body: { clients, title: `${CLIENT.name}: the month` },
    });
    const own = (await fixture.owner.ask('GET /api/clients/:client', { params: { client: clients[0]! } })).body;
    expect((await at(named.body.made[0]!.report).load()).title).toBe(`${own.name}: the month`);
    const stranger = await memberOf(fixture, 'another@fernglass.example', 'manager', [f.client]);
    const refused = await stranger.ask('POST /api/reports/:report/clone', {
      params: { report: f.report },
      body: { clients },
    });
    expect(refused.status).toBe(404);
  });
});
