import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Kysely, sql } from 'kysely';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { NewerData } from '../platform/newerData.ts';
import { openSqlite } from './sqlite.ts';
import { type Step, takeSteps } from './takeSteps.ts';

type Database = Kysely<Record<string, never>>;

let folder: string;
let open: Database[];
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-steps-'));
  open = [];
});
afterEach(async () => {
  for (const db of open) await db.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const opened = (): Database => {
  const db = openSqlite<Record<string, never>>(join(folder, 'any.db'));
  open.push(db);
  return db;
};
const tables = async (db: Database): Promise<string[]> =>
  (await db.introspection.getTables()).map((t) => t.name).sort();
const STEPS: Record<string, Step> = {
  '001-one': { statements: ['create table one (id text)', `insert into one values ('a')`] },
  '002-two': { statements: ['create table two (id text)'] },
};

describe('steps of a database', () => {
  it('are taken once, in their order', async () => {
    const db = opened();
    await takeSteps(db, STEPS, { until: '001-one' });
    expect(await tables(db)).toEqual(['one']);
    await takeSteps(db, STEPS);
    await takeSteps(db, STEPS);
    expect(await tables(db)).toEqual(['one', 'two']);
    expect((await sql<{ id: string }>`select id from one`.execute(db)).rows).toEqual([{ id: 'a' }]);
  });

  it.each([
    ['a statement', { statements: ['create table three (id text)', 'insert into nowhere values (1)'] }],
    [
      'what rewrites rows',
      {
        statements: ['create table three (id text)'],
        rewrite: async () => {
          throw new Error('planted');
        },
      },
    ],
  ] satisfies [string, Step][])(
    'leave nothing of one in which %s fails, and are taken once it is mended',
    async (_, step) => {
      const db = opened();
      await expect(takeSteps(db, { ...STEPS, '003-three': step })).rejects.toThrow();
      expect(await tables(db)).not.toContain('three');
      await takeSteps(db, { ...STEPS, '003-three': { statements: ['create table three (id text)'] } });
      expect(await tables(db)).toEqual(['one', 'three', 'two']);
    },
  );

  it('are taken once by two who start at once', async () => {
    await Promise.all([opened(), opened(), opened()].map((db) => takeSteps(db, STEPS)));
    const rows = await sql`select id from one`.execute(open[0]!);
    expect(rows.rows).toHaveLength(1);
  });

  it('go on where a database counted its steps, and kept no names', async () => {
    const [db] = [opened()];
    await sql`create table one (id text)`.execute(db);
    await Promise.all([db, opened()].map((each) => takeSteps(each, STEPS, { taken: 1 })));
    expect(await tables(db)).toEqual(['one', 'two']);
    expect((await sql`select id from one`.execute(db)).rows).toEqual([]);
  });

  it('of a newer version are refused', async () => {
    const db = opened();
    await takeSteps(db, { ...STEPS, '003-three': { statements: ['create table three (id text)'] } });
    await expect(takeSteps(db, STEPS)).rejects.toThrow(NewerData);
  });
});
