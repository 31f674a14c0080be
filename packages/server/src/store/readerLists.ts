import { grouped } from '../platform/grouped.ts';
import { among } from './among.ts';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import { inTransaction, type Store } from './store.ts';
import { storedNames } from './stored.ts';

/** A named set of contacts of one client. */
export interface ReaderList {
  id: string;
  name: string;
  /** Ids of contacts; some may have been removed since. */
  contacts: string[];
}

const fromRow = (r: { id: string; name: string; readers: string }): ReaderList => ({
  id: r.id,
  name: r.name,
  contacts: storedNames(r.readers),
});

/** The lists of a client, by name. */
export async function listsOf(db: Store, clientId: string): Promise<ReaderList[]> {
  const rows = await db
    .selectFrom('reader_list')
    .select(['id', 'name', 'readers'])
    .where('client_id', '=', clientId)
    .orderBy('name')
    .execute();
  return rows.map(fromRow);
}

/** The lists of these clients, by client. */
export async function listsOfAll(db: Store, clientIds: readonly string[]): Promise<Map<string, ReaderList[]>> {
  if (clientIds.length === 0) return new Map();
  const rows = await db.selectFrom('reader_list').selectAll().where(among('client_id', clientIds)).execute();
  return grouped(rows, (r) => r.client_id, fromRow);
}

/** Keeps a list, new or changed; what is addressed to it follows. @returns its id */
export const saveList = (
  db: Store,
  clientId: string,
  list: Omit<ReaderList, 'id'> & { id?: string },
  at: string,
): Promise<string> =>
  inTransaction(db, async (tx) => {
    const id = list.id ?? newId('li');
    const values = { name: list.name, readers: JSON.stringify(list.contacts) };
    if (list.id) {
      const query = tx.updateTable('reader_list').set(values).where('id', '=', id).where('client_id', '=', clientId);
      await query.execute();
      await markStale(tx, { clientId }, at);
    } else {
      await tx
        .insertInto('reader_list')
        .values({ id, client_id: clientId, ...values })
        .execute();
    }
    return id;
  });

export const removeList = (db: Store, clientId: string, id: string, at: string): Promise<void> =>
  inTransaction(db, async (tx) => {
    await tx.deleteFrom('reader_list').where('id', '=', id).where('client_id', '=', clientId).execute();
    await markStale(tx, { clientId }, at);
  });
