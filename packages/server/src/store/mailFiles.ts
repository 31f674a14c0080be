import type { MailFile } from '@chronicon/core/report';
import type { Store } from './store.ts';

/** Files that managers brought for mails of a client, the newest first. */
export async function mailFilesOf(db: Store, clientId: string): Promise<MailFile[]> {
  return db
    .selectFrom('mail_file')
    .select(['file', 'name', 'type', 'size'])
    .where('client_id', '=', clientId)
    .orderBy('brought_at', 'desc')
    .execute();
}

/** Bytes of all files that were brought for mails of a client. */
export async function mailFileBytes(db: Store, clientId: string): Promise<number> {
  const query = db.selectFrom('mail_file').where('client_id', '=', clientId);
  const row = await query.select((q) => q.fn.sum<number | null>('size').as('bytes')).executeTakeFirst();
  return Number(row?.bytes ?? 0);
}

/** Keeps that a file was brought for mails of a client; the same bytes once more get their newer name. */
export async function addMailFile(db: Store, clientId: string, f: MailFile, at: string): Promise<void> {
  const { name, type, size } = f;
  await db
    .insertInto('mail_file')
    .values({ client_id: clientId, ...f, brought_at: at })
    .onConflict((c) => c.columns(['client_id', 'file']).doUpdateSet({ name, type, size, brought_at: at }))
    .execute();
}
