import {
  type Binding,
  bindingSchema,
  periodCommentariesOf,
  type ReportDocument,
  readDocument,
} from '@chronicon/core/report';
import { type Selectable, sql } from 'kysely';
import { among } from './among.ts';
import { cached } from './cache.ts';
import { releaseCommentary } from './commentaries.ts';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import { hasText } from './like.ts';
import { readOnce } from './parsed.ts';
import { keepVersion } from './reportVersions.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';
import { storedOnce } from './stored.ts';

/** What editions are made from. */
export interface Release {
  title: string;
  document: ReportDocument;
  at: string;
  by: string | null;
}

/** The draft as it is edited, and its release. */
export interface StoredReport {
  id: string;
  clientId: string;
  title: string;
  document: ReportDocument;
  version: number;
  updatedAt: string;
  release: Release | null;
  /** When it was deleted; null for one that was not. */
  removedAt: string | null;
  /** The template that it follows, and the version of it that it has. */
  template: { id: string; version: number; binding: Binding } | null;
}

/** Some hundred reports. */
const documentIn = readOnce<ReportDocument>(4_000_000, readDocument);

const bindingIn = storedOnce<Binding>(bindingSchema, 'how a report follows its template');

const fromRow = (r: Selectable<Tables['report']>): StoredReport => ({
  id: r.id,
  clientId: r.client_id,
  title: r.title,
  document: documentIn(r.document, `the report ${r.id}`),
  version: r.version,
  updatedAt: r.updated_at,
  removedAt: r.removed_at,
  release:
    r.released_document === null
      ? null
      : {
          title: r.released_title!,
          document: documentIn(r.released_document, `the release of ${r.id}`),
          at: r.released_at!,
          by: r.released_by,
        },
  template:
    r.template_id === null ? null : { id: r.template_id, version: r.template_version!, binding: bindingIn(r.binding) },
});

export async function createReport(
  db: Store,
  report: {
    clientId: string;
    title: string;
    document: ReportDocument;
    at: string;
    template?: StoredReport['template'] | undefined;
  },
): Promise<StoredReport> {
  const { clientId, title, document, at, template = null } = report;
  const id = newId('rp');
  await db
    .insertInto('report')
    .values({
      id,
      client_id: clientId,
      title,
      document: JSON.stringify(document),
      version: 1,
      updated_at: at,
      released_title: null,
      released_document: null,
      released_version: null,
      released_at: null,
      released_by: null,
      template_id: template?.id ?? null,
      template_version: template?.version ?? null,
      binding: JSON.stringify(template?.binding ?? {}),
    })
    .execute();
  return { id, clientId, title, document, version: 1, updatedAt: at, removedAt: null, release: null, template };
}

export const reportById = (db: Store, id: string): Promise<StoredReport | null> =>
  cached(db, ['report'], `report ${id}`, async () => {
    const row = await db.selectFrom('report').selectAll().where('id', '=', id).executeTakeFirst();
    return row ? fromRow(row) : null;
  });

/** The reports of a client; those that were deleted are none. */
export async function reportsOf(db: Store, clientId: string): Promise<StoredReport[]> {
  const rows = await db
    .selectFrom('report')
    .selectAll()
    .where('client_id', '=', clientId)
    .where('removed_at', 'is', null)
    .orderBy('title')
    .execute();
  return rows.map(fromRow);
}

/** Deletes a report: it is in no list and can be changed no more; what was made from it stays and is found by it. */
export async function removeReport(db: Store, id: string, at: string): Promise<void> {
  await db.updateTable('report').set({ removed_at: at }).where('id', '=', id).execute();
}

/** What readers know reports by, by id: these, or all of them. One that was never released has the name that it has so far. */
export async function reportTitles(db: Store, ids: readonly string[] | null): Promise<Map<string, string>> {
  let query = db.selectFrom('report').select(['id', 'title', 'released_title']);
  if (ids !== null) query = query.where(among('id', [...new Set(ids)]));
  return new Map((await query.execute()).map((r) => [r.id, r.released_title ?? r.title]));
}

/** Reports in whose documents an id stands: of one client, or of all for null. */
export async function reportsNaming(db: Store, id: string, clientId: string | null): Promise<StoredReport[]> {
  let query = db
    .selectFrom('report')
    .selectAll()
    .where('removed_at', 'is', null)
    .where((w) => w.or([hasText('document', id), hasText('released_document', id)]));
  if (clientId !== null) query = query.where('client_id', '=', clientId);
  return (await query.orderBy('title').execute()).map(fromRow);
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

/** Lists the blocks of a release whose words are written for one period: the Desk asks for those that are missing. */
async function listWrittenBlocks(tx: Store, reportId: string): Promise<void> {
  const { release } = (await reportById(tx, reportId))!;
  await tx.deleteFrom('written_block').where('report_id', '=', reportId).execute();
  const blocks = release ? periodCommentariesOf(release.document) : [];
  for (const [position, block_id] of blocks.entries()) {
    await tx.insertInto('written_block').values({ report_id: reportId, block_id, position }).execute();
  }
}

/**
 * Makes the draft of a version the release, and the drafts of commentary with it; editions that are not on their way
 * follow, in the same transaction. False when somebody saved another version meanwhile.
 */
export const releaseReport = (
  db: Store,
  report: { id: string; version: number; at: string; by: string | null },
): Promise<boolean> =>
  inTransaction(db, async (tx) => {
    const result = await tx
      .updateTable('report')
      .set((q) => ({
        released_title: q.ref('title'),
        released_document: q.ref('document'),
        released_version: q.ref('version'),
        released_at: report.at,
        released_by: report.by,
      }))
      .where('id', '=', report.id)
      .where('version', '=', report.version)
      .executeTakeFirst();
    if (result.numUpdatedRows !== 1n) return false;
    await keepVersion(tx, (await reportById(tx, report.id))!, {
      kind: 'release',
      name: '',
      at: report.at,
      by: report.by,
    });
    await listWrittenBlocks(tx, report.id);
    await releaseCommentary(tx, report.id);
    await markStale(tx, { reportId: report.id }, report.at);
    return true;
  });

/** Reports of clients that have any part of its kit as the agency has it, by the names of clients. */
export async function reportsOfFollowers(
  db: Store,
): Promise<{ id: string; title: string; client: { id: string; name: string } }[]> {
  const rows = await db
    .selectFrom('client')
    .innerJoin('report', 'report.client_id', 'client.id')
    .select(['report.id', 'report.title', 'client.id as clientId', 'client.name'])
    .where('client.inactive_at', 'is', null)
    .where(sql<boolean>`json_array_length(client.brand, '$.follows') > 0`)
    .orderBy('client.name')
    .orderBy('report.title')
    .limit(MOST_FOLLOWERS)
    .execute();
  return rows.map(({ clientId, name, ...report }) => ({ ...report, client: { id: clientId, name } }));
}

/** Reports that are shown while the agency's kit changes: more nobody looks through. */
const MOST_FOLLOWERS = 60;
