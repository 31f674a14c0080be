import type { Selectable } from 'kysely';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

export type StoredFeed = Selectable<Tables['feed']>;

export async function createFeed(
  db: Store,
  feed: { clientId: string; kind: string; account: string; name: string; secret: string; at: string },
): Promise<StoredFeed> {
  const row: StoredFeed = {
    id: newId('fe'),
    client_id: feed.clientId,
    kind: feed.kind,
    account: feed.account,
    name: feed.name,
    secret: feed.secret,
    state: 'new',
    trouble: null,
    failures: 0,
    progress_done: 0,
    progress_of: 0,
    last_success: null,
    next_sync: feed.at,
    created_at: feed.at,
  };
  await db.insertInto('feed').values(row).execute();
  return row;
}

export async function feedById(db: Store, id: string): Promise<StoredFeed | null> {
  return (await db.selectFrom('feed').selectAll().where('id', '=', id).executeTakeFirst()) ?? null;
}

export async function feedsOf(db: Store, clientId: string): Promise<StoredFeed[]> {
  return db.selectFrom('feed').selectAll().where('client_id', '=', clientId).orderBy('created_at').execute();
}

export async function updateFeed(db: Store, id: string, patch: Partial<Omit<StoredFeed, 'id'>>): Promise<void> {
  await db.updateTable('feed').set(patch).where('id', '=', id).execute();
}

/** Feeds whose next sync has come. */
export async function feedsDue(db: Store, now: string): Promise<StoredFeed[]> {
  return db.selectFrom('feed').selectAll().where('next_sync', '<=', now).orderBy('next_sync').execute();
}
