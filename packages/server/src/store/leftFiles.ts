import type { Store } from './store.ts';

/** Files that editions pointed to before they were drawn anew, and that no edition points to now. */
export async function leftFiles(db: Store): Promise<string[]> {
  const rows = await db
    .selectFrom('left_file')
    .select('hash')
    .where((w) =>
      w.not(w.exists(w.selectFrom('edition').select('edition.id').whereRef('edition.pdf', '=', 'left_file.hash'))),
    )
    .where((w) =>
      w.not(w.exists(w.selectFrom('edition').select('edition.id').whereRef('edition.frozen', '=', 'left_file.hash'))),
    )
    .execute();
  return rows.map((r) => r.hash);
}

export async function forgetLeftFile(db: Store, hash: string): Promise<void> {
  await db.deleteFrom('left_file').where('hash', '=', hash).execute();
}
