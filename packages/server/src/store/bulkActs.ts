import { contactDetails, type ScheduleInput, scheduleSays } from '@chronicon/core/contract';
import { sql } from 'kysely';
import { z } from 'zod';
import type { StoredContact } from './clients.ts';
import { newId } from './ids.ts';
import type { Store } from './store.ts';
import { stored } from './stored.ts';

/** A schedule as far as an act on many changes it. */
export interface ScheduleState {
  input: ScheduleInput;
  state: 'active' | 'paused' | 'ended';
  resumesOn: string | null;
}

/** What of a contact an act on many schedules notes. */
export type NotedContact = Pick<StoredContact, 'standing' | 'approved'>;

export const notedOf = ({ standing, approved }: StoredContact): NotedContact => ({ standing, approved });

/** One thing that an act on many schedules changed: as it was, and as the act left it. */
export type BulkChange =
  | { kind: 'schedule'; id: string; before: ScheduleState; after: ScheduleState }
  | { kind: 'list'; client: string; id: string; name: string; before: string[]; after: string[] }
  /** A contact of whom it noted that they have left, or that their address is right. */
  | { kind: 'noted'; client: string; id: string; before: NotedContact; after: NotedContact }
  /** A contact that was made for it. */
  | { kind: 'made'; client: string; id: string }
  /** An edition that was made by hand. */
  | { kind: 'edition'; id: string };

export interface StoredAct {
  id: string;
  at: string;
  by: string;
  what: string;
  count: number;
  undone_at: string | null;
}

/** Keeps what is about to be done with many schedules; its changes follow one by one. @returns its id */
export async function keepAct(tx: Store, act: Omit<StoredAct, 'id' | 'undone_at'>): Promise<string> {
  const id = newId('ba');
  await tx
    .insertInto('bulk_act')
    .values({ id, ...act, undone_at: null })
    .execute();
  return id;
}

/**
 * Says what an act came to, and takes away one that came to nothing. Where somebody undid it while it was still being done, what was
 * done since can be undone, too.
 */
export async function settleAct(
  tx: Store,
  id: string,
  { what, count }: Pick<StoredAct, 'what' | 'count'>,
): Promise<void> {
  const changes = await tx.selectFrom('bulk_change').select('undone').where('act_id', '=', id).execute();
  if (count === 0 && changes.length === 0) {
    await tx.deleteFrom('bulk_act').where('id', '=', id).execute();
    return;
  }
  const isOpen = changes.some((c) => c.undone === 0);
  await tx
    .updateTable('bulk_act')
    .set({ what, count, ...(isOpen && { undone_at: null }) })
    .where('id', '=', id)
    .execute();
}

/** Keeps one change of an act; in the transaction that makes it, so that whatever was done can be undone. */
export async function keepChange(tx: Store, act: string, change: BulkChange): Promise<void> {
  const detail = JSON.stringify(change);
  await sql`insert into bulk_change (act_id, n, detail, undone)
    select ${act}, coalesce(max(n), 0) + 1, ${detail}, 0 from bulk_change where act_id = ${act}`.execute(tx);
}

export async function actById(db: Store, id: string): Promise<StoredAct | null> {
  return (await db.selectFrom('bulk_act').selectAll().where('id', '=', id).executeTakeFirst()) ?? null;
}

const state = z.object({
  input: scheduleSays,
  state: z.enum(['active', 'paused', 'ended']),
  resumesOn: z.string().nullable(),
});
const noted = z.object({ standing: contactDetails.shape.standing, approved: z.string() });
const at = { client: z.string(), id: z.string() };
const names = z.array(z.string());
const changeIn = stored<BulkChange>(
  z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('schedule'), id: z.string(), before: state, after: state }),
    z.object({ kind: z.literal('list'), ...at, name: z.string(), before: names, after: names }),
    z.object({ kind: z.literal('noted'), ...at, before: noted, after: noted }),
    z.object({ kind: z.literal('made'), ...at }),
    z.object({ kind: z.literal('edition'), id: z.string() }),
  ]),
  'a change of many schedules',
);

/** The changes of an act that were not undone yet, by number and kind, in the order in which they were made. */
export const changesOfAct = (db: Store, act: string): Promise<{ n: number; kind: string }[]> =>
  db
    .selectFrom('bulk_change')
    .select(['n', sql<string>`json_extract(detail, '$.kind')`.as('kind')])
    .where('act_id', '=', act)
    .where('undone', '=', 0)
    .orderBy('n')
    .execute();

/** Marks one change as undone, for whoever undoes it in the same transaction; null where somebody else is at it. */
export async function takeChange(tx: Store, act: string, n: number): Promise<BulkChange | null> {
  const row = await tx
    .updateTable('bulk_change')
    .set({ undone: 1 })
    .where('act_id', '=', act)
    .where('n', '=', n)
    .where('undone', '=', 0)
    .returning('detail')
    .executeTakeFirst();
  return row ? changeIn(row.detail) : null;
}

/** What was done lately, the latest first: by one member, or by everybody. */
export function recentActs(db: Store, by: string | null, most: number): Promise<StoredAct[]> {
  let query = db.selectFrom('bulk_act').selectAll();
  if (by !== null) query = query.where('by', '=', by);
  return query.orderBy('at', 'desc').limit(most).execute();
}

/** Marks an act as undone; false where it was already. */
export async function markUndone(tx: Store, id: string, at: string): Promise<boolean> {
  const query = tx.updateTable('bulk_act').set({ undone_at: at }).where('id', '=', id).where('undone_at', 'is', null);
  return (await query.executeTakeFirst()).numUpdatedRows === 1n;
}
