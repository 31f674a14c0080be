import type { Store } from './store.ts';

/** A member's link to a calendar; of its secret the hash alone is kept. */
export interface CalendarLink {
  hash: string;
  made_at: string;
}

/** The member whose link has this hash; null where none has it. */
export async function memberOfCalendarLink(db: Store, hash: string): Promise<string | null> {
  const row = await db.selectFrom('calendar_link').select('member_id').where('hash', '=', hash).executeTakeFirst();
  return row?.member_id ?? null;
}

/** Since when a member has a link; null for none. */
export async function calendarLinkSince(db: Store, memberId: string): Promise<string | null> {
  const query = db.selectFrom('calendar_link').select('made_at').where('member_id', '=', memberId);
  return (await query.executeTakeFirst())?.made_at ?? null;
}

/** Gives a member a link, in the place of the one before. */
export async function setCalendarLink(tx: Store, memberId: string, link: CalendarLink): Promise<void> {
  await tx
    .insertInto('calendar_link')
    .values({ member_id: memberId, ...link })
    .onConflict((c) => c.column('member_id').doUpdateSet(link))
    .execute();
}

export async function endCalendarLink(tx: Store, memberId: string): Promise<void> {
  await tx.deleteFrom('calendar_link').where('member_id', '=', memberId).execute();
}
