pragma foreign_keys = off;
pragma user_version = 0;
CREATE TABLE "kysely_migration" ("name" varchar(255) not null primary key, "timestamp" varchar(255) not null);
insert into "kysely_migration" values ('001-first', '2026-11-01');
insert into "kysely_migration" values ('002-figures', '2026-11-01');
insert into "kysely_migration" values ('003-feeds', '2026-11-01');
insert into "kysely_migration" values ('004-way-out', '2026-11-01');
insert into "kysely_migration" values ('005-narrowed-targets', '2026-11-01');
insert into "kysely_migration" values ('006-set-aside', '2026-11-01');
insert into "kysely_migration" values ('007-runs', '2026-11-01');
insert into "kysely_migration" values ('008-settings', '2026-11-01');
insert into "kysely_migration" values ('009-sign-in', '2026-11-01');
insert into "kysely_migration" values ('010-agency', '2026-11-01');
insert into "kysely_migration" values ('011-people', '2026-11-01');
insert into "kysely_migration" values ('012-segments', '2026-11-01');
insert into "kysely_migration" values ('013-schedules-filter', '2026-11-01');
insert into "kysely_migration" values ('014-item-pictures', '2026-11-01');
insert into "kysely_migration" values ('015-composer', '2026-11-01');
insert into "kysely_migration" values ('016-typefaces', '2026-11-01');
insert into "kysely_migration" values ('017-shared-metrics', '2026-11-01');
insert into "kysely_migration" values ('018-planning', '2026-11-01');
insert into "kysely_migration" values ('019-series', '2026-11-01');
insert into "kysely_migration" values ('020-post', '2026-11-01');
insert into "kysely_migration" values ('021-packed-mails', '2026-11-01');
insert into "kysely_migration" values ('022-field-names', '2026-11-01');
insert into "kysely_migration" values ('023-excluded-days', '2026-11-01');
insert into "kysely_migration" values ('024-drafts', '2026-11-01');
insert into "kysely_migration" values ('025-sound', '2026-11-01');
insert into "kysely_migration" values ('026-turns', '2026-11-01');
insert into "kysely_migration" values ('027-indexes', '2026-11-01');
CREATE TABLE "kysely_migration_lock" ("id" varchar(255) not null primary key, "is_locked" integer default 0 not null);
insert into "kysely_migration_lock" values ('migration_lock', 0);
CREATE TABLE setting (key text primary key, value text not null) strict, without rowid;
insert into "setting" values ('clock.offset', '0');
insert into "setting" values ('mail.rules', '{"bounces":"bounces@fernglass.example","perMinute":30,"quiet":null}');
insert into "setting" values ('mail.tokens', 'kept-token-key');
CREATE TABLE agency (id text primary key, name text not null, zone text not null, mail_from text not null, holidays text not null, working_days text not null, week_start integer not null default 1, language text not null default 'en-GB', settings text not null default '{}', metrics text not null default '[]') strict;
insert into "agency" values ('ag_1', 'Fernglass Media', 'Europe/London', 'reports@fernglass.example', '[{"date":"2026-12-25","name":""}]', '[1,2,3,4,5]', 1, 'en-GB', '{}', '[{"key":"pagesEach","label":"Pages each","unit":"decimal","polarity":"higher","formula":"pageViews / visits","definition":""}]');
CREATE TABLE member (id text primary key, name text not null, email text not null unique, role text not null, password text not null, created_at text not null, state text not null default 'active', settings text not null default '{}', factor text) strict;
insert into "member" values ('mb_1', 'Ines Tallow', 'ines@fernglass.example', 'owner', 'scrypt$1', '2026-01-01T08:00:00.000Z', 'active', '{"notices":true,"scheme":"dark"}', null);
insert into "member" values ('mb_2', 'Joren Vask', 'joren@fernglass.example', 'manager', '', '2026-11-01T08:00:00.000Z', 'invited', '{}', null);
CREATE TABLE session (id text primary key, member_id text not null references member, csrf text not null, created_at text not null, expires_at text not null, seen_at text not null default '', address text not null default '', agent text not null default '') strict;
CREATE TABLE client (id text primary key, name text not null, manager_id text not null references member,
      brand text not null, created_at text not null, metrics text not null default '{"changed":{},"own":[]}', colour text not null default '', settings text not null default '{}', inactive_at text) strict;
