import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Columns } from '@chronicon/core/figures';
import fc from 'fast-check';
import { sql } from 'kysely';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openSqlite } from '../store/sqlite.ts';
import { decodeChunk, encodeChunk } from './chunkCodec.ts';
import { createColumnCache } from './columnCache.ts';
import { fetchesOf } from './coverage.ts';
import { datasetsOf, inSnapshot, readNeeds } from './factReader.ts';
import {
  type FactDb,
  type FactRow,
  factPath,
  openFactReader,
  openFacts,
  replaceDays,
  saveDataset,
} from './factStore.ts';
import type { FactTables } from './schema.ts';

describe('chunks of columns', () => {
  const money = fc.integer({ min: -2_000_000_000, max: 2_000_000_000 }).map((n) => n / 100);
  const anything = fc.double({ noNaN: true });

  it('come back exactly as they were written, whatever the numbers', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(30), fc.nat(1_000_000), money, anything), { maxLength: 80 }), (rows) => {
        const chunk = {
          days: Int32Array.from(rows, (r) => r[0]),
          dims: { channel: Int32Array.from(rows, (r) => r[1]) },
          measures: { revenue: Float64Array.from(rows, (r) => r[2]), odd: Float64Array.from(rows, (r) => r[3]) },
        };
        expect(decodeChunk(encodeChunk(chunk), ['channel'], ['revenue', 'odd'])).toEqual(chunk);
      }),
    );
  });

  it('reads a column that came to the dataset later as zeros, and refuses an unknown version', () => {
    const body = encodeChunk({ days: Int32Array.of(0, 1), dims: {}, measures: { visits: Float64Array.of(3, 4) } });
    expect(decodeChunk(body, ['device'], ['leads'])).toEqual({
      days: Int32Array.of(0, 1),
      dims: { device: Int32Array.of(0, 0) },
      measures: { leads: Float64Array.of(0, 0) },
    });
    body.writeUInt8(9, 0);
    expect(() => decodeChunk(body, [], [])).toThrow('version');
  });
});

