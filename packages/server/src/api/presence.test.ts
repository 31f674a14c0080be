import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { editing } from '../test/editing.ts';
import {
  type Furnished,
  memberOf,
  openFurnishedFixture,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let manager: Visitor;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  manager = await memberOf(fixture, 'tove@fernglass.example', 'manager', [f.client]);
});
afterEach(() => fixture.close());

const here = async (
  who: Visitor,
  window: string,
  block: string | null,
  more: { version?: number; leaving?: boolean } = {},
) =>
  who.ask('PUT /api/reports/:report/here', {
    params: { report: f.report },
    body: { window, block, version: 1, ...more },
  });

describe('who is in a report', () => {
  it('is told to the others by name and block, each window for itself, and not to oneself', async () => {
    expect((await here(fixture.owner, 'w1', 'b1')).body.others).toEqual([]);
    expect((await here(manager, 'w2', null)).body.others).toEqual([{ window: 'w1', name: 'Ines Tallow', block: 'b1' }]);
    await here(fixture.owner, 'w1', 'b2');
    await here(fixture.owner, 'w3', null);
    expect((await here(manager, 'w2', null)).body.others.map((o) => [o.window, o.block])).toEqual([
      ['w1', 'b2'],
      ['w3', null],
    ]);
    expect((await here(fixture.owner, 'w1', 'b2')).body.others.map((o) => o.window)).toEqual(['w3', 'w2']);
  });

  it('is gone when they leave, or say nothing for a while', async () => {
    await here(fixture.owner, 'w1', 'b1');
    await here(fixture.owner, 'w1', null, { leaving: true });
    expect((await here(manager, 'w2', null)).body.others).toEqual([]);
    await here(fixture.owner, 'w1', 'b1');
    await fixture.moveTo('2026-11-02T08:43:00Z');
    manager = await visit(fixture.server.url, 'tove@fernglass.example');
    expect((await here(manager, 'w2', null)).body.others).toEqual([]);
    await fixture.moveTo('2026-11-02T08:46:00Z');
    await here(fixture.owner, 'w9', null);
    expect(await fixture.server.store.selectFrom('presence').select('window').execute()).toEqual([{ window: 'w9' }]);
  });

  it('brings what the report is now, where it is another version', async () => {
    expect((await here(manager, 'w2', null)).body).toMatchObject({ version: 1, now: null });
    await editing(fixture, f).edit({ op: 'title', title: 'Another title' });
    expect((await here(manager, 'w2', null)).body).toMatchObject({ version: 2, now: { title: 'Another title' } });
    expect((await here(manager, 'w2', null, { version: 2 })).body).toMatchObject({ version: 2, now: null });
  });

  it('is nobody’s to see who does not see the client', async () => {
    const stranger = await memberOf(fixture, 'nobody@fernglass.example', 'analyst', []);
    expect((await here(stranger, 'w4', null)).status).toBe(404);
    expect((await here(fixture.owner, '', null)).status).toBe(422);
    const reviewer = await memberOf(fixture, 'ebba@fernglass.example', 'reviewer', [f.client]);
    expect((await here(reviewer, 'w5', null)).status).toBe(200);
  });
});

describe('what two write for one period', () => {
  it('hands over the words in whose place the later ones stand', async () => {
    const report = editing(fixture, f);
    const block = (await report.load()).document.pages
      .flatMap((p) => p.rows.flatMap((r) => r.blocks))
      .find((b) => b.kind === 'commentary')!.id;
    const write = async (who: Visitor, text: string, before?: string) =>
      (
        await who.ask('PUT /api/reports/:report/commentary', {
          params: { report: f.report },
          body: { block, from: '2026-10-01', to: '2026-10-31', text, before },
        })
      ).body.over;
    expect(await write(fixture.owner, 'Owner wrote this', '')).toBeNull();
    expect(await write(manager, 'Manager wrote that', '')).toBe('Owner wrote this');
    expect(await write(manager, 'Manager wrote that, and more', 'Manager wrote that')).toBeNull();
    expect(await write(fixture.owner, 'Owner again', 'Owner wrote this')).toBe('Manager wrote that, and more');
    expect(await write(fixture.owner, 'Without a word of before')).toBeNull();
  });
});