insert into "client" values ('cl_1', 'Tarnbeck Pottery', 'mb_1', '{"main":"#274e66","second":"#d98f3d","footer":"","logo":null}', '2026-01-01T08:00:00.000Z', '{"changed":{"visits":{"label":"Sessions"}},"own":[]}', '#274e66', '{"site":"","zone":"Europe/London","currency":"GBP","language":"en-GB","startDate":"2024-01-01","weekStart":1,"fiscalStart":4,"domains":"tarnbeck.example"}', null);
CREATE TABLE assignment (client_id text not null references client, member_id text not null references member, primary key (client_id, member_id)) strict, without rowid;
insert into "assignment" values ('cl_1', 'mb_1');
CREATE TABLE contact (id text primary key, client_id text not null references client, first_name text not null, last_name text not null,
      email text not null, removed_at text, details text not null default '{}') strict;
insert into "contact" values ('co_1', 'cl_1', 'Petra', 'Lindqvist', 'petra@tarnbeck.example', null, '{}');
CREATE UNIQUE INDEX contact_email on contact (client_id, email) where removed_at is null;
CREATE TABLE feed (id text primary key, client_id text not null references client, kind text not null, account text not null, name text not null,
      state text not null, trouble text, failures integer not null, progress_done integer not null, progress_of integer not null,
      last_success text, next_sync text not null, created_at text not null, connection_id text references connection, fingerprint text, seen text, fault text, setup text, drop_key text, removed_at text, lease_owner text, lease_fence integer not null default 0) strict;
insert into "feed" values ('fd_1', 'cl_1', 'web-analytics', 'wa-2502', 'Website', 'fresh', null, 0, 0, 0, '2026-11-02T06:00:00.000Z', '2026-11-02T12:00:00.000Z', '2026-01-01T08:00:00.000Z', 'cn_1', null, null, null, null, null, null, null, 0);
insert into "feed" values ('fd_2', 'cl_1', 'typed', '', 'Shop visitors', 'fresh', null, 0, 0, 0, null, '9999-12-31T00:00:00.000Z', '2026-05-01T08:00:00.000Z', null, null, null, null, '{"measures":[]}', null, null, null, 0);
CREATE TABLE report (id text primary key, client_id text not null references client, title text not null, document text not null,
      version integer not null, updated_at text not null, released_title text, released_document text, released_at text, released_by text, released_version integer, template_id text references template, template_version integer, binding text not null default '{}', removed_at text) strict;
insert into "report" values ('rp_1', 'cl_1', 'Monthly overview', '{"version":1,"period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"pages":[{"id":"bl_p1","title":"Overview","rows":[{"id":"bl_r1","blocks":[{"kind":"heading","text":"How the shop did","id":"bl_h"}]},{"id":"bl_r2","blocks":[{"kind":"commentary","text":"","id":"bl_c","span":"period"}]},{"id":"bl_r3","blocks":[{"kind":"kpiRow","metrics":["visits","orders"],"id":"bl_k"}]},{"id":"bl_r4","blocks":[{"kind":"trend","metric":"visits","title":"","id":"bl_t"}]},{"id":"bl_r5","blocks":[{"kind":"ranking","dimension":"channel","metrics":["visits"],"n":6,"title":"Where they came from","id":"bl_g"}]}]}]}', 3, '2026-10-01T08:00:00.000Z', 'Monthly overview', '{"version":1,"period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"pages":[{"id":"bl_p1","title":"Overview","rows":[{"id":"bl_r1","blocks":[{"kind":"heading","text":"How the shop did","id":"bl_h"}]},{"id":"bl_r2","blocks":[{"kind":"commentary","text":"","id":"bl_c","span":"period"}]},{"id":"bl_r3","blocks":[{"kind":"kpiRow","metrics":["visits","orders"],"id":"bl_k"}]},{"id":"bl_r4","blocks":[{"kind":"trend","metric":"visits","title":"","id":"bl_t"}]},{"id":"bl_r5","blocks":[{"kind":"ranking","dimension":"channel","metrics":["visits"],"n":6,"title":"Where they came from","id":"bl_g"}]}]}]}', '2026-10-01T08:00:00.000Z', null, 3, 'tp_1', 1, '{"metrics":{"visits":"leads"},"dimensions":{}}', null);
CREATE TABLE schedule (id text primary key, client_id text not null references client, report_id text not null references report,
      rule text not null, time text not null, zone text not null, first_date text not null, last_date text, working_day_rule text not null, lead_minutes integer not null, period text not null, comparison text not null, readers text not null,
      subject text not null, message text not null, state text not null, planned_through text not null, next_look text not null, created_at text not null, stopped text, stopped_by text, rule_changed_at text, assumed text not null default '{}', filter text not null default '[]', exceptions text not null default '{}', own text not null default '{}', resumes_on text, series_id text references series) strict;
