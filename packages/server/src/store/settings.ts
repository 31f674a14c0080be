import { cached } from './cache.ts';
import type { Store } from './store.ts';

export async function readSetting(db: Store, key: string): Promise<string | null> {
  return cached(db, ['setting'], `setting ${key}`, async () => {
    const row = await db.selectFrom('setting').select('value').where('key', '=', key).executeTakeFirst();
    return row?.value ?? null;
  });
}

const ODD_DAYS = 'sending.oddDays';

/** Whether an edition that sends by itself waits for a person where an odd day turns a verdict round. */
export const waitsForOddDays = async (db: Store): Promise<boolean> => (await readSetting(db, ODD_DAYS)) !== 'send';

export const setOddDays = (db: Store, wait: boolean): Promise<void> =>
  writeSetting(db, ODD_DAYS, wait ? 'wait' : 'send');

/** The keys of what is set that begin with a text. */
export const settingsLike = (db: Store, start: string): Promise<string[]> =>
  cached(db, ['setting'], `settings ${start}`, async () => {
    const rows = await db.selectFrom('setting').select('key').where('key', 'like', `${start}%`).execute();
    return rows.map((r) => r.key);
  });

export async function deleteSetting(db: Store, key: string): Promise<void> {
  await db.deleteFrom('setting').where('key', '=', key).execute();
}

export async function writeSetting(db: Store, key: string, value: string): Promise<void> {
  await db
    .insertInto('setting')
    .values({ key, value })
    .onConflict((c) => c.column('key').doUpdateSet({ value }))
    .execute();
}
