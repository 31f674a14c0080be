import { sql } from 'kysely';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

/**
 * Which rows name which files. A file is named by its hash (files.ts): in a column of its own, or somewhere in a document that a
 * column holds. This list is all there is: a column that names files and does not stand here loses them. Pictures of mails that were
 * drawn before `edition_picture` was there are the exception: they are drawn again from what is frozen, and never taken away.
 */
type Naming = { [T in keyof Tables]: { table: T; column: keyof Tables[T] & string } }[keyof Tables] & {
  /**
   * How it names them: `hash` is the hash itself; `document` is JSON in which any number of them stand. `owned` is JSON, too, and names
   * none but files that a row of another entry names already.
   */
  as: 'hash' | 'document' | 'owned';
};

export const FILE_REGISTER: readonly Naming[] = [
  { table: 'edition', column: 'pdf', as: 'hash' },
  { table: 'edition', column: 'frozen', as: 'hash' },
  { table: 'edition_picture', column: 'file', as: 'hash' },
  { table: 'picture', column: 'file', as: 'hash' },
  { table: 'item_picture', column: 'file', as: 'hash' },
  { table: 'mail_file', column: 'file', as: 'hash' },
  { table: 'typeface', column: 'regular', as: 'hash' },
  { table: 'typeface', column: 'bold', as: 'hash' },
  { table: 'client', column: 'brand', as: 'document' },
  { table: 'agency', column: 'settings', as: 'document' },
  { table: 'report', column: 'document', as: 'owned' },
  { table: 'report', column: 'released_document', as: 'owned' },
  { table: 'report_version', column: 'document', as: 'owned' },
  { table: 'schedule', column: 'own', as: 'owned' },
  { table: 'schedule_draft', column: 'input', as: 'owned' },
  { table: 'edition', column: 'order_sheet', as: 'owned' },
  { table: 'message', column: 'files', as: 'owned' },
];

/** The hashes of files in a document. */
export const hashesIn = (document: string): string[] => [
  ...new Set([...document.matchAll(/"([0-9a-f]{64})"/g)].map((m) => m[1]!)),
];

const named = (as: Naming['as']): readonly Naming[] => FILE_REGISTER.filter((n) => n.as === as);

/** Whether any row still names a file. */
export async function isNamed(db: Store, hash: string): Promise<boolean> {
  const asked = [
    ...named('hash').map((n) => sql`select 1 from ${sql.table(n.table)} where ${sql.ref(n.column)} = ${hash}`),
    ...named('document').map(
      (n) => sql`select 1 from ${sql.table(n.table)} where instr(${sql.ref(n.column)}, ${hash}) > 0`,
    ),
  ];
  const { rows } = await sql`select 1 from (${sql.join(asked, sql` union all `)}) limit 1`.execute(db);
  return rows.length > 0;
}

/** All files that rows name, each with the tables in which it is named. */
export async function namedFiles(db: Store): Promise<Map<string, Set<string>>> {
  const found = new Map<string, Set<string>>();
  const add = (hash: string, table: string) => found.set(hash, (found.get(hash) ?? new Set()).add(table));
  for (const { table, column, as } of FILE_REGISTER) {
    const { rows } = await sql<{ value: string }>`
      select distinct ${sql.ref(column)} as value from ${sql.table(table)} where ${sql.ref(column)} is not null`.execute(
      db,
    );
    for (const { value } of rows) for (const hash of as === 'hash' ? [value] : hashesIn(value)) add(hash, table);
  }
  return found;
}

/** Files that editions pointed to before they were drawn anew: the only ones that may ever be taken away. */
export const leftFiles = async (db: Store): Promise<string[]> =>
  (await db.selectFrom('left_file').select('hash').execute()).map((r) => r.hash);

export async function forgetLeftFile(db: Store, hash: string): Promise<void> {
  await db.deleteFrom('left_file').where('hash', '=', hash).execute();
}

/** Says which pictures the mail of an edition shows; those of a drawing before are left. In the transaction that keeps the drawing. */
export async function keepEditionPictures(tx: Store, editionId: string, files: readonly string[]): Promise<void> {
  const now = new Set(files);
  let gone = tx.deleteFrom('edition_picture').where('edition_id', '=', editionId);
  if (now.size > 0) gone = gone.where('file', 'not in', [...now]);
  await gone.execute();
  for (const file of now)
    await tx
      .insertInto('edition_picture')
      .values({ edition_id: editionId, file })
      .onConflict((c) => c.doNothing())
      .execute();
}