insert into "schedule" values ('sc_1', 'cl_1', 'rp_1', '{"freq":"monthly","every":1,"on":{"day":3}}', '09:00', 'Europe/London', '2026-01-01', null, 'none', 180, '{"kind":"unit","unit":"month","offset":-1}', '{"kind":"previous"}', '[{"contact":"co_1"}]', '{report}: {period}', 'Hello {firstName}.', 'active', '2026-11-03T09:00:00.000Z', '', '2026-01-01T08:00:00.000Z', null, null, null, '{}', '[{"dimension":"segment","how":"only","values":["sg_1"]}]', '{"2026-08-03":{"skipped":true}}', '{}', null, null);
CREATE TABLE edition (id text primary key, number integer, client_id text not null references client, report_id text not null references report,
      kind text not null, schedule_id text references schedule, nominal text, reader_group text not null, revision integer not null,
      title text not null, order_sheet text not null, period_from text, period_to text, compared_from text, compared_to text, state text not null, reason text,
      due_at text not null, next_at text, frozen text, pdf text, made_by text, created_at text not null, lease_owner text, code text, looked_at text, stale integer not null default 0, was_held integer not null default 0, made_of text, lease_fence integer not null default 0, mail_note text not null default '', approval_id text references approval, sent_at text,
      unique (schedule_id, nominal, reader_group, revision), unique (client_id, number)) strict;
insert into "edition" values ('ed_1', 1, 'cl_1', 'rp_1', 'scheduled', 'sc_1', '2026-10-03', '', 1, 'Monthly overview', '{"title":"Monthly overview","period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"asOf":"2026-11-03","readers":[{"contact":"co_1"}],"subject":"{report}: {period}","message":"Hello {firstName}, visits were {metric:visits}."}', '2026-09-01', '2026-09-30', '2026-08-01', '2026-08-31', 'sent', null, '2026-10-03T08:00:00.000Z', null, 'a1', 'b1', null, '2026-10-03T05:00:00.000Z', null, null, null, 0, 0, null, 0, '', null, '2026-10-03T08:00:00.000Z');
insert into "edition" values ('ed_2', null, 'cl_1', 'rp_1', 'by-hand', null, null, '', 1, 'Monthly overview', '{"title":"Monthly overview","period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"asOf":"2026-11-03","readers":[{"contact":"co_1"}],"subject":"{report}: {period}","message":"Hello {firstName}, visits were {metric:visits}."}', '2026-09-01', '2026-09-30', '2026-08-01', '2026-08-31', 'ready', null, '2026-10-03T08:00:00.000Z', null, null, 'b2', 'mb_1', '2026-10-03T05:00:00.000Z', null, null, null, 0, 0, null, 0, '', 'ap_2', null);
insert into "edition" values ('ed_3', null, 'cl_1', 'rp_1', 'by-hand', null, null, '', 1, 'Monthly overview', '{"title":"Monthly overview","period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"asOf":"2026-11-03","readers":[{"contact":"co_1"}],"subject":"{report}: {period}","message":"Hello {firstName}, visits were {metric:visits}."}', '2026-09-01', '2026-09-30', '2026-08-01', '2026-08-31', 'review', null, '2026-10-03T08:00:00.000Z', null, null, null, 'mb_1', '2026-10-03T05:00:00.000Z', null, null, null, 0, 0, null, 0, '', null, null);
insert into "edition" values ('ed_4', null, 'cl_1', 'rp_1', 'by-hand', null, null, '', 1, 'Monthly overview', '{"title":"Monthly overview","period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"asOf":"2026-11-03","readers":[{"contact":"co_1"}],"subject":"{report}: {period}","message":"Hello {firstName}, visits were {metric:visits}."}', '2026-09-01', '2026-09-30', '2026-08-01', '2026-08-31', 'collecting', null, '2026-10-03T08:00:00.000Z', null, null, null, 'mb_1', '2026-10-03T05:00:00.000Z', null, null, null, 0, 0, null, 0, '', null, null);
insert into "edition" values ('ed_5', null, 'cl_1', 'rp_1', 'by-hand', null, null, '', 1, 'Monthly overview', '{"title":"Monthly overview","period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"asOf":"2026-11-03","readers":[{"contact":"co_1"}],"subject":"{report}: {period}","message":"Hello {firstName}, visits were {metric:visits}."}', '2026-09-01', '2026-09-30', '2026-08-01', '2026-08-31', 'replaced', null, '2026-10-03T08:00:00.000Z', null, null, null, 'mb_1', '2026-10-03T05:00:00.000Z', null, null, null, 0, 0, null, 0, '', null, null);
CREATE INDEX edition_next on edition (next_at) where next_at is not null;
CREATE TABLE message (id text primary key, edition_id text not null references edition, message_id text not null unique, resend integer not null,
      contact_id text not null, subject text not null, file_name text not null, created_at text not null default '', lines text not null default '{}', files text not null default '[]', asked_by text references member, home text not null default '', body blob not null default x'', head text) strict;
