import { MOST_VERSIONS } from '@chronicon/core/bounds';
import { type ReportDocument, readDocument } from '@chronicon/core/report';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

type Kind = Tables['report_version']['kind'];

/** A version of a report as a list has it. */
export interface VersionRow {
  id: string;
  kind: Kind;
  name: string;
  title: string;
  at: string;
  by: string | null;
}

/** One with its design. */
export interface StoredVersion extends VersionRow {
  reportId: string;
  document: ReportDocument;
  templateVersion: number | null;
}

/** What of a report is kept. */
interface VersionContent {
  id: string;
  title: string;
  document: ReportDocument;
  template: { version: number } | null;
}

/** Keeps a report's draft as it is now; of very many, the oldest without a name are let go. */
export async function keepVersion(
  db: Store,
  { id: report_id, title, document, template }: VersionContent,
  { kind, name, at, by }: { kind: Kind; name: string; at: string; by: string | null },
): Promise<string> {
  const id = newId('rv');
  const values = { title, document: JSON.stringify(document), template_version: template?.version ?? null };
  await db
    .insertInto('report_version')
    .values({ id, report_id, kind, name, ...values, at, by })
    .execute();
  await db
    .deleteFrom('report_version')
    .where('report_id', '=', report_id)
    .where('name', '=', '')
    .where('id', 'in', (q) =>
      q
        .selectFrom('report_version')
        .select('id')
        .where('report_id', '=', report_id)
        .orderBy('n', 'desc')
        .limit(1_000_000)
        .offset(MOST_VERSIONS),
    )
    .execute();
  return id;
}

/** The versions of a report, the newest first. */
export const versionsOf = (db: Store, reportId: string): Promise<VersionRow[]> =>
  db
    .selectFrom('report_version')
    .leftJoin('member', 'member.id', 'report_version.by')
    .select(['report_version.id', 'kind', 'report_version.name', 'title', 'at', 'member.name as by'])
    .where('report_id', '=', reportId)
    .orderBy('n', 'desc')
    .execute();

/** One version of a report; null where it is another report’s. */
export async function versionById(db: Store, reportId: string, id: string): Promise<StoredVersion | null> {
  const row = await db
    .selectFrom('report_version')
    .selectAll()
    .where('id', '=', id)
    .where('report_id', '=', reportId)
    .executeTakeFirst();
  if (!row) return null;
  const { n: _, report_id, document, template_version, ...rest } = row;
  return {
    ...rest,
    reportId: report_id,
    document: readDocument(document, `the version ${id}`),
    templateVersion: template_version,
  };
}

export async function nameVersion(db: Store, id: string, name: string): Promise<void> {
  await db.updateTable('report_version').set({ name }).where('id', '=', id).execute();
}
