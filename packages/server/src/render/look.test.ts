import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NO_SETTINGS, type Target } from '@chronicon/core/figures';
import type { DrawOrder } from '@chronicon/core/page';
import { A4, type Block, type ReportDocument } from '@chronicon/core/report';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createColumnCache } from '../facts/columnCache.ts';
import { type FactDb, type FactRow, openFactReader, openFacts, replaceDays, saveDataset } from '../facts/factStore.ts';
import { draw, look } from './draw.ts';
import { createShaper } from './shaper.ts';
import { createThreadCache } from './threadCache.ts';

const folder = mkdtempSync(join(tmpdir(), 'chronicon-look-'));
const shaper = createShaper();
const kept = createThreadCache();
const columns = createColumnCache(10_000_000);
const SPEC = {
  key: 'visits',
  name: 'Visits',
  firstDay: '2026-01-01',
  dimensions: ['channel'],
  measures: ['visits', 'revenue'],
};
const OCTOBER = { from: '2026-10-01', to: '2026-10-31' };
let facts: FactDb;
/** The workers read while somebody writes. */
let reader: ReturnType<typeof openFactReader>;
let dataset: string;

const fetched = async (visits: number, upTo = '2026-10-31') => {
  const rows: FactRow[] = [];
  for (let day = 1; day <= 31; day++)
    rows.push({
      day: `2026-10-${String(day).padStart(2, '0')}`,
      dims: [day % 3 === 0 ? 'Email' : 'Direct'],
      measures: [visits, visits * 4],
    });
  const known = rows.filter((r) => r.day <= upTo);
  await replaceDays(facts, dataset, SPEC, { from: OCTOBER.from, to: upTo }, known, '2026-11-01T04:00:00Z');
};

beforeAll(async () => {
  facts = await openFacts(folder);
  dataset = await saveDataset(facts, { feedId: 'fe_1', clientId: 'cl_1', position: 0 }, SPEC);
  await fetched(100, '2026-10-20');
  reader = openFactReader(folder);
});
afterAll(async () => {
  await reader.destroy();
  await facts.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const page = (id: string, ...blocks: Block[]) => ({
  id,
  title: id,
  rows: blocks.map((b, i) => ({ id: `${id}r${i}`, blocks: [b] })),
});
const design = (): ReportDocument => ({
  version: 2,
  period: { kind: 'fixed', ...OCTOBER },
  comparison: { kind: 'previous' },
  pages: [
    page('one', { kind: 'kpiRow', id: 'k', metrics: ['visits', 'revenue'] }),
    page('two', { kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 5, title: '' }),
    page('three', { kind: 'trend', id: 't', metric: 'visits', title: '' }),
  ],
});

const orderOf = (more: Partial<DrawOrder> = {}): DrawOrder => ({
  clientId: 'cl_1',
  clientName: 'Tarnbeck Pottery',
  agencyName: 'Fernglass Media',
  manager: null,
  asOf: '2026-11-02',
  title: 'October',
  document: design(),
  period: OCTOBER,
  compared: null,
  paper: A4,
  metrics: NO_SETTINGS,
  targets: [],
  holidays: [],
  dayNotes: [],
  commentary: {},
  brand: { main: '#274e66', second: '#d98f3d', footer: '', logo: null },
  mailMetrics: [],
  language: 'en-GB',
  currency: 'GBP',
  ...more,
});

/** Both ways of drawing one order; what is looked at is what is sent. */
async function both(order: DrawOrder) {
  const sent = await draw(order, reader, shaper);
  const looked = await look(order, reader, shaper, columns, kept);
  if (looked.scene === null) throw new Error('it asks for pictures');
  expect(looked.scene).toEqual(sent.scene);
  expect(looked.lacks).toEqual(sent.lacks);
  return looked.scene.pages.map((p) => p.ops.flatMap((op) => (op.k === 'text' ? [op.text.trim()] : [])).join(' '));
}

describe('a report that is looked at over and over', () => {
  it('is drawn as it would be sent, after edits of each kind and after the figures changed beneath it', async () => {
    const first = await both(orderOf());
    expect(first[0]).toContain('2,000');
    const document = design();
    document.pages.reverse();
    expect((await both(orderOf({ document })))[2]).toContain('2,000');

    await fetched(100);
    expect((await both(orderOf()))[0]).toContain('3,100');
    await fetched(70);
    expect((await both(orderOf()))[0]).toContain('2,170');

    const target: Target = { metric: 'visits', span: 'month', from: '2026-10', value: 9_000, repeats: false };
    await both(orderOf({ targets: [target], yardstick: { kind: 'target' } }));
    await both(orderOf({ compared: { from: '2026-09-01', to: '2026-09-30' } }));
    await both(orderOf({ brand: { main: '#800000', second: '#d98f3d', footer: 'In confidence', logo: null } }));
    await both(orderOf({ language: 'de-DE', currency: 'EUR' }));
    await both(orderOf({ commentary: { k: 'Nothing.' } }));
    expect((await both(orderOf()))[0]).toContain('2,170');
  });

  it('counts what an own metric says now, not what it said before', async () => {
    const own = (formula: string) => ({
      ...NO_SETTINGS,
      own: [{ key: 'margin', label: 'Margin', unit: 'money', polarity: 'higher', formula, definition: '' } as const],
    });
    const document: ReportDocument = {
      ...design(),
      pages: [page('one', { kind: 'kpiRow', id: 'k', metrics: ['margin'] })],
    };
    const quarter = own('revenue / 4');
    expect((await both(orderOf({ document, metrics: quarter })))[0]).toContain('£2,170');
    expect((await both(orderOf({ document, metrics: own('revenue / 2') })))[0]).toContain('£4,340');
  });

  it('shows nothing of one client in the report of another', async () => {
    await both(orderOf());
    const [text] = await both(orderOf({ clientId: 'cl_2' }));
    expect(text).not.toContain('2,170');
  });
});
