import type { Store } from './store.ts';

/** A number that is another one whenever anything has changed that a list or sheet shows. */
export const changeMark = async (db: Store): Promise<number> =>
  (await db.selectFrom('change_mark').select('n').executeTakeFirstOrThrow()).n;
