import {
  type ComparisonSpec,
  clampDate,
  clampSpec,
  type Exceptions,
  type PeriodSpec,
  type Recurrence,
  type Rule,
  type WorkingDayRule,
} from '@chronicon/core/calendar';
import { PLAIN_CHOICES, type ScheduleInput, scheduleSays } from '@chronicon/core/contract';
import type { FilterPart } from '@chronicon/core/figures';
import type { Assumed, ScheduleReader } from '@chronicon/core/report';
import type { Selectable } from 'kysely';
import { z } from 'zod';
import { among } from './among.ts';
import { hasText } from './like.ts';
import type { Agency } from './members.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';
import { storedOnce } from './stored.ts';
import { seenIn, type Visibility } from './visibility.ts';

export interface StoredSchedule extends ScheduleInput {
  id: string;
  clientId: string;
  state: 'active' | 'paused' | 'ended';
  leadMinutes: number;
  plannedThrough: string;
  /** When its rule, its bounds or its period were last changed; null when they never were. */
  ruleChangedAt: string | null;
  /** Why it was stopped without a person's doing; null when it was not. */
  stopped: string | null;
  /** The day on which one that is paused goes on by itself; null for none. */
  resumesOn: string | null;
}

/** What a schedule chooses beyond its dates and readers, as it is stored: what an older one does not name is as before. */
export type OwnColumn = Pick<
  ScheduleInput,
  | 'pages'
  | 'leftOut'
  | 'language'
  | 'formats'
  | 'fileName'
  | 'signOff'
  | 'patience'
  | 'archive'
  | 'mailing'
  | 'groups'
  | 'notified'
  | 'mail'
>;

const { workingDayRule: _, exceptions: __, assumed: ___, filter: ____, ...PLAIN } = PLAIN_CHOICES;
/** Keys of {@link OwnColumn}. */
const OWN = Object.keys(PLAIN) as (keyof OwnColumn)[];

/** What of a schedule stands in its column `own`. */
export const ownColumnOf = (input: ScheduleInput): string =>
  JSON.stringify(Object.fromEntries(OWN.map((key) => [key, input[key]])));

const { shape } = scheduleSays;
/** What was stored before days had bounds is brought within them. */
const clamped = <T>(spec: z.ZodType<T>): z.ZodType<T> =>
  z.preprocess((v) => (typeof v === 'object' && v !== null ? clampSpec(v as PeriodSpec | ComparisonSpec) : v), spec);

const ruleIn = storedOnce<Rule>(shape.rule, 'when a schedule runs');
const exceptionsIn = storedOnce<Exceptions>(shape.exceptions, 'the exceptions of a schedule');
const periodIn = storedOnce<PeriodSpec>(clamped(shape.period), 'the period of a schedule');
const comparisonIn = storedOnce<ComparisonSpec>(clamped(shape.comparison), 'the comparison of a schedule');
const assumedIn = storedOnce<Assumed>(shape.assumed, 'what a schedule assumes');
const filterIn = storedOnce<FilterPart[]>(shape.filter, 'what a schedule counts');
export const readersIn = storedOnce<ScheduleReader[]>(shape.readers, 'the readers of a schedule');
/** What an older schedule does not name is as it was before. */
export const ownColumnIn = storedOnce<OwnColumn>(
  scheduleSays.pick({
    pages: true,
    leftOut: true,
    language: true,
    formats: true,
    fileName: true,
    signOff: true,
    patience: true,
    archive: true,
    mailing: true,
    groups: true,
    notified: true,
    mail: true,
  }),
  'what a schedule chooses',
);

const fromRow = (r: Selectable<Tables['schedule']>): StoredSchedule => ({
  id: r.id,
  clientId: r.client_id,
  reportId: r.report_id,
  rule: ruleIn(r.rule),
  time: r.time,
  zone: r.zone,
  firstDate: clampDate(r.first_date),
  lastDate: r.last_date === null ? null : clampDate(r.last_date),
  exceptions: exceptionsIn(r.exceptions),
  workingDayRule: r.working_day_rule as WorkingDayRule,
  leadMinutes: r.lead_minutes,
  period: periodIn(r.period),
  comparison: comparisonIn(r.comparison),
  assumed: assumedIn(r.assumed),
  filter: filterIn(r.filter),
  readers: readersIn(r.readers),
  ...ownColumnIn(r.own),
  subject: r.subject,
  message: r.message,
  state: r.state,
  plannedThrough: r.planned_through,
  ruleChangedAt: r.rule_changed_at,
  stopped: r.stopped,
  resumesOn: r.resumes_on,
});

