import type { ReportDocument } from '@chronicon/core/report';
import type { Selectable } from 'kysely';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

export interface StoredReport {
  id: string;
  clientId: string;
  title: string;
  document: ReportDocument;
  version: number;
  updatedAt: string;
}

const fromRow = (r: Selectable<Tables['report']>): StoredReport => ({
  id: r.id,
  clientId: r.client_id,
  title: r.title,
  document: JSON.parse(r.document) as ReportDocument,
  version: r.version,
  updatedAt: r.updated_at,
});

export async function createReport(
  db: Store,
  report: { clientId: string; title: string; document: ReportDocument; at: string },
): Promise<StoredReport> {
  const { clientId, title, document, at } = report;
  const id = newId('rp');
  await db
    .insertInto('report')
    .values({ id, client_id: clientId, title, document: JSON.stringify(document), version: 1, updated_at: at })
    .execute();
  return { id, clientId, title, document, version: 1, updatedAt: at };
}

export async function reportById(db: Store, id: string): Promise<StoredReport | null> {
  const row = await db.selectFrom('report').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? fromRow(row) : null;
}

export async function reportsOf(db: Store, clientId: string): Promise<StoredReport[]> {
  const rows = await db.selectFrom('report').selectAll().where('client_id', '=', clientId).orderBy('title').execute();
  return rows.map(fromRow);
}

/** Saves over `version` alone: false when somebody saved another one meanwhile. */
export async function saveReport(
  db: Store,
  report: { id: string; title: string; document: ReportDocument; version: number; at: string },
): Promise<boolean> {
  const result = await db
    .updateTable('report')
    .set({
      title: report.title,
      document: JSON.stringify(report.document),
      version: report.version + 1,
      updated_at: report.at,
    })
    .where('id', '=', report.id)
    .where('version', '=', report.version)
    .executeTakeFirst();
  return result.numUpdatedRows === 1n;
}
