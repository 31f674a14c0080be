import { join } from 'node:path';
import type { Kysely, Transaction } from 'kysely';
import { migrate } from './migrations.ts';
import type { Tables } from './schema.ts';
import { openSqlite } from './sqlite.ts';
import { runTransaction } from './transactions.ts';

/** The operations database, or a transaction of it: every function of the store takes either. */
export type Store = Kysely<Tables>;
export type StoreTransaction = Transaction<Tables>;

export async function openStore(folder: string): Promise<Store> {
  const db = openSqlite<Tables>(join(folder, 'chronicon.db'));
  await migrate(db);
  return db;
}

/** The same for reading alone, in another thread: it waits for no writer, and sees what is committed. */
export const openStoreReader = (folder: string): Store =>
  openSqlite<Tables>(join(folder, 'chronicon.db'), { readonly: true });

/** A transaction of the store, see {@link runTransaction}. Use the transaction inside, never the store around it. */
export const inTransaction = <T>(db: Store, work: (tx: StoreTransaction) => Promise<T>): Promise<T> =>
  runTransaction(db, work);