insert into "message" values ('ms_1', 'ed_1', '<ed_1@fernglass.example>', 0, 'co_1', 'Monthly overview: September 2026', 'Tarnbeck.pdf', '', '{}', '[]', null, '', x'8b0b805b223c703e48656c6c6f3c2f703e222c2248656c6c6f225d03', null);
CREATE TABLE delivery (id text primary key, message_id text not null references message, edition_id text not null references edition,
      email text not null, name text not null, state text not null, tries integer not null, reply text, next_at text not null, doubts integer not null default 0, lease_owner text, lease_fence integer not null default 0, reader_id text not null default '') strict;
insert into "delivery" values ('dl_1', 'ms_1', 'ed_1', 'petra@tarnbeck.example', 'Petra Lindqvist', 'accepted', 1, '250 ok', '2026-10-03T08:00:00.000Z', 0, null, 0, 'co_1');
CREATE INDEX delivery_edition on delivery (edition_id);
CREATE TABLE ledger (id text primary key, at text not null, actor text not null, action text not null, subject text not null, detail text not null) strict;
insert into "ledger" values ('lg_1', '2026-10-03T08:00:00.000Z', 'scheduler', 'edition.sent', 'ed_1', '{}');
insert into "ledger" values ('lg_2', '2026-10-03T07:00:00.000Z', 'scheduler', 'edition.collecting', 'ed_2', '{}');
insert into "ledger" values ('lg_3', '2026-10-03T07:10:00.000Z', 'scheduler', 'edition.review', 'ed_2', '{}');
insert into "ledger" values ('lg_4', '2026-10-03T07:20:00.000Z', 'mb_1', 'edition.ready', 'ed_2', '{}');
insert into "ledger" values ('lg_5', '2026-10-03T07:30:00.000Z', 'mb_1', 'edition.replaced', 'ed_5', '{}');
insert into "ledger" values ('lg_6', '2026-10-03T07:40:00.000Z', 'mb_1', 'client.deactivated', 'cl_1', '{}');
insert into "ledger" values ('lg_7', '2026-10-03T07:50:00.000Z', 'mb_1', 'client.activated', 'cl_1', '{}');
insert into "ledger" values ('lg_8', '2026-10-03T07:55:00.000Z', 'mb_1', 'mail-rules.changed', 'ag_1', '{}');
CREATE INDEX ledger_subject on ledger (subject, at);
CREATE TABLE day_note (id text primary key, client_id text not null references client, first text not null, last text not null,
      text text not null, in_reports integer not null, made_by text not null references member, created_at text not null) strict;
insert into "day_note" values ('dn_1', 'cl_1', '2026-10-14', '2026-10-15', 'The kiln was out of order.', 1, 'mb_1', '2026-10-16T08:00:00.000Z');
CREATE INDEX day_note_client on day_note (client_id, first);
CREATE TABLE connection (id text primary key, kind text not null, method text not null, secret text not null, refused text,
      quota_used integer not null, quota_limit integer, quota_resets text, made_by text references member, created_at text not null, lease_owner text, lease_fence integer not null default 0) strict;
insert into "connection" values ('cn_1', 'web-analytics', 'token', 'sealed', null, 0, null, null, null, '2026-01-01T08:00:00.000Z', null, 0);
CREATE TABLE authorisation (state text primary key, kind text not null, connection_id text references connection, verifier text not null,
      redirect text not null, member_id text not null references member, until text not null, scopes text) strict, without rowid;
CREATE TABLE file_import (id text primary key, client_id text not null references client, feed_id text references feed, file_name text not null,
      path text not null, bytes integer not null, hints text, reading text not null, inspection text, mapping text, state text not null, problem text,
      source text not null, progress integer not null, rows_good integer not null, rows_bad integer not null, first text, last text, rejects text,
      made_by text references member, created_at text not null, done_at text, unknown text not null default '[]') strict;
insert into "file_import" values ('im_1', 'cl_1', null, 'orders.csv', '', 120, null, '{}', null, null, 'done', null, 'upload', 0, 3, 0, null, null, null, null, '2026-05-01T08:00:00.000Z', '2026-05-01T08:01:00.000Z', '[{"from":"2026-04-03","to":"2026-04-03"}]');
CREATE INDEX file_import_client on file_import (client_id, created_at);
CREATE TABLE commentary (report_id text not null references report, block_id text not null, first text not null, last text not null,
      draft text not null, released text not null, updated_at text not null, updated_by text, primary key (report_id, block_id, first, last)) strict, without rowid;
