import type { ScheduleInput } from '@chronicon/core/contract';
import type { StoredContact } from './clients.ts';
import { newId } from './ids.ts';
import type { Store } from './store.ts';

/** A schedule as far as an act on many changes it. */
export interface ScheduleState {
  input: ScheduleInput;
  state: 'active' | 'paused' | 'ended';
  resumesOn: string | null;
}

/** What of a contact an act on many schedules notes. */
export type NotedContact = Pick<StoredContact, 'standing' | 'approved'>;

export const notedOf = ({ standing, approved }: StoredContact): NotedContact => ({ standing, approved });

/** All that an act on many schedules changed: as it was, and as it left it. */
export interface BulkKept {
  schedules: { id: string; before: ScheduleState; after: ScheduleState }[];
  lists: { client: string; id: string; name: string; before: string[]; after: string[] }[];
  /** Contacts that were made for it. */
  made: { client: string; id: string }[];
  /** Contacts of whom it noted that they have left, or that their address is right. */
  noted: { client: string; id: string; before: NotedContact; after: NotedContact }[];
  /** Editions that were made by hand. */
  editions: string[];
}

export interface StoredAct {
  id: string;
  at: string;
  by: string;
  what: string;
  count: number;
  undone_at: string | null;
}

/** Keeps what was done with many schedules; in the transaction that does it. @returns its id */
export async function keepAct(
  tx: Store,
  act: { at: string; by: string; what: string; count: number; kept: BulkKept },
): Promise<string> {
  const id = newId('ba');
  const { kept, ...rest } = act;
  await tx
    .insertInto('bulk_act')
    .values({ id, ...rest, kept: JSON.stringify(kept), undone_at: null })
    .execute();
  return id;
}

/** Keeps an edition that an act made, after it was done. */
export async function keepEdition(db: Store, id: string, edition: string): Promise<void> {
  const { kept } = (await actById(db, id))!;
  const more = JSON.stringify({ ...kept, editions: [...kept.editions, edition] });
  await db.updateTable('bulk_act').set({ kept: more }).where('id', '=', id).execute();
}

export async function actById(db: Store, id: string): Promise<(StoredAct & { kept: BulkKept }) | null> {
  const row = await db.selectFrom('bulk_act').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? { ...row, kept: JSON.parse(row.kept) as BulkKept } : null;
}

/** What was done lately, the latest first: by one member, or by everybody. */
export function recentActs(db: Store, by: string | null, most: number): Promise<StoredAct[]> {
  let query = db.selectFrom('bulk_act').select(['id', 'at', 'by', 'what', 'count', 'undone_at']);
  if (by !== null) query = query.where('by', '=', by);
  return query.orderBy('at', 'desc').limit(most).execute();
}

/** Marks an act as undone; false where it was already. */
export async function markUndone(tx: Store, id: string, at: string): Promise<boolean> {
  const query = tx.updateTable('bulk_act').set({ undone_at: at }).where('id', '=', id).where('undone_at', 'is', null);
  return (await query.executeTakeFirst()).numUpdatedRows === 1n;
}
