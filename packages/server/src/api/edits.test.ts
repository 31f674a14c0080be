import { blocksOf, type Edit, type ReportDocument } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { askedBy, GoneError } from '../platform/asking.ts';
import { ACCOUNT, type Furnished, MANAGER, openFurnishedFixture, type TestFixture, visit } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const params = () => ({ report: f.report });
const load = async () => (await fixture.owner.ask('GET /api/reports/:report', { params: params() })).body;
const edit = (version: number, ...edits: Edit[]) =>
  fixture.owner.ask('POST /api/reports/:report/edits', { params: params(), body: { version, edits } });
const headings = async () => blocksOf((await load()).document).filter((b) => b.kind === 'heading');

describe('edits of a report', () => {
  it('change what they name, and say the new version', async () => {
    const before = await load();
    const [heading] = await headings();
    const saved = await edit(before.version, { op: 'setBlock', block: heading!.id, set: { text: 'How we did' } });
    expect(saved).toMatchObject({ status: 200, body: { version: before.version + 1, now: null } });
    expect((await headings())[0]).toMatchObject({ text: 'How we did' });
    expect((await load()).released).toMatchObject({ current: false });
  });

  it('of two people stand beside each other; each is told what the other did', async () => {
    const { version } = await load();
    const titled = (draft: ReportDocument) =>
      blocksOf(draft).flatMap((b) => (b.kind === 'trend' ? [{ id: b.id, title: b.title }] : []));
    const [first, second] = titled((await load()).document).map((b) => b.id) as [string, string];
    await fixture.owner.ask('GET /api/desk');
    const [mine, theirs] = await Promise.all([
      edit(version, { op: 'setBlock', block: first, set: { title: 'Mine' } }),
      edit(version, { op: 'setBlock', block: second, set: { title: 'Theirs' } }),
    ]);
    expect([mine.status, theirs.status]).toEqual([200, 200]);
    expect(titled((await load()).document).map((b) => b.title)).toEqual(['Mine', 'Theirs']);
    expect([mine.body.version, theirs.body.version].sort()).toEqual([version + 1, version + 2]);
    const later = mine.body.version > theirs.body.version ? mine : theirs;
    expect(titled(later.body.now!.document).map((b) => b.title)).toEqual(['Mine', 'Theirs']);
  });

  it('that come twice, over a line that broke, are saved once', async () => {
    const { version } = await load();
    const [heading] = await headings();
    const change: Edit = { op: 'setBlock', block: heading!.id, set: { text: 'Once' } };
    const once = await edit(version, change);
    const twice = await edit(version, change);
    expect(twice.body.version).toBe(once.body.version);
    const entries = await fixture.server.store
      .selectFrom('ledger')
      .select('id')
      .where('action', '=', 'report.saved')
      .where('subject', '=', f.report)
      .execute();
    expect(entries).toHaveLength(1);
  });

  it('of what is gone are refused by their place, and nothing of them is done', async () => {
    const before = await load();
    const edits: Edit[] = [
      { op: 'title', title: 'Another' },
      { op: 'setBlock', block: 'bl_gone', set: { text: 'x' } },
    ];
    const refused = await edit(before.version, ...edits);
    expect(refused.status).toBe(409);
    expect(Object.keys(refused.fields)).toEqual(['edits.1']);
    expect((await load()).title).toBe(before.title);
  });

  it.each([
    [
      'a heading without words',
      (id: string): Edit => ({ op: 'setBlock', block: id, set: { text: ' ' } }),
      'Enter a heading',
    ],
    ['a choice that the kind has not', (id: string): Edit => ({ op: 'setBlock', block: id, set: { colour: 'x' } }), ''],
    ['another kind', (id: string): Edit => ({ op: 'setBlock', block: id, set: { kind: 'trend' } }), 'kind'],
    [
      'a metric that the client has not',
      (): Edit => ({
        op: 'addRow',
        page: 'p',
        row: { id: 'r', blocks: [{ kind: 'trend', id: 't', metric: 'nosuch', title: '' }] },
        after: null,
      }),
      'nosuch',
    ],
    ['a page without a title', (): Edit => ({ op: 'namePage', page: 'p', title: '' }), 'title'],
  ])('that would make it %s are refused, and nothing is lost', async (_, make, said) => {
    const before = await load();
    const [heading] = await headings();
    const change = make(heading!.id);
    const page = before.document.pages[0]!.id;
    const refused = await edit(before.version, 'page' in change ? ({ ...change, page } as Edit) : change);
    expect(refused.status).toBe(422);
    expect(Object.values(refused.fields).join(' ')).toContain(said);
    expect(await load()).toEqual(before);
  });

  it('reach no report of a client that one does not see', async () => {
    const stranger = await visit(fixture.server.url, MANAGER);
    const body = { version: 1, edits: [{ op: 'title', title: 'Mine now' }] };
    const answer = await stranger.ask('POST /api/reports/:report/edits', { params: params(), body });
    expect(answer.status).toBe(404);
  });
});