insert into "commentary" values ('rp_1', 'bl_c', '2026-09-01', '2026-09-30', 'A strong October.', 'A strong October.', '2026-10-01T08:00:00.000Z', null);
insert into "commentary" values ('rp_1', 'bl_x', '2026-10-01', '2026-10-31', 'Draft words.', '', '2026-11-01T08:00:00.000Z', 'mb_1');
CREATE TABLE instance (id text primary key, started_at text not null, beat_at text not null, beat_now text not null) strict;
CREATE INDEX instance_beat on instance (beat_now);
CREATE INDEX edition_sending on edition (id) where state = 'sending';
CREATE INDEX edition_schedule on edition (schedule_id, nominal);
CREATE INDEX edition_report on edition (report_id);
CREATE INDEX edition_client_due on edition (client_id, due_at);
CREATE INDEX message_edition on message (edition_id);
CREATE TABLE sending_stop (cause text primary key, reason text not null, mend text not null, since text not null, by text, tries integer not null,
      next_try text) strict, without rowid;
CREATE TABLE notice (cause text primary key, sent_at text not null) strict, without rowid;
CREATE TABLE sign_in_failure (key text primary key, times integer not null, last_at text not null, free_at text not null) strict, without rowid;
CREATE INDEX assignment_member on assignment (member_id);
CREATE INDEX feed_connection on feed (connection_id);
CREATE INDEX schedule_client on schedule (client_id);
CREATE INDEX ledger_at on ledger (at);
CREATE TABLE target (id text primary key, client_id text not null references client, metric text not null, span text not null,
      start text not null, repeats integer not null, value real not null, filter text not null default '{}',
      unique (client_id, metric, span, start, filter)) strict;
insert into "target" values ('tg_1', 'cl_1', 'visits', 'month', '2026-01', 1, 12000, '{}');
insert into "target" values ('tg_2', 'cl_1', 'visits', 'month', '2026-01', 1, 3000, '{"channel":["Organic search"]}');
CREATE TABLE run (schedule_id text not null references schedule, nominal text not null, client_id text not null references client,
      report_id text not null references report, runs_on text not null, at text not null, period_from text not null, period_to text not null,
      compared_from text, compared_to text, primary key (schedule_id, nominal)) strict, without rowid;
insert into "run" values ('sc_1', '2026-11-03', 'cl_1', 'rp_1', '2026-11-03', '2026-11-03T09:00:00.000Z', '2026-10-01', '2026-10-31', '2026-09-01', '2026-09-30');
CREATE INDEX run_at on run (at);
CREATE INDEX run_client on run (client_id, at);
CREATE TABLE written_block (report_id text not null references report, block_id text not null, position integer not null,
      primary key (report_id, block_id)) strict, without rowid;
insert into "written_block" values ('rp_1', 'bl_c', 0);
CREATE INDEX report_edited on report (id) where version <> released_version;
CREATE INDEX feed_client on feed (client_id);
CREATE INDEX edition_state on edition (state, due_at);
CREATE INDEX edition_list on edition (due_at, created_at, kind, state, client_id, title);
CREATE INDEX edition_client_state on edition (client_id, state, due_at);
CREATE INDEX edition_lease on edition (lease_owner) where lease_owner is not null;
CREATE INDEX delivery_lease on delivery (lease_owner) where lease_owner is not null;
CREATE INDEX file_import_state on file_import (state);
CREATE TABLE left_file (hash text primary key) strict, without rowid;
CREATE TRIGGER edition_left_pdf after update of pdf on edition for each row
        when old.pdf is not null and old.pdf is not new.pdf
        begin insert or ignore into left_file values (old.pdf); end;
CREATE TRIGGER edition_left_frozen after update of frozen on edition for each row
        when old.frozen is not null and old.frozen is not new.frozen
        begin insert or ignore into left_file values (old.frozen); end;
