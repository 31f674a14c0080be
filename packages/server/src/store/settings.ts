import type { Store } from './store.ts';

export async function readSetting(db: Store, key: string): Promise<string | null> {
  const row = await db.selectFrom('setting').select('value').where('key', '=', key).executeTakeFirst();
  return row?.value ?? null;
}

export async function writeSetting(db: Store, key: string, value: string): Promise<void> {
  await db
    .insertInto('setting')
    .values({ key, value })
    .onConflict((c) => c.column('key').doUpdateSet({ value }))
    .execute();
}
