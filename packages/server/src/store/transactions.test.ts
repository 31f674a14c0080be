import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { checkTransactions } from '../../../../scripts/check-transactions.mjs';
import { openStore, type Store } from './store.ts';
import { runTransaction } from './transactions.ts';

let folder: string;
let store: Store;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'chronicon-tx-'));
  store = await openStore(folder);
});
afterEach(async () => {
  await store.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const keys = async () => (await store.selectFrom('setting').select('key').execute()).map((r) => r.key);
const insert = (db: Store, key: string) => db.insertInto('setting').values({ key, value: '' }).execute();

/** An error as a database gives it. */
const lost = (code: string) => Object.assign(new Error('busy'), { code });

/** Adds a row and fails with these codes, one each time; then it goes through. */
function failing(codes: string[]) {
  let runs = 0;
  const work = async (tx: Store) => {
    runs++;
    await insert(tx, 'a');
    const code = codes[runs - 1];
    if (code) throw lost(code);
    return 'done';
  };
  return { work, runs: () => runs };
}

describe('transactions', () => {
  it('are rolled back and run again after losing to another', async () => {
    const { work } = failing(['SQLITE_BUSY_SNAPSHOT', '40001']);
    await expect(runTransaction(store, work)).resolves.toBe('done');
    expect(await keys()).toEqual(['a']);
  });

  it('give up after five times, and leave nothing', async () => {
    const { work, runs } = failing(Array.from({ length: 20 }, () => '40P01'));
    await expect(runTransaction(store, work)).rejects.toMatchObject({ code: '40P01' });
    expect(runs()).toBeLessThanOrEqual(6);
    expect(await keys()).toEqual([]);
  });

  it.each(['SQLITE_CONSTRAINT', 'SQLITE_BUSY'])('are not run again for any other error (%s)', async (code) => {
    const { work, runs } = failing([code, code]);
    await expect(runTransaction(store, work)).rejects.toMatchObject({ code });
    expect(runs()).toBe(1);
    expect(await keys()).toEqual([]);
  });

  it('run twice in every test, the first time for nothing', async () => {
    let runs = 0;
    await runTransaction(store, async (tx) => {
      runs++;
      await insert(tx, `run ${runs}`);
    });
    expect(await keys()).toEqual(['run 2']);
  });
});

describe('the check of transactions', () => {
  const faults = (body: string, before = '') =>
    checkTransactions(`${before}await inTransaction(store, async (tx) => { ${body} });`, 'x.ts').faults;

  it.each([
    ['assigns to a variable of outside', 'found = await load(tx);'],
    ['counts outside', 'state.tries++;'],
    ['adds to a list of outside', 'found.push(await load(tx));'],
    ['fills a map of outside', 'cache.set(1, await load(tx));'],
    ['asks the database around it', 'await save(api.store);'],
    ['wakes a loop that reads before it is there', 'api.scheduler.nudge();'],
    ['asks somebody over the network', 'await fetch(url);'],
  ])('tells of one that %s', (_, body) => {
    expect(faults(body)).toHaveLength(1);
  });

  it('tells of files, and of one that is begun without the helper', () => {
    expect(faults('rmSync(path);', "import { rmSync } from 'node:fs';")).toHaveLength(1);
    expect(checkTransactions('db.transaction().execute(work);', 'x.ts').faults).toHaveLength(1);
  });

  it('lets pass what stays within', () => {
    expect(
      faults(
        `const found = []; for (const { id } of rows) { let n = 0; n++; found.push(id); }
         await tx.updateTable('a').set({ b: 1 }).execute(); return found;`,
      ),
    ).toEqual([]);
  });
});
