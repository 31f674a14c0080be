import type { Store } from './store.ts';

/** Files that were brought as pictures of a client's pages, by their hash. */
export async function hasPictures(db: Store, clientId: string, files: readonly string[]): Promise<boolean> {
  if (files.length === 0) return true;
  const rows = await db
    .selectFrom('picture')
    .select('file')
    .where('client_id', '=', clientId)
    .where('file', 'in', files)
    .execute();
  return new Set(rows.map((r) => r.file)).size === new Set(files).size;
}

/** The kind of file that a client's picture is, or null for one that it does not have. */
export async function pictureType(db: Store, clientId: string, file: string): Promise<string | null> {
  const row = await db
    .selectFrom('picture')
    .select('type')
    .where('client_id', '=', clientId)
    .where('file', '=', file)
    .executeTakeFirst();
  return row?.type ?? null;
}

export async function addPicture(db: Store, clientId: string, file: string, type: string): Promise<void> {
  await db
    .insertInto('picture')
    .values({ client_id: clientId, file, type })
    .onConflict((c) => c.doNothing())
    .execute();
}
