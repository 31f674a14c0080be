import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { sql } from 'kysely';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { countingStatements } from '../platform/statements.ts';
import { agencyOf, createAgency } from './members.ts';
import { deleteSetting, readSetting, writeSetting } from './settings.ts';
import { openStore, type Store } from './store.ts';

let folder: string;
let store: Store;
/** As another process has it: the same file, opened on its own. */
let other: Store;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-remembered-'));
  store = await openStore(folder);
  other = await openStore(folder);
});
afterEach(async () => {
  await store.destroy();
  await other.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const read = (db = store) => readSetting(db, 'colour');
const write = (value: string, db = store) => writeSetting(db, 'colour', value);

describe('what is read over and over', () => {
  it('is read from the file once until it is written to', async () => {
    await write('green');
    const { statements } = await countingStatements(async () => {
      for (let i = 0; i < 10; i++) expect(await read()).toBe('green');
    });
    expect(statements).toBe(1);
    await write('blue');
    expect(await read()).toBe('blue');
    await deleteSetting(store, 'colour');
    expect(await read()).toBeNull();
    await sql`insert into setting (key, value) values ('colour', 'red')`.execute(store);
    expect(await read()).toBe('red');
  });

  it('is not kept for a write to another table', async () => {
    await write('green');
    await read();
    await createAgency(store, {
      name: 'Fernglass Media',
      zone: 'Europe/London',
      mailFrom: 'reports@fernglass.example',
      holidays: [],
      workingDays: [1, 2, 3, 4, 5],
    });
    const { statements } = await countingStatements(() => read());
    expect(statements).toBe(0);
    expect((await agencyOf(store))!.name).toBe('Fernglass Media');
  });

  it('is what another process has written to the file', async () => {
    await write('green');
    expect(await read()).toBe('green');
    await write('blue', other);
    expect(await read()).toBe('blue');
  });

  it('is seen by others once a transaction has ended, and by nobody where it was taken back', async () => {
    await write('green');
    await read();
    await store.transaction().execute(async (tx) => {
      await write('blue', tx);
      expect(await read(tx)).toBe('blue');
      expect(await read()).toBe('green');
      expect(await read(other)).toBe('green');
    });
    expect(await read()).toBe('blue');
    const undone = store.transaction().execute(async (tx) => {
      await write('red', tx);
      expect(await read(tx)).toBe('red');
      throw new Error('no');
    });
    await expect(undone).rejects.toThrow('no');
    expect(await read()).toBe('blue');
  });

  it('cannot be changed by one who reads it', async () => {
    await createAgency(store, {
      name: 'Fernglass Media',
      zone: 'Europe/London',
      mailFrom: 'reports@fernglass.example',
      holidays: ['2026-12-25'],
      workingDays: [1, 2, 3, 4, 5],
    });
    const agency = (await agencyOf(store))!;
    expect(() => agency.holidays.push('2026-12-26')).toThrow();
    expect((await agencyOf(store))!.holidays).toEqual(['2026-12-25']);
  });

  it('is always what a reading of the file itself says, whoever writes in whatever order', async () => {
    const step = fc.record({
      by: fc.constantFrom('store', 'other'),
      how: fc.constantFrom('plain', 'kept', 'undone', 'raw', 'gone'),
      value: fc.string({ maxLength: 3 }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { maxLength: 12 }), async (steps) => {
        for (const { by, how, value } of steps) {
          const db = by === 'store' ? store : other;
          const within = (fail: boolean) =>
            db.transaction().execute(async (tx) => {
              await write(value, tx);
              // Read while it is being written, by the writer and by others.
              expect(await read(tx)).toBe(value);
              await read(store);
              await read(other);
              if (fail) throw new Error('undone');
            });
          if (how === 'plain') await write(value, db);
          else if (how === 'kept') await within(false);
          else if (how === 'undone') await within(true).catch(() => undefined);
          else if (how === 'gone') await deleteSetting(db, 'colour');
          else await sql`update setting set value = ${value} where key = 'colour'`.execute(db);
          const row = await store.selectFrom('setting').select('value').where('key', '=', 'colour').executeTakeFirst();
          expect(await read(store)).toBe(row?.value ?? null);
          expect(await read(other)).toBe(row?.value ?? null);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('hangs on no key that cascades: what a statement writes to is the table that it names', async () => {
    const { rows } = await sql<{ rule: string }>`
      select k.on_delete || ' ' || k.on_update as rule from sqlite_master m, pragma_foreign_key_list(m.name) k
      where m.type = 'table'`.execute(store);
    expect([...new Set(rows.map((r) => r.rule))]).toEqual(['NO ACTION NO ACTION']);
  });
});