CREATE INDEX edition_frozen on edition (frozen) where frozen is not null;
CREATE INDEX edition_pdf on edition (pdf) where pdf is not null;
CREATE INDEX commentary_unreleased on commentary (report_id) where draft <> released;
CREATE TABLE change_mark (n integer not null) strict;
insert into "change_mark" values (11);
CREATE TRIGGER mark_agency_insert after insert on agency for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_agency_delete after delete on agency for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_agency_update after update of name, zone, holidays, working_days on agency for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_client_insert after insert on client for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_client_delete after delete on client for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_contact_insert after insert on contact for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_contact_delete after delete on contact for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_contact_update after update of first_name, last_name, email, removed_at on contact for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_edition_insert after insert on edition for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_edition_delete after delete on edition for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_delivery_insert after insert on delivery for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_delivery_delete after delete on delivery for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_delivery_update after update of state, tries, reply, next_at on delivery for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_feed_insert after insert on feed for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_feed_delete after delete on feed for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_feed_update after update of state, trouble, fault, name, last_success, seen on feed for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_file_import_insert after insert on file_import for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_file_import_delete after delete on file_import for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_file_import_update after update of state, problem, feed_id on file_import for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_schedule_insert after insert on schedule for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_schedule_delete after delete on schedule for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_report_insert after insert on report for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_report_delete after delete on report for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_report_update after update of title, version, released_version on report for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_commentary_insert after insert on commentary for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_commentary_delete after delete on commentary for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_commentary_update after update of draft, released on commentary for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_sending_stop_insert after insert on sending_stop for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_sending_stop_delete after delete on sending_stop for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_sending_stop_update after update of reason, mend, tries on sending_stop for each row
          begin update change_mark set n = n + 1; end;
CREATE INDEX session_member on session (member_id);
CREATE TABLE calendar (id text primary key, name text not null, days text not null) strict, without rowid;
insert into "calendar" values ('ca_1', 'Harbour towns', '[{"date":"2026-12-12","name":"Herring day"}]');
CREATE TABLE one_time_link (hash text primary key, purpose text not null, member_id text not null references member,
      until text not null) strict, without rowid;
insert into "one_time_link" values ('47DEQpj8HBSa-_TImW-5JCeuQeRkm5NMpJWZG3hSuFU', 'invite', 'mb_2', '2026-11-04T08:00:00.000Z');
CREATE INDEX one_time_link_member on one_time_link (member_id);
CREATE TABLE known_browser (member_id text not null references member, hash text not null, seen_at text not null,
      primary key (member_id, hash)) strict, without rowid;
insert into "known_browser" values ('mb_1', '47DEQpj8HBSa-_TImW-5JCeuQeRkm5NMpJWZG3hSuFU', '2026-11-01T08:00:00.000Z');
CREATE TABLE "delegation" (id text primary key, from_member text not null references member, to_member text not null references member,
      clients text not null, until text not null, made_by text not null, made_at text not null) strict, without rowid;
insert into "delegation" values ('ho_1', 'mb_1', 'mb_2', '[{"client":"cl_1","assigned":true}]', '2026-11-30T00:00:00.000Z', 'mb_1', '2026-11-01T08:00:00.000Z');
CREATE TABLE client_tag (client_id text not null references client, tag text not null, primary key (client_id, tag)) strict, without rowid;
insert into "client_tag" values ('cl_1', 'Crafts');
CREATE INDEX client_tag_tag on client_tag (tag);
CREATE TRIGGER mark_client_update after update of name, settings, colour, manager_id, inactive_at on client for each row
      begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_client_tag_insert after insert on client_tag for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_client_tag_delete after delete on client_tag for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_assignment_insert after insert on assignment for each row
          begin update change_mark set n = n + 1; end;
CREATE TRIGGER mark_assignment_delete after delete on assignment for each row
          begin update change_mark set n = n + 1; end;
CREATE INDEX client_manager on client (manager_id);
CREATE TABLE segment (id text primary key, client_id text references client, name text not null, parts text not null) strict, without rowid;
insert into "segment" values ('sg_1', 'cl_1', 'Phones', '[{"dimension":"device","how":"only","values":["Mobile"]}]');
insert into "segment" values ('sg_2', null, 'Non-brand', '[{"dimension":"keyword","how":"lacks","values":["tarnbeck"]}]');
CREATE INDEX segment_client on segment (client_id);
CREATE TABLE picture (client_id text not null references client, file text not null, type text not null, primary key (client_id, file)) strict, without rowid;
CREATE TABLE item_picture (client_id text not null references client, address text not null, file text, type text, width integer,
      height integer, trouble text, tries integer not null, next_at text, at text not null, primary key (client_id, address)) strict, without rowid;
insert into "item_picture" values ('cl_1', 'https://pictures.example/kiln.jpg', '3333333333333333333333333333333333333333333333333333333333333333', 'image/jpeg', 240, 240, null, 0, null, '2026-11-01T08:00:00.000Z');
insert into "item_picture" values ('cl_1', 'https://pictures.example/lost.jpg', null, null, null, null, 'Its place answered 404.', 2, '2026-11-03T08:00:00.000Z', '2026-11-01T08:00:00.000Z');
CREATE TABLE presence (report_id text not null references report, member_id text not null references member, window text not null,
      block text, at text not null, primary key (report_id, member_id, window)) strict, without rowid;