describe('the kinds of blocks', () => {
  it('are offered with their choices, a new one of what the client has, and each of them can be added', async () => {
    const { body: kinds } = await fixture.owner.ask('GET /api/clients/:client/blocks', {
      params: { client: f.client },
    });
    expect(kinds.map((k) => k.label).sort()).toEqual(Object.values(wordsFor('en-GB').blocks).sort());
    const ranking = kinds.find((k) => k.kind === 'ranking')!;
    expect(ranking.fields).toContainEqual({
      key: 'n',
      kind: 'count',
      label: 'Rows before “Other”',
      least: 1,
      most: 50,
    });
    const { version, document } = await load();
    const added = kinds.map(({ fresh }, i): Edit => {
      const block = { ...fresh, id: `b${i}` };
      return { op: 'addRow', page: document.pages[1]!.id, row: { id: `r${i}`, blocks: [block] }, after: null };
    });
    expect((await edit(version, ...added)).status).toBe(200);
    const { body } = await fixture.owner.ask('POST /api/reports/:report/preview', { params: params() });
    expect(body.pages.flatMap((p) => p.page!.blocks.map((b) => b.id))).toEqual(
      expect.arrayContaining(['b1', 'b2', 'b3']),
    );
  });
});

describe('a preview', () => {
  it('asks no service; what only services can count is asked for by a route of its own', async () => {
    const { version, document } = await load();
    const kpis = blocksOf(document).find((b) => b.kind === 'kpiRow')!;
    await edit(version, {
      op: 'setBlock',
      block: kpis.id,
      set: { metrics: ['visitors', 'visits'] },
    });
    // Whoever asked it would wait for ever.
    fixture.simulators.faults.set(ACCOUNT, 'slow');
    const preview = async () =>
      (await fixture.owner.ask('POST /api/reports/:report/preview', { params: params() })).body;
    const before = await preview();
    expect(before.uncounted).toBe(true);
    fixture.simulators.faults.set(ACCOUNT, 'none');
    const count = async () =>
      (await fixture.owner.ask('POST /api/reports/:report/count', { params: params() })).body.asked;
    expect(await count()).toBeGreaterThan(0);
    // A person is not kept waiting for a slow service: what it counts later is there for the next look.
    await expect.poll(count, { timeout: 120_000, interval: 300 }).toBe(0);
    expect(await preview()).toMatchObject({ uncounted: false, lacks: [] });
  });

  it('that nobody waits for any more is not drawn', async () => {
    const { workers } = fixture.server;
    const gone = new AbortController();
    const asks = Array.from({ length: 6 }, () => askedBy('me', () => workers.gallery('en-GB', 'huge'), gone.signal));
    gone.abort();
    const ends = await Promise.allSettled(asks);
    // What had a thread already is finished; what waited in turn is not begun.
    const dropped = ends.filter((e) => e.status === 'rejected' && e.reason instanceof GoneError);
    expect(dropped.length).toBeGreaterThanOrEqual(4);
  });
});
