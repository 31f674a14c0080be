import type { Run } from '@chronicon/core/report';
import { type SqlBool, sql } from 'kysely';
import { among } from './among.ts';
import type { ClientHead } from './clients.ts';
import { clientsByIds } from './clients.ts';
import type { EditionRow } from './editions.ts';
import { hasText } from './like.ts';
import type { Store } from './store.ts';
import { seenIn, type Visibility } from './visibility.ts';

/** What is planned of many clients, read in a few statements however many they are. */

/** A run with whose it is. */
export interface OwnedRun extends Run {
  scheduleId: string;
  clientId: string;
}

/** True for a run of which an edition is made, of whatever group. */
const made = sql<SqlBool>`exists (select 1 from edition where edition.schedule_id = run.schedule_id and edition.nominal = run.nominal)`;

/** Whose runs are meant: of all that the member sees, or of some clients. */
export type Whose = { visibility: Visibility } | { clients: readonly string[] };

/** Runs in [`from`, `to`) of which no edition is made yet. */
const openIn = (db: Store, from: string, to: string, of: Whose) =>
  db
    .selectFrom('run')
    .where('at', '>=', from)
    .where('at', '<', to)
    .where(sql<SqlBool>`not ${made}`)
    .where('clients' in of ? among('client_id', of.clients) : seenIn(of.visibility, 'run.client_id'));

/** How many runs in [`from`, `to`) there are of which no edition is made yet. */
export async function openRunsCounted(db: Store, from: string, to: string, of: Whose): Promise<number> {
  const counted = openIn(db, from, to, of).select((s) => s.fn.countAll<number>().as('n'));
  return (await counted.executeTakeFirstOrThrow()).n;
}

/** These runs, soonest first: all of them, or a page. */
export async function openRuns(
  db: Store,
  from: string,
  to: string,
  of: Whose,
  page?: { offset: number; limit: number },
): Promise<OwnedRun[]> {
  let query = openIn(db, from, to, of).selectAll().orderBy('at').orderBy('schedule_id');
  if (page) query = query.offset(page.offset).limit(page.limit);
  const rows = await query.execute();
  return rows.map((r) => ({
    scheduleId: r.schedule_id,
    clientId: r.client_id,
    nominal: r.nominal,
    runsOn: r.runs_on,
    at: r.at,
    period: { from: r.period_from, to: r.period_to },
    compared: r.compared_from && r.compared_to ? { from: r.compared_from, to: r.compared_to } : null,
  }));
}

/** Editions of these clients that are due in [`from`, `to`), soonest first; tests left out. */
export async function editionsDueOf(
  db: Store,
  clients: readonly string[],
  from: string,
  to: string,
): Promise<EditionRow[]> {
  if (clients.length === 0) return [];
  return db
    .selectFrom('edition')
    .selectAll()
    .where(among('client_id', clients))
    .where('due_at', '>=', from)
    .where('due_at', '<', to)
    .where('kind', '!=', 'test')
    .orderBy('due_at')
    .execute();
}

const nothing = (from: string, to: string) => sql<SqlBool>`
  not exists (select 1 from run where run.client_id = client.id and run.at >= ${from} and run.at < ${to})
  and not exists (select 1 from edition where edition.client_id = client.id and edition.due_at >= ${from} and edition.due_at < ${to}
    and edition.kind <> 'test' and edition.state <> 'skipped')`;

/**
 * A page of the clients that are looked after that the member sees, by name, with how many there are, and of how many nothing is
 * planned in [`from`, `to`).
 */
export async function clientsPlanned(
  db: Store,
  visibility: Visibility,
  span: { from: string; to: string },
  asked: { text: string; empty: boolean; offset: number; limit: number },
): Promise<{ clients: ClientHead[]; total: number; empty: number }> {
  let found = db.selectFrom('client').where(seenIn({ ...visibility, working: true }, 'client.id'));
  if (asked.text !== '') found = found.where(hasText('name', asked.text));
  const counted = await found
    .select((s) => [
      s.fn.countAll<number>().as('all'),
      sql<number>`coalesce(sum(${nothing(span.from, span.to)}), 0)`.as('empty'),
    ])
    .executeTakeFirstOrThrow();
  if (asked.empty) found = found.where(nothing(span.from, span.to));
  const rows = await found.select('id').orderBy('name').orderBy('id').offset(asked.offset).limit(asked.limit).execute();
  const heads = await clientsByIds(
    db,
    rows.map((r) => r.id),
  );
  return {
    clients: rows.map((r) => heads.get(r.id)!),
    total: asked.empty ? counted.empty : counted.all,
    empty: counted.empty,
  };
}

/** Of these schedules, how many editions each has, and the last that was due by `now`; tests left out. */
export async function editionsCounted(
  db: Store,
  scheduleIds: readonly string[],
  now: string,
): Promise<Map<string, { count: number; last: Pick<EditionRow, 'id' | 'due_at' | 'state'> | null }>> {
  const found = new Map<string, { count: number; last: Pick<EditionRow, 'id' | 'due_at' | 'state'> | null }>();
  if (scheduleIds.length === 0) return found;
  const rows = await db
    .selectFrom('edition')
    .select(['id', 'schedule_id', 'due_at', 'state'])
    .where(among('schedule_id', scheduleIds))
    .orderBy('due_at')
    .execute();
  for (const { schedule_id: schedule, ...e } of rows) {
    const own = found.get(schedule!) ?? { count: 0, last: null };
    if (e.state !== 'skipped' && e.state !== 'planned') own.count++;
    if (e.due_at <= now) own.last = e;
    found.set(schedule!, own);
  }
  return found;
}

/** The instant of the next run of each visible schedule that has one. */
export async function nextRunTimes(db: Store, ids: readonly string[], now: string): Promise<Map<string, string>> {
  const rows = await db
    .selectFrom('schedule')
    .select((q) => [
      'id',
      q
        .selectFrom('run')
        .select((r) => r.fn.min('at').as('at'))
        .whereRef('run.schedule_id', '=', 'schedule.id')
        .where('at', '>', now)
        .as('at'),
    ])
    .where(among('id', ids))
    .execute();
  return new Map(rows.flatMap((r) => (r.at === null ? [] : [[r.id, r.at]])));
}