insert into "presence" values ('rp_1', 'mb_1', 'w1', 'bl_p1', '2026-11-01T08:00:00.000Z');
CREATE INDEX presence_at on presence (at);
CREATE TABLE template (id text primary key, name text not null, about text not null, language text not null, title text not null,
      document text not null, version integer not null, updated_at text not null, updated_by text not null) strict, without rowid;
insert into "template" values ('tp_1', 'Our month', 'For shops', 'en-GB', 'Monthly overview', '{"version":2,"period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"pages":[{"id":"bl_t1","title":"Overview","rows":[]}]}', 2, '2026-10-01T08:00:00.000Z', 'mb_1');
CREATE TABLE template_version (template_id text not null references template, version integer not null, title text not null,
      document text not null, at text not null, by text not null, primary key (template_id, version)) strict, without rowid;
insert into "template_version" values ('tp_1', 1, 'Monthly overview', '{"version":2,"period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"pages":[{"id":"bl_t1","title":"Overview","rows":[]}]}', '2026-09-01T08:00:00.000Z', 'mb_1');
insert into "template_version" values ('tp_1', 2, 'Monthly overview', '{"version":2,"period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"pages":[{"id":"bl_t1","title":"Overview","rows":[]}]}', '2026-10-01T08:00:00.000Z', 'mb_1');
CREATE INDEX report_template on report (template_id);
CREATE TABLE report_version (n integer primary key, id text not null unique, report_id text not null references report, kind text not null, name text not null,
      title text not null, document text not null, template_version integer, at text not null, by text) strict;
insert into "report_version" values (1, 'rv_first_rp_1', 'rp_1', 'release', '', 'Monthly overview', '{"version":1,"period":{"kind":"unit","unit":"month","offset":-1},"comparison":{"kind":"previous"},"pages":[{"id":"bl_p1","title":"Overview","rows":[{"id":"bl_r1","blocks":[{"kind":"heading","text":"How the shop did","id":"bl_h"}]},{"id":"bl_r2","blocks":[{"kind":"commentary","text":"","id":"bl_c","span":"period"}]},{"id":"bl_r3","blocks":[{"kind":"kpiRow","metrics":["visits","orders"],"id":"bl_k"}]},{"id":"bl_r4","blocks":[{"kind":"trend","metric":"visits","title":"","id":"bl_t"}]},{"id":"bl_r5","blocks":[{"kind":"ranking","dimension":"channel","metrics":["visits"],"n":6,"title":"Where they came from","id":"bl_g"}]}]}]}', null, '2026-10-01T08:00:00.000Z', null);
CREATE INDEX report_version_report on report_version (report_id, n);
CREATE TABLE typeface (id text primary key, name text not null, regular text not null, bold text, said text not null,
      at text not null, by text not null, removed_at text) strict, without rowid;
insert into "typeface" values ('tf_1', 'Tarn Grotesk', '5555555555555555555555555555555555555555555555555555555555555555', null, '["Its digits are not all as wide as each other."]', '2026-10-01T08:00:00.000Z', 'mb_1', null);
CREATE TABLE reader_list (id text primary key, client_id text not null references client, name text not null, readers text not null) strict, without rowid;
insert into "reader_list" values ('li_1', 'cl_1', 'Kiln people', '["co_1"]');
CREATE INDEX reader_list_client on reader_list (client_id);
CREATE TABLE bulk_act (id text primary key, at text not null, by text not null references member, what text not null, count integer not null,
      undone_at text) strict, without rowid;
insert into "bulk_act" values ('ba_1', '2026-11-01T08:00:00.000Z', 'mb_1', 'Paused in 1 place', 1, null);
CREATE INDEX bulk_act_at on bulk_act (at);
CREATE TABLE calendar_link (member_id text primary key references member, hash text not null unique, made_at text not null) strict, without rowid;
insert into "calendar_link" values ('mb_1', 'hash-of-a-secret', '2026-11-01T08:00:00.000Z');
CREATE TRIGGER mark_schedule_update after update of state, stopped, rule, time, zone, first_date, last_date, period, comparison, readers,
      report_id, exceptions, own, resumes_on on schedule for each row begin update change_mark set n = n + 1; end;
CREATE TABLE told (edition_id text not null references edition, member_id text not null, of text not null, at text not null,
      primary key (edition_id, member_id, of)) strict, without rowid;
insert into "told" values ('ed_1', 'mb_1', 'sent', '2026-10-03T08:00:00.000Z');
CREATE TABLE zone_move (schedule_id text not null references schedule, nominal text not null, was text not null, becomes text not null,
      primary key (schedule_id, nominal)) strict, without rowid;
