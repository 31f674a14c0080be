import { OWN_NAME } from '@chronicon/core/bounds';
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
let report: ReturnType<typeof editing>;

beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
  report = editing(fixture, f);
});
afterAll(() => fixture.close());

const call = (label: string, name: string, who: Visitor = fixture.owner, dimension = 'channel') =>
  who.ask('PUT /api/clients/:client/names', { params: { client: f.client }, body: { dimension, label, name } });
const names = async (client = f.client) =>
  (await fixture.owner.ask('GET /api/clients/:client/names', { params: { client } })).body;
const channels = async (filter = '') => {
  const query = { metrics: 'visits', by: 'channel', period: 'month.-1', filter };
  return (await fixture.owner.ask('GET /api/clients/:client/figures', { params: { client: f.client }, query })).body;
};

describe('what a client calls a value', () => {
  it('stands in all its reports and in Figures, in place of the feed’s label', async () => {
    const before = (await report.shows()).texts;
    expect(before).toContain('Paid search');
    expect((await call('Paid search', 'Bezahlte Suche')).status).toBe(200);
    const { texts } = await report.shows();
    expect(texts).toContain('Bezahlte Suche');
    expect(texts).not.toContain('Paid search');
    // In the sentence above the page, too.
    expect(texts.filter((t) => t.includes('Paid search'))).toEqual([]);
    const { rows } = (await channels()).breakdown!;
    expect(rows.find((r) => r.label === 'Paid search')).toMatchObject({ name: 'Bezahlte Suche' });
    expect(rows.find((r) => r.label === 'Direct')).not.toHaveProperty('name');
    const query = { metric: 'visits', by: 'channel', period: 'month.-1', compare: 'previous' };
    const why = await fixture.owner.ask('GET /api/clients/:client/figures/why', {
      params: { client: f.client },
      query,
    });
    expect(JSON.stringify(why.body.drivers)).toContain('Bezahlte Suche');
    expect(why.body.sentence).not.toContain('Paid search');
    const asked = 'metrics=visits&by=channel&period=month.-1&as=csv';
    const table = await fixture.owner.raw(`/api/clients/${f.client}/figures/table?${asked}`);
    expect(await table.text()).toContain('Bezahlte Suche');
    expect(await names()).toEqual({ channel: { 'Paid search': 'Bezahlte Suche' } });
  });

  it('changes no figure, and what is filtered by stays what the feed says', async () => {
    const { body } = await fixture.owner.ask('GET /api/clients/:client/figures', {
      params: { client: f.client },
      query: { metrics: 'visits', period: 'month.-1', filter: 'channel=Paid search' },
    });
    expect(body.totals[0]!.current).toMatchObject({ value: expect.any(Number) });
    expect((body.totals[0]!.current as { value: number }).value).toBeGreaterThan(0);
  });

  it('follows a change, and goes by an empty name', async () => {
    await call('Paid search', 'Anzeigen');
    expect((await report.shows()).texts).toContain('Anzeigen');
    await call('Paid search', '');
    expect(await names()).toEqual({});
    expect((await report.shows()).texts).toContain('Paid search');
  });

  it('is one client’s: others keep theirs', async () => {
    await call('Email', 'Rundbrief');
    const other = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quillon Cycle Works' } }))
      .body.id;
    expect(await names(other)).toEqual({});
    const stranger = await memberOf(fixture, 'stranger@fernglass.example', 'manager', [other]);
    expect((await call('Email', 'Mine', stranger)).status).toBe(404);
    expect(await names()).toEqual({ channel: { Email: 'Rundbrief' } });
  });

  it('is bounded, and of a dimension that there is', async () => {
    expect((await call('Email', 'x'.repeat(OWN_NAME + 1))).fields.name).toMatch(String(OWN_NAME));
    expect((await call('Email', 'x'.repeat(OWN_NAME))).status).toBe(200);
    expect((await call('Email', 'Mail', fixture.owner, 'nothing')).fields.dimension).toMatch(/Dimension not found\./);
    expect((await call('', 'Mail')).status).toBe(422);
    await call('Email', '');
  });
});
