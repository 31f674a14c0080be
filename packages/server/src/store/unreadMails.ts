import { newId } from './ids.ts';
import { inTransaction, type Store } from './store.ts';

/** Mails that are kept for somebody to look at; each is half a megabyte at most. */
const MOST = 20;

/** A mail that came back and that could not be read. */
export interface UnreadMail {
  id: string;
  at: string;
  subject: string;
}

/** Sets a mail aside; of many, the last {@link MOST} are kept. */
export const setMailAside = (db: Store, mail: { at: string; subject: string; raw: Buffer }): Promise<void> =>
  inTransaction(db, async (tx) => {
    await tx
      .insertInto('unread_mail')
      .values({ id: newId('um'), ...mail })
      .execute();
    const last = tx.selectFrom('unread_mail').select('id').orderBy('at', 'desc').orderBy('id').limit(MOST);
    await tx.deleteFrom('unread_mail').where('id', 'not in', last).execute();
  });

/** What was set aside, the last first. */
export const unreadMails = (db: Store): Promise<UnreadMail[]> =>
  db.selectFrom('unread_mail').select(['id', 'at', 'subject']).orderBy('at', 'desc').orderBy('id').execute();

/** One as it came; null where there is none of this id. */
export async function unreadMail(db: Store, id: string): Promise<Buffer | null> {
  const row = await db.selectFrom('unread_mail').select('raw').where('id', '=', id).executeTakeFirst();
  return row?.raw ?? null;
}

/** Takes one away that somebody has looked at; false where there is none. */
export async function removeUnreadMail(tx: Store, id: string): Promise<boolean> {
  const { numDeletedRows } = await tx.deleteFrom('unread_mail').where('id', '=', id).executeTakeFirst();
  return numDeletedRows === 1n;
}
