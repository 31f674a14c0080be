import type { Fingerprint } from '@chronicon/core/feeds';
import type { Selectable } from 'kysely';
import { z } from 'zod';
import { among } from './among.ts';
import { cached } from './cache.ts';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';
import { storedOnce } from './stored.ts';
import { seenIn, VISIBILITY_TABLES, type Visibility, visibilityKey } from './visibility.ts';

/** What tells an account of a service from another, as it is stored of a feed. */
export const fingerprintIn = storedOnce<Fingerprint>(
  z.object({ id: z.string(), name: z.string(), site: z.string(), zone: z.string(), currency: z.string() }),
  'what an account is told by',
);

export type StoredFeed = Selectable<Tables['feed']>;

/** The next sync of a feed that is not fetched: files, typed-in figures, stopped and removed ones. */
export const NEVER = '9999-12-31T00:00:00.000Z';

export interface NewFeed {
  clientId: string;
  kind: string;
  name: string;
  at: string;
  connectionId?: string;
  account?: string;
  fingerprint?: Fingerprint | null;
  setup?: unknown;
  /** Anything else than a feed that is fetched from now on. */
  row?: Partial<StoredFeed>;
}

export async function createFeed(db: Store, feed: NewFeed): Promise<StoredFeed> {
  const row: StoredFeed = {
    id: newId('fe'),
    client_id: feed.clientId,
    kind: feed.kind,
    connection_id: feed.connectionId ?? null,
    account: feed.account ?? '',
    name: feed.name,
    state: 'new',
    trouble: null,
    fault: null,
    fingerprint: feed.fingerprint ? JSON.stringify(feed.fingerprint) : null,
    seen: null,
    setup: feed.setup === undefined ? null : JSON.stringify(feed.setup),
    drop_key: null,
    failures: 0,
    progress_done: 0,
    progress_of: 0,
    last_success: null,
    next_sync: feed.at,
    removed_at: null,
    created_at: feed.at,
    lease_owner: null,
    lease_fence: 0,
    ...feed.row,
  };
  await db.insertInto('feed').values(row).execute();
  return row;
}

export const isRemoved = (f: StoredFeed): boolean => f.state === 'removed';

export async function feedById(db: Store, id: string): Promise<StoredFeed | null> {
  return (await db.selectFrom('feed').selectAll().where('id', '=', id).executeTakeFirst()) ?? null;
}

/** The feeds of a client, removed ones last. */
export async function allFeedsOf(db: Store, clientId: string): Promise<StoredFeed[]> {
  const rows = await db
    .selectFrom('feed')
    .selectAll()
    .where('client_id', '=', clientId)
    .orderBy('created_at')
    .execute();
  return [...rows.filter((f) => !isRemoved(f)), ...rows.filter(isRemoved)];
}

/** The feeds that a client has now. */
export const feedsOf = async (db: Store, clientId: string): Promise<StoredFeed[]> =>
  (await allFeedsOf(db, clientId)).filter((f) => !isRemoved(f));

/** Every feed of a kind that is there, of all clients. */
export async function feedsOfKind(db: Store, kind: string): Promise<StoredFeed[]> {
  const rows = await db.selectFrom('feed').selectAll().where('kind', '=', kind).execute();
  return rows.filter((f) => !isRemoved(f));
}

/** The feed to which a secret address belongs, by the secret's hash. */
export async function feedByDropKey(db: Store, hash: string): Promise<StoredFeed | null> {
  return (await db.selectFrom('feed').selectAll().where('drop_key', '=', hash).executeTakeFirst()) ?? null;
}

/** Every feed that reads by a connection. */
export async function feedsBy(db: Store, connectionId: string): Promise<StoredFeed[]> {
  const rows = await db.selectFrom('feed').selectAll().where('connection_id', '=', connectionId).execute();
  return rows.filter((f) => !isRemoved(f));
}

export async function updateFeed(db: Store, id: string, patch: Partial<Omit<StoredFeed, 'id'>>): Promise<void> {
  await db.updateTable('feed').set(patch).where('id', '=', id).execute();
}

/** Feeds whose next sync has come. */
export async function feedsDue(db: Store, now: string, most: number): Promise<StoredFeed[]> {
  return db
    .selectFrom('feed')
    .selectAll()
    .where('next_sync', '<=', now)
    .where('client_id', 'not in', (q) => q.selectFrom('client').select('id').where('inactive_at', 'is not', null))
    .orderBy('next_sync')
    .limit(most)
    .execute();
}

/** The visible feeds that something is wrong with. */
export const troubledFeeds = (db: Store, visibility: Visibility): Promise<StoredFeed[]> =>
  db
    .selectFrom('feed')
    .selectAll()
    .where(seenIn(visibility, 'feed.client_id'))
    .where('state', '!=', 'removed')
    .where('trouble', 'is not', null)
    .orderBy('created_at')
    .execute();

/** The visible feeds that are in good order. */
export const freshFeeds = (
  db: Store,
  visibility: Visibility,
): Promise<Pick<StoredFeed, 'id' | 'client_id' | 'kind' | 'name'>[]> =>
  cached(db, ['feed', ...VISIBILITY_TABLES], `fresh ${visibilityKey(visibility)}`, () =>
    db
      .selectFrom('feed')
      .select(['id', 'client_id', 'kind', 'name'])
      .where(seenIn(visibility, 'feed.client_id'))
      .where('state', '=', 'fresh')
      .where('trouble', 'is', null)
      .orderBy('created_at')
      .execute(),
  );

/** The feeds that these clients have now. */
export const feedsOfAll = async (db: Store, clientIds: readonly string[]): Promise<StoredFeed[]> =>
  clientIds.length === 0
    ? []
    : db
        .selectFrom('feed')
        .selectAll()
        .where(among('client_id', clientIds))
        .where('state', '!=', 'removed')
        .orderBy('created_at')
        .execute();
