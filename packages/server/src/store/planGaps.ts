import type { Store } from './store.ts';
import { seenIn, type Visibility } from './visibility.ts';

/** What of the visible plans wants a person: read in a few statements, however many clients there are. */

/** Clients of which nothing is to come, with their schedules that are not ended. */
export async function clientsWithoutRuns(db: Store, visibility: Visibility, now: string) {
  const clients = await db
    .selectFrom('client')
    .select('client.id')
    .where(seenIn(visibility, 'client.id'))
    .where((w) =>
      w.not(
        w.exists(
          w.selectFrom('run').select('run.at').whereRef('run.client_id', '=', 'client.id').where('run.at', '>', now),
        ),
      ),
    )
    .execute();
  const ids = clients.map((c) => c.id);
  const schedules =
    ids.length === 0
      ? []
      : await db
          .selectFrom('schedule')
          .select(['client_id', 'state', 'stopped', 'last_date'])
          .where('client_id', 'in', ids)
          .where('state', '!=', 'ended')
          .orderBy('created_at')
          .execute();
  return ids.map((id) => ({ id, schedules: schedules.filter((s) => s.client_id === id) }));
}

/** Schedules that have runs to come, and end by a day. */
export const schedulesEndingBy = (db: Store, visibility: Visibility, now: string, by: string) =>
  db
    .selectFrom('schedule')
    .select(['schedule.id', 'schedule.client_id', 'schedule.last_date'])
    .where('state', '=', 'active')
    .where('last_date', '<=', by)
    .where(seenIn(visibility, 'schedule.client_id'))
    .where((w) =>
      w.exists(
        w.selectFrom('run').select('run.at').whereRef('run.schedule_id', '=', 'schedule.id').where('run.at', '>', now),
      ),
    )
    .orderBy('schedule.id')
    .execute();

/** The next run of each visible schedule, by `until`. */
const nextRuns = (db: Store, visibility: Visibility, now: string, until: string) =>
  db
    .selectFrom('schedule')
    .innerJoin('run', (join) =>
      join.onRef('run.schedule_id', '=', 'schedule.id').on('run.at', '=', (q) =>
        q
          .selectFrom('run as later')
          .select((l) => l.fn.min('later.at').as('first'))
          .whereRef('later.schedule_id', '=', 'schedule.id')
          .where('later.at', '>', now),
      ),
    )
    .where('run.at', '<=', until)
    .where(seenIn(visibility, 'run.client_id'))
    .select([
      'run.schedule_id',
      'run.nominal',
      'run.client_id',
      'run.report_id',
      'run.at',
      'run.period_from',
      'run.period_to',
    ])
    .orderBy('run.at')
    .orderBy('run.schedule_id');

/** Next runs whose release has a commentary for each period, and none for theirs that would go out. */
export const runsWithoutWords = (db: Store, visibility: Visibility, now: string, until: string) =>
  nextRuns(db, visibility, now, until)
    .innerJoin('report', 'report.id', 'run.report_id')
    .innerJoin('written_block', 'written_block.report_id', 'run.report_id')
    .leftJoin('commentary', (join) =>
      join
        .onRef('commentary.report_id', '=', 'run.report_id')
        .onRef('commentary.block_id', '=', 'written_block.block_id')
        .onRef('commentary.first', '=', 'run.period_from')
        .onRef('commentary.last', '=', 'run.period_to'),
    )
    .where((w) =>
      w.or([w('commentary.released', 'is', null), w(w.fn<string>('trim', ['commentary.released']), '=', '')]),
    )
    .select(['written_block.block_id', 'commentary.draft', 'report.title'])
    .orderBy('written_block.position')
    .execute();

/** Reports whose document, title or commentary is no longer what was released. */
async function editedReports(db: Store): Promise<string[]> {
  const changed = await db
    .selectFrom('report')
    .select('id')
    .where('version', '!=', (w) => w.ref('released_version'))
    .where((w) => w.or([w('released_document', '!=', w.ref('document')), w('released_title', '!=', w.ref('title'))]))
    .execute();
  const rewritten = await db
    .selectFrom('commentary')
    .innerJoin('report', 'report.id', 'commentary.report_id')
    .select('report.id')
    .distinct()
    .where('commentary.draft', '!=', (w) => w.ref('commentary.released'))
    .where('report.released_document', 'is not', null)
    .execute();
  return [...new Set([...changed, ...rewritten].map((r) => r.id))];
}

/** Next runs whose report was edited since it was released. */
export async function runsOfEdited(db: Store, visibility: Visibility, now: string, until: string) {
  const edited = await editedReports(db);
  if (edited.length === 0) return [];
  return nextRuns(db, visibility, now, until)
    .innerJoin('report', 'report.id', 'run.report_id')
    .where('run.report_id', 'in', edited)
    .select(['report.title', 'report.released_at'])
    .execute();
}
