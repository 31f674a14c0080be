import { sql } from 'kysely';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

/** A running server: known by an id of its own and by its heartbeat, wherever and as what process it runs. */
export interface Instance {
  id: string;
  /** Milliseconds without a beat after which the others take it for dead. */
  patience: number;
  /** Servers whose hearts stand still, as far as this one has seen. */
  dead: ReadonlySet<string>;
}

/** The beats of another server, as this one saw them. */
interface Seen {
  beat: string;
  /** When it was another one last, by this server's steady clock. */
  since: number;
}

const iso = (machine: number): string => new Date(machine).toISOString();
/** How long rows of dead instances are kept: they tell when a server was last alive. */
const KEEP_DAYS = 30;

/**
 * Who is dead is seen from beats that stay the same, not from the times that they name: somebody may set the machine's
 * clock. When one is first seen, its age counts; what lies in the future is waited for.
 */
class Peers {
  readonly dead = new Set<string>();
  readonly #seen = new Map<string, Seen>();

  constructor(readonly patience: number) {}

  look(beats: ReadonlyMap<string, string>, machine: number, steady: number): void {
    for (const id of this.#seen.keys()) if (!beats.has(id)) this.#seen.delete(id);
    this.dead.clear();
    for (const [id, beat] of beats) {
      const before = this.#seen.get(id);
      const age = before ? 0 : Math.max(0, machine - Date.parse(beat));
      const since = before?.beat === beat ? before.since : steady - age;
      this.#seen.set(id, { beat, since });
      if (steady - since >= this.patience) this.dead.add(id);
    }
  }
}

/** The time by the server's own clock, by the machine's, and by the one that only goes forward. */
export interface Times {
  now: string;
  machine: number;
  steady: number;
}

/** This server among others on the folder: its heart, and what it sees of theirs. */
export interface Heart extends Instance {
  /** One beat. A server that was taken for dead, and cleared away, is entered again. */
  beat(times: Times): Promise<void>;
}

async function othersOf(db: Store, id: string): Promise<Map<string, string>> {
  const rows = await db
    .selectFrom('instance')
    .select(['id', 'beat_at'])
    .where('id', '!=', id)
    .where('beat_at', '!=', '')
    .execute();
  return new Map(rows.map((r) => [r.id, r.beat_at]));
}

/** Enters a new instance; times of heartbeats are the machine's, `now` is the server's own clock. */
export async function enterInstance(db: Store, patience: number, times: Times): Promise<Heart> {
  const id = newId('in');
  const peers = new Peers(patience);
  await db
    .deleteFrom('instance')
    .where('beat_at', '<', iso(times.machine - KEEP_DAYS * 86_400_000))
    .execute();
  const heart: Heart = {
    id,
    patience,
    dead: peers.dead,
    async beat({ now, machine, steady }) {
      const beat = { beat_at: iso(machine), beat_now: now };
      await db
        .insertInto('instance')
        .values({ id, started_at: now, ...beat })
        .onConflict((c) => c.column('id').doUpdateSet(beat))
        .execute();
      peers.look(await othersOf(db, id), machine, steady);
    },
  };
  await heart.beat(times);
  return heart;
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
export const isFree = (table: 'edition' | 'delivery' | 'feed' | 'connection', self: Instance) =>
  sql<boolean>`(${sql.ref(`${table}.lease_owner`)} is null or ${sql.ref(`${table}.lease_owner`)} = ${self.id}
    or not exists (select 1 from ${sql.table('instance' satisfies keyof Tables)} i
      where i.id = ${sql.ref(`${table}.lease_owner`)} and i.beat_at <> '' and i.id not in (${sql.join(['', ...self.dead])})))`;

/** Takes up a feed to fetch it, or a connection to renew its access; null while another server that is alive does. */
export async function takeLease(
  db: Store,
  table: 'feed' | 'connection',
  id: string,
  self: Instance,
): Promise<Lease | null> {
  const row = await db
    .updateTable(table)
    .set((q) => ({ lease_owner: self.id, lease_fence: q('lease_fence', '+', 1) }))
    .where('id', '=', id)
    .where(isFree(table, self))
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
