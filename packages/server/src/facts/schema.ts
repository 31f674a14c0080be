import { type Generated, type Kysely, sql } from 'kysely';
import { NewerData } from '../platform/newerData.ts';
import { takeSteps } from '../store/takeSteps.ts';

/** The facts database: one dataset's rows lie in one chunk a month (chunkCodec.ts). Days are day numbers. */
export interface FactTables {
  /** When a day of a dataset was there for the first time. */
  arrival: { dataset_id: string; day: number; at: string };
  dataset: {
    id: string;
    feed_id: string;
    client_id: string;
    key: string;
    name: string;
    position: number;
    first_day: string;
    dimensions: string;
    measures: string;
    /** Datasets of several feeds with one family tell one story together; empty for one that stands alone. */
    family: string;
    feed_name: string;
    /** What one row speaks of: a `day`, a `week` or a `month` from its day on. */
    grain: string;
    /** The last day that a removed feed brought, as a day number; null while it brings more. */
    ended: number | null;
    /** Raised by whatever changes its figures or what is known of them. */
    revision: Generated<number>;
  };
  /** What a person said of an account's past: where nothing stands, it ran before without us (SEMANTICS §4). */
  feed_past: {
    feed_id: string;
    before: 'ran' | 'began' | 'continues';
    continues: string | null;
    after: 'unread' | 'ended';
  };
  chunk: { dataset_id: string; month: string; rows: number; body: Buffer };
  dim_value: { dataset_id: string; dim: string; code: number; label: string };
  /** Runs of days that were last delivered together; they never overlap. */
  coverage: { dataset_id: string; first: number; last: number; fetched_at: string };
  /** Numbers that a feed counted itself over a whole range and filter; the filter as canonical JSON. */
  reported: {
    dataset_id: string;
    measure: string;
    first: string;
    last: string;
    filter: string;
    value: number;
    fetched_at: string;
  };
  /** Days that came again with other figures: a measure's total of the day, before and after. */
  restatement: { dataset_id: string; day: number; measure: string; before: number; after: number; noticed_at: string };
  /**
   * What an import changed, for taking it back: its days, the dataset's first day before (none when there was no
   * dataset), its months as they were (no body where there was none), its coverage.
   */
  undo_dataset: { import_id: string; dataset_id: string; first_day: string | null; first: number; last: number };
  undo_chunk: { import_id: string; dataset_id: string; month: string; rows: number; body: Buffer | null };
  undo_coverage: { import_id: string; dataset_id: string; first: number; last: number; fetched_at: string };
}

/** Steps in order. A step that has shipped is never changed. */
const STEPS: string[][] = [
  [
    `create table if not exists dataset (id text primary key, feed_id text not null, client_id text not null, key text not null, name text not null,
      position integer not null, first_day text not null, dimensions text not null, measures text not null, unique (feed_id, key)) strict`,
    'create index if not exists dataset_client on dataset (client_id)',
    `create table if not exists chunk (dataset_id text not null references dataset, month text not null, rows integer not null, body blob not null,
      primary key (dataset_id, month)) strict`,
    `create table if not exists dim_value (dataset_id text not null references dataset, dim text not null, code integer not null, label text not null,
      primary key (dataset_id, dim, code), unique (dataset_id, dim, label)) strict, without rowid`,
    `create table if not exists coverage (dataset_id text not null references dataset, day integer not null, fetched_at text not null,
      primary key (dataset_id, day)) strict, without rowid`,
  ],
  // Chunks and coverage have another layout from here on. Feeds fetch again what they find not delivered.
  [
    'delete from chunk',
    'drop table coverage',
    `create table coverage (dataset_id text not null references dataset, first integer not null, last integer not null, fetched_at text not null,
      primary key (dataset_id, first)) strict, without rowid`,
    `create table reported (dataset_id text not null references dataset, measure text not null, first text not null, last text not null,
      filter text not null, value real not null, fetched_at text not null, primary key (dataset_id, measure, first, last, filter)) strict, without rowid`,
  ],
  [
    `alter table dataset add column family text not null default ''`,
    `alter table dataset add column feed_name text not null default ''`,
    `alter table dataset add column grain text not null default 'day'`,
    'alter table dataset add column ended integer',
    `create table restatement (dataset_id text not null references dataset, day integer not null, measure text not null, before real not null,
      after real not null, noticed_at text not null) strict`,
    'create index restatement_noticed on restatement (dataset_id, noticed_at)',
    `create table undo_chunk (import_id text not null, dataset_id text not null references dataset, month text not null, rows integer not null,
      body blob, primary key (import_id, month)) strict`,
    `create table undo_dataset (import_id text primary key, dataset_id text not null references dataset, first_day text, first integer not null,
      last integer not null) strict, without rowid`,
    `create table undo_coverage (import_id text not null, dataset_id text not null references dataset, first integer not null, last integer not null,
      fetched_at text not null) strict`,
    'create index undo_coverage_import on undo_coverage (import_id)',
  ],
  // Whoever writes, a dataset tells that it has changed: editions drawn from it are drawn anew.
  [
    'alter table dataset add column revision integer not null default 0',
    ...[
      ['chunk_new', 'insert on chunk', 'new', ''],
      ['chunk_changed', 'update on chunk', 'new', 'when old.body is not new.body'],
      ['chunk_gone', 'delete on chunk', 'old', ''],
      ['coverage_new', 'insert on coverage', 'new', ''],
      ['coverage_changed', 'update on coverage', 'new', 'when old.first is not new.first or old.last is not new.last'],
      ['coverage_gone', 'delete on coverage', 'old', ''],
      ['reported_new', 'insert on reported', 'new', ''],
      ['reported_changed', 'update on reported', 'new', 'when old.value is not new.value'],
    ].map(
      ([name, event, row, when]) =>
        `create trigger ${name} after ${event} for each row ${when} begin update dataset set revision = revision + 1 where id = ${row}.dataset_id; end`,
    ),
    `create trigger dataset_changed after update of ended, first_day, dimensions, measures on dataset for each row
      when old.ended is not new.ended or old.first_day is not new.first_day or old.dimensions is not new.dimensions or old.measures is not new.measures
      begin update dataset set revision = revision + 1 where id = new.id; end`,
  ],
  [
    `create table feed_past (feed_id text primary key, before text not null, continues text, after text not null) strict, without rowid`,
    ...['insert', 'update'].map(
      (event) => `create trigger feed_past_${event} after ${event} on feed_past for each row
        begin update dataset set revision = revision + 1 where feed_id = new.feed_id; end`,
    ),
  ],
  [
    `create table arrival (dataset_id text not null references dataset, day integer not null, at text not null,
      primary key (dataset_id, day)) strict, without rowid`,
  ],
];

export const FACT_STEPS = STEPS.length;

/**
 * Brings the facts database up to date. How many steps it has taken stands in its `user_version` too, for versions that look there
 * alone.
 * @throws NewerData where another version took steps that are not known here
 */
export async function createFactTables(db: Kysely<FactTables>): Promise<void> {
  const { rows } = await sql<{ user_version: number }>`pragma user_version`.execute(db);
  const taken = rows[0]!.user_version;
  if (taken > FACT_STEPS) throw new NewerData();
  const steps = STEPS.map((statements, i) => [`${i + 1}`.padStart(3, '0'), { statements }] as const);
  await takeSteps(db, Object.fromEntries(steps), { taken });
  await sql.raw(`pragma user_version = ${FACT_STEPS}`).execute(db);
}
