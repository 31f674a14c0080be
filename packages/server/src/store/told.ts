import { sql } from 'kysely';
import type { EditionRow } from './editions.ts';
import { type OwnColumn, ownColumnIn } from './schedules.ts';
import type { Store } from './store.ts';

/** An edition of a schedule that somebody is to be told of, or asked about. */
export interface Telling {
  edition: EditionRow;
  own: Pick<OwnColumn, 'signOff' | 'notified'>;
}

/**
 * Editions due since `since` of schedules that ask somebody, or tell somebody; those that may have news, by when they are
 * due: `most` of them, from the one after `last` on.
 */
export async function editionsToTell(
  db: Store,
  since: string,
  last: Pick<EditionRow, 'due_at' | 'id'> | null,
  most: number,
): Promise<Telling[]> {
  let query = db
    .selectFrom('edition')
    .innerJoin('schedule', 'schedule.id', 'edition.schedule_id')
    .selectAll('edition')
    .select('schedule.own')
    .where('edition.due_at', '>=', last?.due_at ?? since)
    .where('edition.state', 'in', ['review', 'ready', 'sending', 'sent', 'part-sent', 'held'])
    .where(
      sql<boolean>`(json_array_length(schedule.own, '$.notified') > 0 or json_extract(schedule.own, '$.signOff.rule') <> 'none')`,
    );
  if (last)
    query = query.where((w) => w(w.refTuple('edition.due_at', 'edition.id'), '>', w.tuple(last.due_at, last.id)));
  const rows = await query.orderBy('edition.due_at').orderBy('edition.id').limit(most).execute();
  return rows.map(({ own, ...edition }) => {
    const { signOff, notified } = ownColumnIn(own);
    return { edition, own: { signOff, notified } };
  });
}

/** What was told of these editions, as `edition member of`. */
export async function toldOf(db: Store, editionIds: readonly string[]): Promise<Set<string>> {
  if (editionIds.length === 0) return new Set();
  const rows = await db.selectFrom('told').selectAll().where('edition_id', 'in', editionIds).execute();
  return new Set(rows.map((r) => `${r.edition_id} ${r.member_id} ${r.of}`));
}

export async function markTold(
  db: Store,
  told: { edition: string; member: string; of: string; at: string },
): Promise<void> {
  await db
    .insertInto('told')
    .values({ edition_id: told.edition, member_id: told.member, of: told.of, at: told.at })
    .onConflict((c) => c.doNothing())
    .execute();
}
