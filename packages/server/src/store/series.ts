import { type SqlBool, sql } from 'kysely';
import { newId } from './ids.ts';
import type { Store } from './store.ts';

/** Schedules made from one, each for a client of a tag. */
export interface Series {
  id: string;
  source_id: string;
  tag: string;
}

/** The series that a schedule is the source of, for a tag or for any. */
export async function seriesOf(db: Store, sourceId: string): Promise<Series[]> {
  return db.selectFrom('series').select(['id', 'source_id', 'tag']).where('source_id', '=', sourceId).execute();
}

/** The series of a schedule and a tag, made where there is none yet. */
export async function seriesFor(
  tx: Store,
  sourceId: string,
  tag: string,
  by: { member: string; at: string },
): Promise<string> {
  const known = (await seriesOf(tx, sourceId)).find((s) => s.tag.toLowerCase() === tag.toLowerCase());
  if (known) return known.id;
  const id = newId('se');
  await tx.insertInto('series').values({ id, source_id: sourceId, tag, made_by: by.member, made_at: by.at }).execute();
  return id;
}

/** Takes a schedule into a series. */
export async function joinSeries(tx: Store, scheduleId: string, seriesId: string): Promise<void> {
  await tx.updateTable('schedule').set({ series_id: seriesId }).where('id', '=', scheduleId).execute();
}

/** The schedules of these series that were not ended, by client. */
export async function inSeries(db: Store, seriesIds: readonly string[]): Promise<Map<string, string>> {
  if (seriesIds.length === 0) return new Map();
  const rows = await db
    .selectFrom('schedule')
    .select(['id', 'client_id'])
    .where('series_id', 'in', seriesIds)
    .where('state', '!=', 'ended')
    .execute();
  return new Map(rows.map((r) => [r.client_id, r.id]));
}

/** Clients with the tag of a series that have no schedule of it, with what it sends. */
export const clientsOutsideSeries = (db: Store) =>
  db
    .selectFrom('series')
    .innerJoin('schedule as source', 'source.id', 'series.source_id')
    .innerJoin('report', 'report.id', 'source.report_id')
    .innerJoin('client_tag', (join) => join.on(sql<SqlBool>`client_tag.tag = series.tag collate nocase`))
    .innerJoin('client', 'client.id', 'client_tag.client_id')
    .select(['series.source_id', 'series.tag', 'report.title', 'client.id as client', 'client.name'])
    .where('source.state', '=', 'active')
    .where('client.inactive_at', 'is', null)
    .whereRef('client.id', '!=', 'source.client_id')
    .where((w) =>
      w.not(
        w.exists(
          w
            .selectFrom('schedule')
            .select('schedule.id')
            .whereRef('schedule.series_id', '=', 'series.id')
            .whereRef('schedule.client_id', '=', 'client.id')
            .where('schedule.state', '!=', 'ended'),
        ),
      ),
    )
    .orderBy('client.name')
    .execute();