describe('the fact store', () => {
  const folder = mkdtempSync(join(tmpdir(), 'chronicon-facts-'));
  const spec = {
    key: 'visits',
    name: 'Visits',
    firstDay: '2026-01-01',
    dimensions: ['channel'],
    measures: ['visits', 'revenue'],
  };
  const owner = { feedId: 'fe_1', clientId: 'cl_1', position: 0 };
  let db: FactDb;
  let id: string;
  const row = (day: string, channel: string, visits: number, revenue = 0): FactRow => ({
    day,
    dims: [channel],
    measures: [visits, revenue],
  });
  const at = '2026-03-01T05:00:00.000Z';

  beforeAll(async () => {
    db = await openFacts(folder);
    id = await saveDataset(db, owner, spec);
  });
  afterAll(() => db.destroy());

  async function visitsByDay(): Promise<Record<string, number>> {
    const reader = openSqlite<FactTables>(factPath(folder), { readonly: true });
    const [dataset] = await inSnapshot(reader, async (tx) => {
      const [shape] = await datasetsOf(tx, 'cl_1');
      const ranges = [{ from: '2026-01-01', to: '2026-04-30' }];
      return readNeeds(tx, [
        { dataset: shape!, ranges, dimensions: ['channel'], measures: ['visits'], uniques: false },
      ]);
    });
    await reader.destroy();
    const sums: Record<string, number> = {};
    dataset!.columns.days.forEach((day, i) => {
      const key = new Date(day * 86_400_000).toISOString().slice(0, 10);
      sums[key] = (sums[key] ?? 0) + dataset!.columns.measures.visits![i]!;
    });
    return sums;
  }

  const bodies = async () =>
    (await db.selectFrom('chunk').select(['month', 'body']).orderBy('month').execute()).map(
      (c) => `${c.month} ${c.body.toString('base64')}`,
    );

  it('replaces days over a month’s end, keeps the others, and changes no byte when written twice', async () => {
    await replaceDays(
      db,
      id,
      spec,
      { from: '2026-01-30', to: '2026-02-02' },
      [row('2026-01-30', 'Direct', 5), row('2026-02-02', 'Email', 7, 1.25)],
      at,
    );
    await replaceDays(
      db,
      id,
      spec,
      { from: '2026-02-01', to: '2026-02-02' },
      [row('2026-02-02', 'Email', 9, 2.5), row('2026-02-01', 'Direct', 1)],
      at,
    );
    expect(await visitsByDay()).toEqual({ '2026-01-30': 5, '2026-02-01': 1, '2026-02-02': 9 });
    const before = await bodies();
    await replaceDays(
      db,
      id,
      spec,
      { from: '2026-02-01', to: '2026-02-02' },
      [row('2026-02-01', 'Direct', 1), row('2026-02-02', 'Email', 9, 2.5)],
      at,
    );
    expect(await bodies()).toEqual(before);
  });

  it('knows a delivered day without rows from one that never came', async () => {
    await replaceDays(db, id, spec, { from: '2026-03-01', to: '2026-03-03' }, [], at);
    const [shape] = await datasetsOf(db, 'cl_1');
    const days = shape!.covered.map((c) => c.map((d) => new Date(d * 86_400_000).toISOString().slice(0, 10)));
    expect(days).toEqual([
      ['2026-01-30', '2026-02-02'],
      ['2026-03-01', '2026-03-03'],
    ]);
  });

  it('refuses a row outside the range and writes nothing of the slice', async () => {
    const before = await bodies();
    const slice = [row('2026-03-01', 'Direct', 4), row('2026-03-09', 'Direct', 4)];
    await expect(replaceDays(db, id, spec, { from: '2026-03-01', to: '2026-03-03' }, slice, at)).rejects.toThrow(
      '2026-03-09',
    );
    expect(await bodies()).toEqual(before);
  });

  it('gives old rows an unnamed value when a dimension is added', async () => {
    await saveDataset(db, owner, { ...spec, dimensions: ['channel', 'device'] });
    const grown = { ...spec, dimensions: ['channel', 'device'] };
    await replaceDays(
      db,
      id,
      grown,
      { from: '2026-04-01', to: '2026-04-01' },
      [{ day: '2026-04-01', dims: ['Direct', 'Mobile'], measures: [2, 0] }],
      at,
    );
    const [shape] = await datasetsOf(db, 'cl_1');
    const ranges = [{ from: '2026-01-01', to: '2026-04-30' }];
    const [dataset] = await readNeeds(db, [
      { dataset: shape!, ranges, dimensions: ['device'], measures: ['visits'], uniques: false },
    ]);
    const { codes, labels } = dataset!.columns.dims.device!;
    expect([...new Set([...codes].map((c) => labels[c]))]).toEqual(['', 'Mobile']);
  });
});

