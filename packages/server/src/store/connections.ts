import type { Quota } from '@chronicon/core/feeds';
import type { Selectable } from 'kysely';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

export type StoredConnection = Selectable<Tables['connection']>;
export type Authorisation = Selectable<Tables['authorisation']>;

export async function createConnection(
  db: Store,
  c: { kind: string; method: StoredConnection['method']; secret: string; madeBy: string | null; at: string },
): Promise<StoredConnection> {
  const row: StoredConnection = {
    id: newId('cn'),
    kind: c.kind,
    method: c.method,
    secret: c.secret,
    refused: null,
    quota_used: 0,
    quota_limit: null,
    quota_resets: null,
    made_by: c.madeBy,
    created_at: c.at,
    lease_owner: null,
    lease_fence: 0,
  };
  await db.insertInto('connection').values(row).execute();
  return row;
}

export async function connectionById(db: Store, id: string): Promise<StoredConnection | null> {
  return (await db.selectFrom('connection').selectAll().where('id', '=', id).executeTakeFirst()) ?? null;
}

export async function connections(db: Store): Promise<StoredConnection[]> {
  return db.selectFrom('connection').selectAll().orderBy('created_at').execute();
}

export async function updateConnection(
  db: Store,
  id: string,
  patch: Partial<Omit<StoredConnection, 'id' | 'kind'>>,
): Promise<void> {
  await db.updateTable('connection').set(patch).where('id', '=', id).execute();
}

/** What is known of the service's quota; null when it grants any number, or the count began anew since. */
export function quotaOf(c: StoredConnection, now: string): Quota | null {
  if (c.quota_limit === null || c.quota_resets === null || c.quota_resets <= now) return null;
  return { used: c.quota_used, limit: c.quota_limit, resets: c.quota_resets };
}

export async function beginAuthorisation(db: Store, a: Authorisation): Promise<void> {
  await db.insertInto('authorisation').values(a).execute();
}

/** Takes a round trip that has begun, once; null when there is none, or it took too long. */
export async function endAuthorisation(db: Store, state: string, now: string): Promise<Authorisation | null> {
  const found = await db.deleteFrom('authorisation').where('state', '=', state).returningAll().executeTakeFirst();
  await db.deleteFrom('authorisation').where('until', '<', now).execute();
  return found && found.until >= now ? found : null;
}

/** Something that the key of this folder has to open; null where nothing was sealed yet. */
export async function anySealed(db: Store): Promise<string | null> {
  const row = await db.selectFrom('connection').select('secret').where('secret', '!=', '').limit(1).executeTakeFirst();
  return row?.secret ?? null;
}

/** These connections, by id. */
export async function connectionsByIds(db: Store, ids: readonly string[]): Promise<Map<string, StoredConnection>> {
  if (ids.length === 0) return new Map();
  const rows = await db.selectFrom('connection').selectAll().where('id', 'in', ids).execute();
  return new Map(rows.map((r) => [r.id, r]));
}
