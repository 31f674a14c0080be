import { type RawBuilder, type SqlBool, sql } from 'kysely';
import { hasText } from './like.ts';
import { type ListedSchedule, listedSchedules } from './schedules.ts';
import type { Store } from './store.ts';
import { seenIn, type Visibility } from './visibility.ts';

/** What schedules are looked for by; what is left out, or empty, is any. */
export interface ScheduleSearch {
  /** Of the client's name or the report's title. */
  text: string;
  /** Of the name or address of somebody who reads it. */
  reader: string;
  rhythm?: string | undefined;
  manager?: string | undefined;
  state?: 'runs' | 'paused' | 'over' | undefined;
  /** Those alone that end by this date. */
  endsBy?: string | undefined;
}

/** True for a schedule that still runs at an instant. */
const hasRun = (now: string): RawBuilder<SqlBool> =>
  sql<SqlBool>`exists (select 1 from run where run.schedule_id = schedule.id and run.at > ${now})`;

const stateIs = (state: NonNullable<ScheduleSearch['state']>, now: string): RawBuilder<SqlBool> => {
  if (state === 'paused') return sql<SqlBool>`schedule.state = 'paused'`;
  const runs = hasRun(now);
  return sql<SqlBool>`schedule.state <> 'paused' and ${state === 'runs' ? runs : sql`not ${runs}`}`;
};

/**
 * True for a schedule that somebody reads of whom a text is a part of name or address: by themselves, by a list, or in a group. Who
 * they are is found once, not for each schedule.
 */
function isReadBy(text: string, visibility: Visibility): RawBuilder<SqlBool> {
  const named = (tree: RawBuilder<unknown>) => sql`exists (select 1 from ${tree} as t where
    (t.key in ('contact', 'member') and t.atom in (select id from person))
    or (t.key = 'list' and t.atom in (select id from reading)))`;
  return sql<SqlBool>`schedule.id in (
    with person as materialized (
      select id from contact where removed_at is null and ${seenIn(visibility, 'contact.client_id')}
        and ${hasText(sql`trim(first_name || ' ' || last_name) || ' ' || email`, text)}
      union all select id from member where state = 'active' and ${hasText(sql`name || ' ' || email`, text)}
    ), reading as materialized (
      select reader_list.id from reader_list, json_each(reader_list.readers) as c where c.value in (select id from person)
    )
    select s.id from schedule as s where s.state <> 'ended' and (
      ${named(sql`json_tree(s.readers)`)} or ${named(sql`json_tree(s.own, '$.groups')`)})
  )`;
}

/** A page of the schedules that a member sees and looks for, by client, with how many there are, and the first ids of them all. */
export async function schedulesFound(
  db: Store,
  visibility: Visibility,
  asked: ScheduleSearch,
  { now, offset, limit, most }: { now: string; offset: number; limit: number; most: number },
): Promise<{ schedules: ListedSchedule[]; total: number; first: string[] }> {
  let query = db
    .selectFrom('schedule')
    .innerJoin('client', 'client.id', 'schedule.client_id')
    .innerJoin('report', 'report.id', 'schedule.report_id')
    .where('schedule.state', '!=', 'ended')
    .where(seenIn(visibility, 'schedule.client_id'));
  if (asked.text !== '') {
    const title = sql`coalesce(report.released_title, report.title)`;
    query = query.where((w) => w.or([hasText('client.name', asked.text), hasText(title, asked.text)]));
  }
  if (asked.rhythm) query = query.where(sql<SqlBool>`schedule.rule ->> '$.freq' = ${asked.rhythm}`);
  if (asked.manager) query = query.where('client.manager_id', '=', asked.manager);
  if (asked.endsBy) query = query.where('schedule.last_date', '<=', asked.endsBy);
  if (asked.state) query = query.where(stateIs(asked.state, now));
  if (asked.reader !== '') query = query.where(isReadBy(asked.reader, visibility));
  const { total } = await query.select((s) => s.fn.countAll<number>().as('total')).executeTakeFirstOrThrow();
  const sorted = query
    .select('schedule.id')
    .orderBy(sql`client.name collate nocase`)
    .orderBy('client.id')
    .orderBy('schedule.id');
  const page = await sorted.offset(offset).limit(limit).execute();
  const first = await sorted.limit(most).execute();
  return {
    schedules: await listedSchedules(
      db,
      page.map((r) => r.id),
    ),
    total,
    first: first.map((r) => r.id),
  };
}