describe('what is kept beside the rows', () => {
  const spec = { key: 'visits', name: 'Visits', firstDay: '2026-01-01', dimensions: ['channel'], measures: ['visits'] };
  const owner = { feedId: 'fe_1', clientId: 'cl_1', position: 0 };
  const row = (day: string, visits: number): FactRow => ({ day, dims: ['Direct'], measures: [visits] });
  const open = async () => {
    const folder = mkdtempSync(join(tmpdir(), 'chronicon-facts-'));
    const db = await openFacts(folder);
    return { folder, db, id: await saveDataset(db, owner, spec) };
  };

  it('tells of every day when it was last fetched, in as few runs as it takes', async () => {
    const { db, id } = await open();
    const write = (from: string, to: string, at: string) => replaceDays(db, id, spec, { from, to }, [], at);
    await write('2026-01-01', '2026-01-31', 'first');
    await write('2026-01-10', '2026-01-12', 'second');
    await write('2026-01-12', '2026-02-02', 'third');
    expect(await fetchesOf(db, id, { from: '2026-01-05', to: '2026-03-01' })).toEqual([
      { from: '2026-01-05', to: '2026-01-09', at: 'first' },
      { from: '2026-01-10', to: '2026-01-11', at: 'second' },
      { from: '2026-01-12', to: '2026-02-02', at: 'third' },
    ]);
    const [shape] = await datasetsOf(db, 'cl_1');
    expect(shape!.covered).toHaveLength(1);
    await db.destroy();
  });

  it('keeps columns at hand until somebody writes, and never mixes old with new', async () => {
    const { folder, db, id } = await open();
    const october = { from: '2026-10-01', to: '2026-10-31' };
    await replaceDays(db, id, spec, october, [row('2026-10-02', 5)], 'at');
    const reader = openFactReader(folder);
    const cache = createColumnCache(1_000_000);
    const read = () =>
      inSnapshot(reader, async (tx) => {
        const [dataset] = await datasetsOf(tx, 'cl_1');
        const need = {
          dataset: dataset!,
          ranges: [october],
          dimensions: ['channel'],
          measures: ['visits'],
          uniques: false,
        };
        return (await readNeeds(tx, [need], cache))[0]!.columns;
      });
    const first = await read();
    expect(await read()).toBe(first);
    await replaceDays(db, id, spec, october, [row('2026-10-02', 8)], 'later');
    expect([...(await read()).measures.visits!]).toEqual([8]);
    await Promise.all([reader.destroy(), db.destroy()]);
  });

  it('has room for as many columns as it was told, the ones used last', async () => {
    const { db } = await open();
    const columns = (n: number): Columns => ({ days: new Int32Array(n), dims: {}, measures: {} });
    const cache = createColumnCache(1_000);
    const made: string[] = [];
    const get = (key: string, n: number) =>
      cache.through(db, key, async () => {
        made.push(key);
        return columns(n);
      });
    await get('a', 100);
    await get('b', 100);
    await get('a', 100);
    await get('c', 100);
    await get('a', 100);
    await get('b', 100);
    await get('huge', 1_000);
    await get('huge', 1_000);
    expect(made).toEqual(['a', 'b', 'c', 'b', 'huge', 'huge']);
    await db.destroy();
  });

  it('takes a database of the first layout along: what it held is fetched anew', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'chronicon-facts-'));
    const old = openSqlite<FactTables>(factPath(folder));
    for (const statement of [
      'create table dataset (id text primary key, feed_id text not null, client_id text not null, key text not null, name text not null, position integer not null, first_day text not null, dimensions text not null, measures text not null, unique (feed_id, key)) strict',
      'create table chunk (dataset_id text not null, month text not null, rows integer not null, body blob not null, primary key (dataset_id, month)) strict',
      'create table dim_value (dataset_id text not null, dim text not null, code integer not null, label text not null, primary key (dataset_id, dim, code)) strict, without rowid',
      'create table coverage (dataset_id text not null, day integer not null, fetched_at text not null, primary key (dataset_id, day)) strict, without rowid',
      `insert into dataset values ('fe_1.visits', 'fe_1', 'cl_1', 'visits', 'Visits', 0, '2026-01-01', '["channel"]', '["visits"]')`,
      `insert into chunk values ('fe_1.visits', '2026-01', 1, x'01')`,
      `insert into coverage values ('fe_1.visits', 20454, 'at')`,
    ]) {
      await sql.raw(statement).execute(old);
    }
    await old.destroy();
    const db = await openFacts(folder);
    const [shape] = await datasetsOf(db, 'cl_1');
    expect(shape).toMatchObject({ id: 'fe_1.visits', covered: [] });
    await replaceDays(db, 'fe_1.visits', spec, { from: '2026-01-01', to: '2026-01-01' }, [row('2026-01-01', 3)], 'at');
    expect((await datasetsOf(db, 'cl_1'))[0]!.covered).toEqual([[20454, 20454]]);
    await db.destroy();
    await (await openFacts(folder)).destroy();
  });
});
