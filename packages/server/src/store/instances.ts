import { sql } from 'kysely';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

/** A running server: known by an id of its own and by its heartbeat, wherever and as what process it runs. */
export interface Instance {
  id: string;
  /** Milliseconds without a beat after which the others take it for dead. */
  patience: number;
}

const iso = (machine: number): string => new Date(machine).toISOString();
/** How long rows of dead instances are kept: they tell when a server was last alive. */
const KEEP_DAYS = 30;

/** Enters a new instance; times of heartbeats are the machine's, `now` is the server's own clock. */
export async function enterInstance(db: Store, patience: number, machine: number, now: string): Promise<Instance> {
  const id = newId('in');
  await db
    .insertInto('instance')
    .values({ id, started_at: now, beat_at: iso(machine), beat_now: now })
    .execute();
  await db
    .deleteFrom('instance')
    .where('beat_at', '<', iso(machine - KEEP_DAYS * 86_400_000))
    .execute();
  return { id, patience };
}

/** One beat. An instance that was taken for dead, and cleared away, is entered again. */
export async function beatInstance(db: Store, id: string, machine: number, now: string): Promise<void> {
  const beat = { beat_at: iso(machine), beat_now: now };
  await db
    .insertInto('instance')
    .values({ id, started_at: now, ...beat })
    .onConflict((c) => c.column('id').doUpdateSet(beat))
    .execute();
}

/** A server that ends in order leaves its last beat, and is dead at once. */
export async function leaveInstance(db: Store, id: string, now: string): Promise<void> {
  await db.updateTable('instance').set({ beat_at: '', beat_now: now }).where('id', '=', id).execute();
}

/** When any server was last alive, by its own clock; null when none ever was. */
export async function lastBeat(db: Store, but?: string): Promise<string | null> {
  let query = db.selectFrom('instance').select((q) => q.fn.max('beat_now').as('at'));
  if (but) query = query.where('id', '!=', but);
  return (await query.executeTakeFirst())?.at ?? null;
}

/** Other servers that are alive. */
export async function othersAlive(db: Store, self: Instance, machine: number): Promise<number> {
  const rows = await db
    .selectFrom('instance')
    .select('id')
    .where('id', '!=', self.id)
    .where('beat_at', '>=', iso(machine - self.patience))
    .execute();
  return rows.length;
}

/** When each server that may be alive last beat, by the machine's time. */
export async function beats(db: Store, patience: number, machine: number): Promise<Map<string, string>> {
  const rows = await db
    .selectFrom('instance')
    .select(['id', 'beat_at'])
    .where('beat_at', '>=', iso(machine - patience))
    .execute();
  return new Map(rows.map((r) => [r.id, r.beat_at]));
}

/** A lease: who works on something, and the number that each later move of it has to repeat. */
export interface Lease {
  owner: string;
  fence: number;
}

/** True for work that nobody holds whose heart still beats, or that this instance holds itself. */
export const isFree = (table: 'edition' | 'delivery' | 'feed' | 'connection', self: Instance, machine: number) =>
  sql<boolean>`(${sql.ref(`${table}.lease_owner`)} is null or ${sql.ref(`${table}.lease_owner`)} = ${self.id}
    or not exists (select 1 from ${sql.table('instance' satisfies keyof Tables)} i
      where i.id = ${sql.ref(`${table}.lease_owner`)} and i.beat_at >= ${iso(machine - self.patience)}))`;

/** Takes up a feed to fetch it, or a connection to renew its access; null while another server that is alive does. */
export async function takeLease(
  db: Store,
  table: 'feed' | 'connection',
  id: string,
  self: Instance,
  machine: number,
): Promise<Lease | null> {
  const row = await db
    .updateTable(table)
    .set((q) => ({ lease_owner: self.id, lease_fence: q('lease_fence', '+', 1) }))
    .where('id', '=', id)
    .where(isFree(table, self, machine))
    .returning('lease_fence')
    .executeTakeFirst();
  return row ? { owner: self.id, fence: row.lease_fence } : null;
}

export async function dropLease(db: Store, table: 'feed' | 'connection', id: string, lease: Lease): Promise<void> {
  await db
    .updateTable(table)
    .set({ lease_owner: null })
    .where('id', '=', id)
    .where('lease_owner', '=', lease.owner)
    .where('lease_fence', '=', lease.fence)
    .execute();
}
