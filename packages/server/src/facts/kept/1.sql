pragma foreign_keys = off;
pragma user_version = 1;
CREATE TABLE dataset (id text primary key, feed_id text not null, client_id text not null, key text not null, name text not null,
      position integer not null, first_day text not null, dimensions text not null, measures text not null, unique (feed_id, key)) strict;
insert into "dataset" values ('ds_1', 'fd_1', 'cl_1', 'visits', 'Visits', 0, '2026-09-01', '["channel"]', '["visits"]');
CREATE INDEX dataset_client on dataset (client_id);
CREATE TABLE chunk (dataset_id text not null references dataset, month text not null, rows integer not null, body blob not null,
      primary key (dataset_id, month)) strict;
insert into "chunk" values ('ds_1', '2026-10', 1, x'00');
CREATE TABLE dim_value (dataset_id text not null references dataset, dim text not null, code integer not null, label text not null,
      primary key (dataset_id, dim, code), unique (dataset_id, dim, label)) strict, without rowid;
insert into "dim_value" values ('ds_1', 'channel', 0, 'Direct');
insert into "dim_value" values ('ds_1', 'channel', 1, 'Email');
CREATE TABLE coverage (dataset_id text not null references dataset, day integer not null, fetched_at text not null,
      primary key (dataset_id, day)) strict, without rowid;
insert into "coverage" values ('ds_1', 20727, '2026-10-03T06:00:00.000Z');
