import { type Kysely, sql } from 'kysely';

/** The facts database: one dataset's rows lie in one chunk a month (chunkCodec.ts). Days are day numbers. */
export interface FactTables {
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
}

/** Steps in order; the file keeps how many it has taken. A step that has shipped is never changed. */
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
];

/** Brings the facts database up to date. */
export async function createFactTables(db: Kysely<FactTables>): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const taken = await sql<{ user_version: number }>`pragma user_version`.execute(tx);
    const from = taken.rows[0]!.user_version;
    for (const statement of STEPS.slice(from).flat()) await sql.raw(statement).execute(tx);
    await sql.raw(`pragma user_version = ${STEPS.length}`).execute(tx);
  });
}
