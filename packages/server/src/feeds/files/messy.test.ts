import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ImportDetail, ImportRow } from '@chronicon/core/contract';
import { type FileMapping, shapeOf } from '@chronicon/core/feeds';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CLIENT, openTestFixture, type TestFixture } from '../../test/harness.ts';
import { MESSY, type MessyFile, MONEY } from '../../test/messy/cases.ts';

const FOLDER = join(import.meta.dirname, '../../test/messy/files');
const FORTNIGHT = '2026-10-01..2026-10-14';

let fixture: TestFixture;
beforeAll(async () => {
  fixture = await openTestFixture('2026-11-02T08:42:00Z');
});
afterAll(() => fixture.close());

it('are in the repository as they are made', async () => {
  expect(readdirSync(FOLDER).sort()).toEqual(MESSY.map((m) => m.name).sort());
  for (const { name, body } of MESSY) {
    expect(readFileSync(join(FOLDER, name)).equals(Buffer.from(await body)), `${name}: npm run messy`).toBe(true);
  }
  expect(MESSY.length).toBeGreaterThanOrEqual(60);
});

async function put(client: string, { name }: MessyFile): Promise<ImportRow & { message?: string }> {
  const response = await fixture.owner.raw(`/api/clients/${client}/imports?${new URLSearchParams({ name })}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/octet-stream' },
    body: readFileSync(join(FOLDER, name)),
  });
  return (await response.json()) as ImportRow & { message?: string };
}

/** What a person says of it: their answers, and what each figure that is new is. */
function answered(found: ImportDetail, { answer, columns }: MessyFile) {
  const mapping: FileMapping = {
    ...found.inspection!.mapping,
    ...answer,
    columns: { ...found.inspection!.mapping.columns, ...columns },
  };
  const known = new Set(found.known.measures.map((m) => m.key));
  const metrics = shapeOf(mapping)
    .measures.filter((key) => !known.has(key))
    // What may be below zero is no count.
    .map((key) => ({ key, label: key, unit: unitOf(key), polarity: 'higher', kind: 'sum' }));
  return { mapping, feed: null, name: 'Till of the shops', metrics };
}
const unitOf = (key: string) => (MONEY.has(key) ? 'money' : key === 'refunds' ? 'decimal' : 'count');

async function totalOf(client: string, metric: string, period: string): Promise<number | 'partial' | 'none'> {
  const query = { metrics: metric, period, compare: 'none' } as const;
  const { status, body } = await fixture.owner.ask('GET /api/clients/:client/figures', { params: { client }, query });
  const value = status === 200 ? body.totals[0]!.current : { na: 'no-data' };
  return 'na' in value ? 'none' : 'partial' in value && value.partial ? 'partial' : (value as { value: number }).value;
}

describe('a messy file is read right, asked about, or refused in words', () => {
  it.each(MESSY.map((m) => [m.name, m] as const))('%s', async (_, messy) => {
    const client = (await fixture.owner.ask('POST /api/clients', { body: CLIENT })).body.id;
    const taken = await put(client, messy);
    if (messy.refused) {
      expect(taken.problem ?? taken.message).toMatch(messy.refused);
      return;
    }
    expect(taken.problem).toBeNull();
    const params = { client, import: taken.id };
    const look = async () => (await fixture.owner.ask('GET /api/clients/:client/imports/:import', { params })).body;
    const found = await look();
    expect(found.inspection!.doubts).toEqual(messy.asks ?? []);
    if (messy.says) expect(found.inspection!.notices.join('\n')).toMatch(messy.says);
    const begun = await fixture.owner.ask('POST /api/clients/:client/imports/:import/begin', {
      params,
      body: answered(found, messy),
    });
    if (messy.stops) {
      const [field, words] = messy.stops;
      expect(begun.fields[field]).toMatch(words);
      return;
    }
    expect(begun.body).not.toHaveProperty('message');
    await fixture.server.imports.idle();
    const done = await look();
    expect(done).toMatchObject({ state: 'done', problem: null });
    if (messy.bad !== undefined) expect(done.bad).toBe(messy.bad);
    if (messy.open !== undefined) expect(done.unknown.length > 0).toBe(messy.open);
    for (const [metric, expected] of Object.entries(messy.totals ?? {})) {
      const total = await totalOf(client, metric, messy.period ?? FORTNIGHT);
      if (typeof expected === 'string') expect(total, metric).toBe(expected);
      else expect(total, metric).toBeCloseTo(expected, 6);
    }
  });
});
