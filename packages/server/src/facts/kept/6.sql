pragma foreign_keys = off;
pragma user_version = 6;
CREATE TABLE dataset (id text primary key, feed_id text not null, client_id text not null, key text not null, name text not null,
      position integer not null, first_day text not null, dimensions text not null, measures text not null, family text not null default '', feed_name text not null default '', grain text not null default 'day', ended integer, revision integer not null default 0, unique (feed_id, key)) strict;
insert into "dataset" values ('ds_1', 'fd_1', 'cl_1', 'visits', 'Visits', 0, '2026-09-01', '["channel"]', '["visits"]', '', '', 'day', null, 1);
CREATE INDEX dataset_client on dataset (client_id);
CREATE TABLE chunk (dataset_id text not null references dataset, month text not null, rows integer not null, body blob not null,
      primary key (dataset_id, month)) strict;
insert into "chunk" values ('ds_1', '2026-10', 3, x'0237000000030000005b5b22646179222c312c302c315d2c5b22643a6368616e6e656c222c312c302c315d2c5b226d3a766973697473222c312c33302c315d5d0000010001005a006e');
CREATE TABLE dim_value (dataset_id text not null references dataset, dim text not null, code integer not null, label text not null,
      primary key (dataset_id, dim, code), unique (dataset_id, dim, label)) strict, without rowid;
insert into "dim_value" values ('ds_1', 'channel', 0, 'Direct');
insert into "dim_value" values ('ds_1', 'channel', 1, 'Email');
CREATE TABLE coverage (dataset_id text not null references dataset, first integer not null, last integer not null, fetched_at text not null,
      primary key (dataset_id, first)) strict, without rowid;
insert into "coverage" values ('ds_1', 20727, 20728, '2026-10-03T06:00:00.000Z');
CREATE TABLE reported (dataset_id text not null references dataset, measure text not null, first text not null, last text not null,
      filter text not null, value real not null, fetched_at text not null, primary key (dataset_id, measure, first, last, filter)) strict, without rowid;
insert into "reported" values ('ds_1', 'visitors', '2026-10-01', '2026-10-31', '', 900, '2026-11-01T06:00:00.000Z');
CREATE TABLE restatement (dataset_id text not null references dataset, day integer not null, measure text not null, before real not null,
      after real not null, noticed_at text not null) strict;
insert into "restatement" values ('ds_1', 20727, 'visits', 118, 120, '2026-10-04T06:00:00.000Z');
CREATE INDEX restatement_noticed on restatement (dataset_id, noticed_at);
CREATE TABLE undo_chunk (import_id text not null, dataset_id text not null references dataset, month text not null, rows integer not null,
      body blob, primary key (import_id, month)) strict;
CREATE TABLE undo_dataset (import_id text primary key, dataset_id text not null references dataset, first_day text, first integer not null,
      last integer not null) strict, without rowid;
CREATE TABLE undo_coverage (import_id text not null, dataset_id text not null references dataset, first integer not null, last integer not null,
      fetched_at text not null) strict;
CREATE INDEX undo_coverage_import on undo_coverage (import_id);
CREATE TRIGGER chunk_new after insert on chunk for each row  begin update dataset set revision = revision + 1 where id = new.dataset_id; end;
CREATE TRIGGER chunk_changed after update on chunk for each row when old.body is not new.body begin update dataset set revision = revision + 1 where id = new.dataset_id; end;
CREATE TRIGGER chunk_gone after delete on chunk for each row  begin update dataset set revision = revision + 1 where id = old.dataset_id; end;
CREATE TRIGGER coverage_new after insert on coverage for each row  begin update dataset set revision = revision + 1 where id = new.dataset_id; end;
CREATE TRIGGER coverage_changed after update on coverage for each row when old.first is not new.first or old.last is not new.last begin update dataset set revision = revision + 1 where id = new.dataset_id; end;
CREATE TRIGGER coverage_gone after delete on coverage for each row  begin update dataset set revision = revision + 1 where id = old.dataset_id; end;
CREATE TRIGGER reported_new after insert on reported for each row  begin update dataset set revision = revision + 1 where id = new.dataset_id; end;
CREATE TRIGGER reported_changed after update on reported for each row when old.value is not new.value begin update dataset set revision = revision + 1 where id = new.dataset_id; end;
CREATE TRIGGER dataset_changed after update of ended, first_day, dimensions, measures on dataset for each row
      when old.ended is not new.ended or old.first_day is not new.first_day or old.dimensions is not new.dimensions or old.measures is not new.measures
      begin update dataset set revision = revision + 1 where id = new.id; end;
CREATE TABLE feed_past (feed_id text primary key, before text not null, continues text, after text not null) strict, without rowid;
insert into "feed_past" values ('fd_1', 'began', null, 'unread');
CREATE TRIGGER feed_past_insert after insert on feed_past for each row
        begin update dataset set revision = revision + 1 where feed_id = new.feed_id; end;
CREATE TRIGGER feed_past_update after update on feed_past for each row
        begin update dataset set revision = revision + 1 where feed_id = new.feed_id; end;
CREATE TABLE arrival (dataset_id text not null references dataset, day integer not null, at text not null,
      primary key (dataset_id, day)) strict, without rowid;
insert into "arrival" values ('ds_1', 20728, '2026-10-03T05:20:00.000Z');
