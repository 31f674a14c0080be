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
  coverage: { dataset_id: string; day: number; fetched_at: string };
}

export async function createFactTables(db: Kysely<FactTables>): Promise<void> {
  for (const statement of [
    `create table if not exists dataset (id text primary key, feed_id text not null, client_id text not null, key text not null, name text not null,
      position integer not null, first_day text not null, dimensions text not null, measures text not null, unique (feed_id, key)) strict`,
    'create index if not exists dataset_client on dataset (client_id)',
    `create table if not exists chunk (dataset_id text not null references dataset, month text not null, rows integer not null, body blob not null,
      primary key (dataset_id, month)) strict`,
    `create table if not exists dim_value (dataset_id text not null references dataset, dim text not null, code integer not null, label text not null,
      primary key (dataset_id, dim, code), unique (dataset_id, dim, label)) strict, without rowid`,
    `create table if not exists coverage (dataset_id text not null references dataset, day integer not null, fetched_at text not null,
      primary key (dataset_id, day)) strict, without rowid`,
  ]) {
    await sql.raw(statement).execute(db);
  }
}