export async function scheduleById(db: Store, id: string): Promise<StoredSchedule | null> {
  const row = await db.selectFrom('schedule').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? fromRow(row) : null;
}

export async function schedulesOf(db: Store, clientId: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('client_id', '=', clientId)
    .where('state', '!=', 'ended')
    .orderBy('created_at')
    .execute();
  return rows.map(fromRow);
}

/** These schedules, by id. */
export async function schedulesByIds(db: Store, ids: readonly string[]): Promise<Map<string, StoredSchedule>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where(among('id', [...new Set(ids)]))
    .execute();
  return new Map(rows.map((r) => [r.id, fromRow(r)]));
}

/** How many schedules that are not ended each of these clients has. */
export async function schedulesCounted(db: Store, clientIds: readonly string[]): Promise<Map<string, number>> {
  if (clientIds.length === 0) return new Map();
  const rows = await db
    .selectFrom('schedule')
    .select((s) => ['client_id', s.fn.countAll<number>().as('n')])
    .where('client_id', 'in', clientIds)
    .where('state', '!=', 'ended')
    .groupBy('client_id')
    .execute();
  return new Map(rows.map((r) => [r.client_id, r.n]));
}

/** The schedules that send a report, ended ones left out. */
export async function schedulesOfReport(db: Store, reportId: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('report_id', '=', reportId)
    .where('state', '!=', 'ended')
    .orderBy('created_at')
    .execute();
  return rows.map(fromRow);
}

/** The schedules, ended ones left out, that mention a segment: of a client, or of any for null. */
export async function schedulesNaming(db: Store, segment: string, clientId: string | null): Promise<StoredSchedule[]> {
  let query = db.selectFrom('schedule').selectAll().where('state', '!=', 'ended').where(hasText('filter', segment));
  if (clientId !== null) query = query.where('client_id', '=', clientId);
  return (await query.orderBy('created_at').execute()).map(fromRow);
}

/** Active schedules that the scheduler has to look at by `now`, `most` at a time, those that wait longest first. */
export const schedulesToLookAt = (db: Store, now: string, most: number) =>
  db
    .selectFrom('schedule')
    .select(['id', 'planned_through as plannedThrough'])
    .where('state', '=', 'active')
    .where('next_look', '<=', now)
    .orderBy('next_look')
    .limit(most)
    .execute();

/** Paused schedules that go on by themselves by a day. */
export async function schedulesResuming(db: Store, by: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('state', '=', 'paused')
    .where('resumes_on', '<=', by)
    .execute();
  return rows.map(fromRow);
}

/** Paused schedules that were stopped for want of a feed. */
export async function stoppedBy(db: Store, feedId: string): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where('stopped_by', '=', feedId)
    .where('state', '=', 'paused')
    .execute();
  return rows.map(fromRow);
}

/** Marks how far a schedule was planned, and when to look at it next; false when it was changed since it was read. */
export async function setPlanned(
  db: Store,
  read: Pick<StoredSchedule, 'id' | 'plannedThrough'>,
  through: string,
  nextLook: string,
): Promise<boolean> {
  const result = await db
    .updateTable('schedule')
    .set({ planned_through: through, next_look: nextLook })
    .where('id', '=', read.id)
    .where('state', '=', 'active')
    .where('planned_through', '=', read.plannedThrough)
    .executeTakeFirst();
  return result.numUpdatedRows === 1n;
}

/** What alone is read of a schedule for its dates. */
export type Dated = Pick<
  ScheduleInput,
  'rule' | 'time' | 'zone' | 'firstDate' | 'lastDate' | 'exceptions' | 'workingDayRule'
>;

/** The schedule's dates as the calendar wants them. */
export const recurrenceOf = (s: Dated, agency: Agency, weekStart: number): Recurrence => ({
  rule: s.rule,
  firstDate: s.firstDate,
  lastDate: s.lastDate,
  exceptions: s.exceptions,
  weekStart,
  calendar: { workingDays: agency.workingDays, holidays: new Set(agency.holidays) },
  workingDayRule: s.workingDayRule,
  time: s.time,
  zone: s.zone,
});

