import { type Binding, type ReportDocument, readDocument } from '@chronicon/core/report';
import type { Selectable } from 'kysely';
import { sql } from 'kysely';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';
import { seenIn, type Visibility } from './visibility.ts';

/** A design of the agency that is bound to no client. */
export interface StoredTemplate {
  id: string;
  name: string;
  about: string;
  /** Of its words. */
  language: string;
  /** What its reports are called at first. */
  title: string;
  document: ReportDocument;
  version: number;
  updatedAt: string;
}

const fromRow = (r: Selectable<Tables['template']>): StoredTemplate => ({
  id: r.id,
  name: r.name,
  about: r.about,
  language: r.language,
  title: r.title,
  document: readDocument(r.document, `the template ${r.id}`),
  version: r.version,
  updatedAt: r.updated_at,
});

export const templates = async (db: Store): Promise<StoredTemplate[]> =>
  (await db.selectFrom('template').selectAll().orderBy('name').orderBy('id').execute()).map(fromRow);

export async function templateById(db: Store, id: string): Promise<StoredTemplate | null> {
  const row = await db.selectFrom('template').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? fromRow(row) : null;
}

/** A template as it was at a version. */
export async function templateAt(
  db: Store,
  id: string,
  version: number,
): Promise<{ title: string; document: ReportDocument } | null> {
  const row = await db
    .selectFrom('template_version')
    .select(['title', 'document'])
    .where('template_id', '=', id)
    .where('version', '=', version)
    .executeTakeFirst();
  return row ? { title: row.title, document: readDocument(row.document, `the template ${id}`) } : null;
}

/** What is said of a version that is kept. */
interface By {
  at: string;
  by: string;
}

async function keepTemplateVersion(
  tx: Store,
  id: string,
  version: number,
  { title, document }: Pick<StoredTemplate, 'title' | 'document'>,
  { at, by }: By,
): Promise<void> {
  await tx
    .insertInto('template_version')
    .values({ template_id: id, version, title, document: JSON.stringify(document), at, by })
    .execute();
}

export async function createTemplate(
  tx: Store,
  made: Pick<StoredTemplate, 'name' | 'about' | 'language' | 'title' | 'document'>,
  by: By,
): Promise<string> {
  const id = newId('tp');
  const { document, ...rest } = made;
  await tx
    .insertInto('template')
    .values({ id, ...rest, document: JSON.stringify(document), version: 1, updated_at: by.at, updated_by: by.by })
    .execute();
  await keepTemplateVersion(tx, id, 1, made, by);
  return id;
}

/** Another design for a template, as its next version. @returns that version */
export async function changeTemplate(
  tx: Store,
  { id, version }: Pick<StoredTemplate, 'id' | 'version'>,
  design: Pick<StoredTemplate, 'title' | 'document'>,
  by: By,
): Promise<number> {
  const next = version + 1;
  await tx
    .updateTable('template')
    .set({
      title: design.title,
      document: JSON.stringify(design.document),
      version: next,
      updated_at: by.at,
      updated_by: by.by,
    })
    .where('id', '=', id)
    .execute();
  await keepTemplateVersion(tx, id, next, design, by);
  return next;
}

export async function nameTemplate(
  db: Store,
  id: string,
  { name, about }: { name: string; about: string },
): Promise<void> {
  await db.updateTable('template').set({ name, about }).where('id', '=', id).execute();
}

/** Takes a template away; its reports stay as they are, and follow nothing. */
export async function removeTemplate(tx: Store, id: string): Promise<void> {
  await tx
    .updateTable('report')
    .set({ template_id: null, template_version: null, binding: '{}' })
    .where('template_id', '=', id)
    .execute();
  await tx.deleteFrom('template_version').where('template_id', '=', id).execute();
  await tx.deleteFrom('template').where('id', '=', id).execute();
}

/** The reports that follow a template, of clients that the member sees, with the version that each has: those behind first. */
export const followersOf = (
  db: Store,
  visibility: Visibility,
  { id, version }: Pick<StoredTemplate, 'id' | 'version'>,
  { offset, limit }: { offset: number; limit: number },
) =>
  db
    .selectFrom('report')
    .innerJoin('client', 'client.id', 'report.client_id')
    .select(['report.id', 'report.client_id as clientId', 'client.name as client', 'report.title'])
    .where('template_id', '=', id)
    .where(seenIn(visibility, 'report.client_id'))
    .orderBy(sql`template_version >= ${version}`)
    .orderBy('client.name')
    .orderBy('report.title')
    .orderBy('report.id')
    .offset(offset)
    .limit(limit)
    .execute();

/** How many visible reports follow a template, and how many of them are behind its newest version. */
export async function followersCounted(
  db: Store,
  visibility: Visibility,
  { id, version }: Pick<StoredTemplate, 'id' | 'version'>,
): Promise<{ total: number; behind: number }> {
  return db
    .selectFrom('report')
    .select((q) => q.fn.countAll<number>().as('total'))
    .select(sql<number>`coalesce(sum(template_version < ${version}), 0)`.as('behind'))
    .where('template_id', '=', id)
    .where(seenIn(visibility, 'report.client_id'))
    .executeTakeFirstOrThrow();
}

/** Says which version of a template a report has; null: it follows none. */
export async function setFollowed(
  tx: Store,
  reportId: string,
  followed: { id: string; version: number; binding: Binding } | null,
): Promise<void> {
  await tx
    .updateTable('report')
    .set({
      template_id: followed?.id ?? null,
      template_version: followed?.version ?? null,
      binding: JSON.stringify(followed?.binding ?? {}),
    })
    .where('id', '=', reportId)
    .execute();
}