insert into "zone_move" values ('sc_1', '2026-12-03', '2026-12-03T09:00:00.000Z', '2026-12-03T08:00:00.000Z');
CREATE TABLE series (id text primary key, source_id text not null references schedule, tag text not null, made_by text not null, made_at text not null) strict, without rowid;
insert into "series" values ('se_1', 'sc_1', 'Crafts', 'mb_1', '2026-11-01T08:00:00.000Z');
CREATE INDEX schedule_series on schedule (series_id) where series_id is not null;
CREATE INDEX edition_told on edition (due_at, state) where schedule_id is not null;
CREATE INDEX run_next on run (schedule_id, at);
CREATE TABLE mail_file (client_id text not null references client, file text not null, name text not null, type text not null, size integer not null,
      brought_at text not null, primary key (client_id, file)) strict, without rowid;
insert into "mail_file" values ('cl_1', 'abababababababababababababababababababababababababababababababab', 'Prices.pdf', 'application/pdf', 1200, '2026-10-02T08:00:00.000Z');
CREATE TABLE attempt (delivery_id text not null references delivery, number integer not null, email text not null, began_at text not null,
      ended_at text, outcome text, reply text, primary key (delivery_id, number)) strict, without rowid;
insert into "attempt" values ('dl_1', 1, 'petra@tarnbeck.example', '2026-10-03T08:00:00.000Z', '2026-10-03T08:00:01.000Z', 'accepted', '250 ok');
CREATE INDEX attempt_began on attempt (began_at);
CREATE INDEX delivery_due on delivery (next_at, id);
CREATE TABLE approval (id text primary key, edition_id text not null references edition, member_id text references member, at text not null,
      hashes text not null, taken_back_at text) strict, without rowid;
insert into "approval" values ('ap_2', 'ed_2', 'mb_1', '2026-10-03T07:20:00.000Z', '["b2",[["co_1","words",["co_1"]]]]', null);
CREATE INDEX approval_edition on approval (edition_id, at);
CREATE TRIGGER mark_edition_update after update of state, reason, code, title, due_at, looked_at, period_from, period_to, pdf, approval_id,
      stale on edition for each row begin update change_mark set n = n + 1; end;
CREATE TABLE excluded_day (id text primary key, client_id text not null references client, first text not null, last text not null,
      metrics text not null, reason text not null, printed integer not null, made_by text not null references member, created_at text not null) strict, without rowid;
insert into "excluded_day" values ('xd_1', 'cl_1', '2026-10-19', '2026-10-19', '["visits"]', 'Tracking was down.', 1, 'mb_1', '2026-10-20T08:00:00.000Z');
CREATE INDEX excluded_day_client on excluded_day (client_id, first);
CREATE TABLE schedule_draft (member_id text not null references member, client_id text not null references client, input text not null,
      saved_at text not null, primary key (member_id, client_id)) strict, without rowid;
insert into "schedule_draft" values ('mb_1', 'cl_1', '{"time":"07:30"}', '2026-10-20T08:00:00.000Z');
CREATE TABLE early_bounce (delivery_id text primary key references delivery, recipient text not null, status text not null,
      said text not null, at text not null) strict, without rowid;
insert into "early_bounce" values ('dl_1', 'petra@tarnbeck.example', '5.1.1', '550 5.1.1 no such user', '2026-10-03T08:00:01.000Z');
CREATE TABLE unread_mail (id text primary key, at text not null, subject text not null, raw blob not null) strict;
insert into "unread_mail" values ('um_1', '2026-10-03T09:00:00.000Z', 'Undelivered', x'5375626a6563743a20780d0a0d0a');
CREATE INDEX client_name on client (name, id);
CREATE INDEX feed_due on feed (next_sync);
CREATE INDEX feed_kind on feed (kind);
CREATE INDEX schedule_resumes on schedule (resumes_on) where resumes_on is not null;
CREATE TABLE bulk_change (act_id text not null references bulk_act, n integer not null, detail text not null, undone integer not null,
      primary key (act_id, n)) strict, without rowid;
insert into "bulk_change" values ('ba_1', 1, '{"kind":"edition","id":"ed_1"}', 0);
CREATE TABLE edition_picture (edition_id text not null references edition, file text not null, primary key (edition_id, file)) strict, without rowid;
insert into "edition_picture" values ('ed_1', 'cdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcdcd');
CREATE INDEX edition_picture_file on edition_picture (file);
CREATE TRIGGER edition_left_picture after delete on edition_picture for each row
      begin insert or ignore into left_file values (old.file); end;
CREATE TABLE facts_told (client_id text primary key references client, revision text not null) strict, without rowid;
insert into "facts_told" values ('cl_1', 'before');
CREATE INDEX schedule_look on schedule (next_look) where state = 'active';
CREATE INDEX report_client on report (client_id);
CREATE INDEX schedule_report on schedule (report_id);