/** The visible schedules that were not ended, by client and age. */
export async function schedulesSeen(db: Store, visibility: Visibility): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where(seenIn(visibility, 'schedule.client_id'))
    .where('state', '!=', 'ended')
    .orderBy('client_id')
    .orderBy('created_at')
    .execute();
  return rows.map(fromRow);
}

/** What of a schedule lists and tables of who reads what say. */
export type ListedSchedule = Pick<
  StoredSchedule,
  | 'id'
  | 'clientId'
  | 'reportId'
  | 'rule'
  | 'time'
  | 'zone'
  | 'lastDate'
  | 'period'
  | 'readers'
  | 'state'
  | 'stopped'
  | 'resumesOn'
  | 'signOff'
  | 'archive'
  | 'groups'
>;

const LISTED = [
  'id',
  'client_id',
  'report_id',
  'rule',
  'time',
  'zone',
  'last_date',
  'period',
  'readers',
  'own',
] as const;

const listedFrom = (
  r: Pick<Selectable<Tables['schedule']>, (typeof LISTED)[number] | 'state' | 'stopped' | 'resumes_on'>,
): ListedSchedule => {
  const { signOff, archive, groups } = ownColumnIn(r.own);
  return {
    id: r.id,
    clientId: r.client_id,
    reportId: r.report_id,
    rule: ruleIn(r.rule),
    time: r.time,
    zone: r.zone,
    lastDate: r.last_date,
    period: periodIn(r.period),
    readers: readersIn(r.readers),
    state: r.state,
    stopped: r.stopped,
    resumesOn: r.resumes_on,
    signOff,
    archive,
    groups,
  };
};

/** The visible schedules that were not ended, as far as lists show them: there may be thousands. */
export async function schedulesListed(db: Store, visibility: Visibility): Promise<ListedSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .select(LISTED)
    .select(['state', 'stopped', 'resumes_on'])
    .where(seenIn(visibility, 'schedule.client_id'))
    .where('state', '!=', 'ended')
    .orderBy('client_id')
    .orderBy('created_at')
    .execute();
  return rows.map(listedFrom);
}

/** These schedules, in this order, as far as lists show them. */
export async function listedSchedules(db: Store, ids: readonly string[]): Promise<ListedSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .select(LISTED)
    .select(['state', 'stopped', 'resumes_on'])
    .where(among('id', ids))
    .execute();
  const found = new Map(rows.map((r) => [r.id, listedFrom(r)]));
  return ids.flatMap((id) => found.get(id) ?? []);
}

/** The schedules of these clients that were not ended. */
export async function schedulesOfAll(db: Store, clientIds: readonly string[]): Promise<StoredSchedule[]> {
  if (clientIds.length === 0) return [];
  const query = db.selectFrom('schedule').selectAll().where(among('client_id', clientIds));
  return (await query.where('state', '!=', 'ended').orderBy('created_at').execute()).map(fromRow);
}

/** The visible schedules that run and have groups of readers. */
export async function schedulesWithGroups(db: Store, visibility: Visibility): Promise<StoredSchedule[]> {
  const rows = await db
    .selectFrom('schedule')
    .selectAll()
    .where(seenIn(visibility, 'schedule.client_id'))
    .where('state', '=', 'active')
    .where((w) => w(w.fn('json_type', ['own', w.val('$.groups')]), '=', 'object'))
    .orderBy('id')
    .execute();
  return rows.map(fromRow);
}

/** What a schedule is called by: the title of its report, and its client. Null where it is gone. */
export async function scheduleNamed(
  db: Store,
  id: string,
): Promise<{ title: string; clientId: string; clientName: string } | null> {
  const row = await db
    .selectFrom('schedule')
    .innerJoin('report', 'report.id', 'schedule.report_id')
    .innerJoin('client', 'client.id', 'schedule.client_id')
    .select(['report.title', 'client.id as clientId', 'client.name as clientName'])
    .where('schedule.id', '=', id)
    .executeTakeFirst();
  return row ?? null;
}

/** Schedules whose mails name something, with what their mails say. */
export const mailsNaming = (db: Store, text: string) =>
  db
    .selectFrom('schedule')
    .select(['client_id as clientId', 'subject', 'message'])
    .where((w) => w.or([hasText('subject', text), hasText('message', text)]))
    .execute();
