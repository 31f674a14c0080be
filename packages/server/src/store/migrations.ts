import type { Kysely } from 'kysely';
import { bulkChanges } from './rewrites/bulkChanges.ts';
import { commentaryBecomesDated } from './rewrites/commentaryBecomesDated.ts';
import { listWrittenBlocks } from './rewrites/listWrittenBlocks.ts';
import { packMails } from './rewrites/packMails.ts';
import type { Tables } from './schema.ts';
import { takeSteps } from './takeSteps.ts';

/** What people see of each table: a change of anything else changes no screen. */
const SEEN: Record<string, string> = {
  agency: 'name, zone, holidays, working_days',
  client: 'name, site, zone, currency, colour, manager_id, week_start, fiscal_start, start_date',
  contact: 'first_name, last_name, email, removed_at',
  edition: 'state, reason, code, title, due_at, looked_at, period_from, period_to, pdf, seen, stale',
  delivery: 'state, tries, reply, next_at',
  feed: 'state, trouble, fault, name, last_success, seen',
  file_import: 'state, problem, feed_id',
  schedule: 'state, stopped, rule, time, zone, first_date, last_date, period, comparison, readers, report_id',
  report: 'title, version, released_version',
  commentary: 'draft, released',
  sending_stop: 'reason, mend, tries',
};

/** Steps by name, in order; a step that has shipped is never changed. */
const STEPS: Record<string, string[]> = {
  '001-first': [
    'create table setting (key text primary key, value text not null) strict, without rowid',
    'create table agency (id text primary key, name text not null, zone text not null, mail_from text not null, holidays text not null, working_days text not null) strict',
    'create table member (id text primary key, name text not null, email text not null unique, role text not null, password text not null, created_at text not null) strict',
    'create table session (id text primary key, member_id text not null references member, csrf text not null, created_at text not null, expires_at text not null) strict',
    `create table client (id text primary key, name text not null, zone text not null, currency text not null, language text not null,
      week_start integer not null, fiscal_start integer not null, start_date text not null, manager_id text not null references member,
      brand text not null, created_at text not null) strict`,
    'create table assignment (client_id text not null references client, member_id text not null references member, primary key (client_id, member_id)) strict, without rowid',
    `create table contact (id text primary key, client_id text not null references client, first_name text not null, last_name text not null,
      email text not null, removed_at text) strict`,
    'create unique index contact_email on contact (client_id, email) where removed_at is null',
    `create table feed (id text primary key, client_id text not null references client, kind text not null, account text not null, name text not null,
      secret text not null, state text not null, trouble text, failures integer not null, progress_done integer not null, progress_of integer not null,
      last_success text, next_sync text not null, created_at text not null) strict`,
    `create table report (id text primary key, client_id text not null references client, title text not null, document text not null,
      version integer not null, updated_at text not null) strict`,
    `create table schedule (id text primary key, client_id text not null references client, report_id text not null references report,
      rule text not null, time text not null, zone text not null, first_date text not null, last_date text, skip text not null,
      working_day_rule text not null, lead_minutes integer not null, period text not null, comparison text not null, readers text not null,
      subject text not null, message text not null, state text not null, planned_through text not null, next_look text not null, created_at text not null) strict`,
    'create index schedule_look on schedule (next_look)',
    `create table edition (id text primary key, number integer, client_id text not null references client, report_id text not null references report,
      kind text not null, schedule_id text references schedule, nominal text, reader_group text not null, revision integer not null,
      title text not null, order_sheet text not null, period_from text, period_to text, compared_from text, compared_to text, state text not null, reason text,
      due_at text not null, next_at text, frozen text, pdf text, made_by text, created_at text not null, lease_owner text, lease_until text,
      unique (schedule_id, nominal, reader_group, revision), unique (client_id, number)) strict`,
    'create index edition_next on edition (next_at) where next_at is not null',
    'create index edition_due on edition (due_at)',
    `create table message (id text primary key, edition_id text not null references edition, message_id text not null unique, resend integer not null,
      contact_id text not null, subject text not null, html text not null, text text not null, file_name text not null) strict`,
    `create table delivery (id text primary key, message_id text not null references message, edition_id text not null references edition,
      email text not null, name text not null, state text not null, tries integer not null, reply text, next_at text not null) strict`,
    'create index delivery_edition on delivery (edition_id)',
    'create table ledger (id text primary key, at text not null, actor text not null, action text not null, subject text not null, detail text not null) strict',
    'create index ledger_subject on ledger (subject, at)',
  ],
  '002-figures': [
    `alter table client add column metrics text not null default '{"changed":{},"own":[]}'`,
    `create table day_note (id text primary key, client_id text not null references client, first text not null, last text not null,
      text text not null, in_reports integer not null, made_by text not null references member, created_at text not null) strict`,
    'create index day_note_client on day_note (client_id, first)',
    `create table target (id text primary key, client_id text not null references client, metric text not null, span text not null,
      start text not null, repeats integer not null, value real not null, unique (client_id, metric, span, start)) strict`,
  ],
  '003-feeds': [
    `alter table client add column site text not null default ''`,
    `create table connection (id text primary key, kind text not null, method text not null, secret text not null, refused text,
      quota_used integer not null, quota_limit integer, quota_resets text, made_by text references member, created_at text not null) strict`,
    `create table authorisation (state text primary key, kind text not null, connection_id text references connection, verifier text not null,
      redirect text not null, member_id text not null references member, until text not null) strict, without rowid`,
    'alter table feed add column connection_id text references connection',
    'alter table feed add column fingerprint text',
    'alter table feed add column seen text',
    'alter table feed add column fault text',
    'alter table feed add column setup text',
    'alter table feed add column drop_key text',
    'alter table feed add column removed_at text',
    `insert into connection select 'cn_' || substr(id, 4), kind, 'token', secret, null, 0, null, null, null, created_at from feed`,
    `update feed set connection_id = 'cn_' || substr(id, 4)`,
    'alter table feed drop column secret',
    `create table file_import (id text primary key, client_id text not null references client, feed_id text references feed, file_name text not null,
      path text not null, bytes integer not null, hints text, reading text not null, inspection text, mapping text, state text not null, problem text,
      source text not null, progress integer not null, rows_good integer not null, rows_bad integer not null, first text, last text, rejects text,
      made_by text references member, created_at text not null, done_at text) strict`,
    'create index file_import_client on file_import (client_id, created_at)',
    'alter table schedule add column stopped text',
    'alter table schedule add column stopped_by text',
  ],
  '004-way-out': [
    'alter table report add column released_title text',
    'alter table report add column released_document text',
    'alter table report add column released_at text',
    'alter table report add column released_by text',
    // What was sent so far was what was last saved.
    'update report set released_title = title, released_document = document, released_at = updated_at',
    `create table commentary (report_id text not null references report, block_id text not null, first text not null, last text not null,
      draft text not null, released text not null, updated_at text not null, updated_by text, primary key (report_id, block_id, first, last)) strict, without rowid`,
    'alter table schedule add column rule_changed_at text',
    `create table instance (id text primary key, started_at text not null, beat_at text not null, beat_now text not null) strict`,
    'create index instance_beat on instance (beat_now)',
    `alter table edition add column code text`,
    'alter table edition add column looked_at text',
    'alter table edition add column stale integer not null default 0',
    'alter table edition add column was_held integer not null default 0',
    'alter table edition add column made_of text',
    'alter table edition add column seen text',
    'alter table edition add column lease_fence integer not null default 0',
    'update edition set lease_owner = null',
    'alter table edition drop column lease_until',
    `create index edition_sending on edition (id) where state = 'sending'`,
    'create index edition_schedule on edition (schedule_id, nominal)',
    'create index edition_report on edition (report_id)',
    'create index edition_client_due on edition (client_id, due_at)',
    `alter table message add column created_at text not null default ''`,
    'create index message_edition on message (edition_id)',
    'alter table delivery add column doubts integer not null default 0',
    'alter table delivery add column lease_owner text',
    'alter table delivery add column lease_fence integer not null default 0',
    'create index delivery_next on delivery (state, next_at)',
    'alter table feed add column lease_owner text',
    'alter table feed add column lease_fence integer not null default 0',
    'alter table connection add column lease_owner text',
    'alter table connection add column lease_fence integer not null default 0',
    `create table sending_stop (cause text primary key, reason text not null, mend text not null, since text not null, by text, tries integer not null,
      next_try text) strict, without rowid`,
    'create table notice (cause text primary key, sent_at text not null) strict, without rowid',
    `create table sign_in_failure (key text primary key, times integer not null, last_at text not null, free_at text not null) strict, without rowid`,
    'alter table authorisation add column scopes text',
    'create index assignment_member on assignment (member_id)',
    'create index feed_connection on feed (connection_id)',
    'create index schedule_client on schedule (client_id)',
    'create index ledger_at on ledger (at)',
  ],
  // One that is narrowed stands beside that of the whole: the table is made anew, since its unique key cannot be changed.
  '005-narrowed-targets': [
    'alter table target rename to target_whole',
    `create table target (id text primary key, client_id text not null references client, metric text not null, span text not null,
      start text not null, repeats integer not null, value real not null, filter text not null default '{}',
      unique (client_id, metric, span, start, filter)) strict`,
    'insert into target (id, client_id, metric, span, start, repeats, value) select id, client_id, metric, span, start, repeats, value from target_whole',
    'drop table target_whole',
  ],
  '006-set-aside': [`alter table file_import add column unknown text not null default '[]'`],
  '007-runs': [
    `create table run (schedule_id text not null references schedule, nominal text not null, client_id text not null references client,
      report_id text not null references report, runs_on text not null, at text not null, period_from text not null, period_to text not null,
      compared_from text, compared_to text, primary key (schedule_id, nominal)) strict, without rowid`,
    'create index run_at on run (at)',
    'create index run_client on run (client_id, at)',
    // The scheduler looks at each schedule at once, and makes its runs.
    `update schedule set next_look = ''`,
    `create table written_block (report_id text not null references report, block_id text not null, position integer not null,
      primary key (report_id, block_id)) strict, without rowid`,
    // Which version was released: most are as they were, and their documents need not be compared.
    'alter table report add column released_version integer',
    `update report set released_version = case when document = released_document and title = released_title then version else version - 1 end
      where released_document is not null`,
    'create index report_edited on report (id) where version <> released_version',
    // Lists say a client's colour; its brand may hold a logo of many kilobytes.
    `alter table client add column colour text not null default ''`,
    `update client set colour = coalesce(json_extract(brand, '$.main'), '')`,
    'create index feed_client on feed (client_id)',
    'create index edition_state on edition (state, due_at)',
    // All that the archive is searched by: it is counted and leafed through without reading the editions.
    'create index edition_list on edition (due_at, created_at, kind, state, client_id, title)',
    'drop index edition_due',
    'create index edition_client_state on edition (client_id, state, due_at)',
    `create index edition_lease on edition (lease_owner) where lease_owner is not null`,
    `create index delivery_lease on delivery (lease_owner) where lease_owner is not null`,
    `create index file_import_state on file_import (state)`,
    // What an edition pointed to before it was drawn anew: the only files that may ever be taken away.
    'create table left_file (hash text primary key) strict, without rowid',
    ...['pdf', 'frozen'].map(
      (column) => `create trigger edition_left_${column} after update of ${column} on edition for each row
        when old.${column} is not null and old.${column} is not new.${column}
        begin insert or ignore into left_file values (old.${column}); end`,
    ),
    'create index edition_frozen on edition (frozen) where frozen is not null',
    'create index edition_pdf on edition (pdf) where pdf is not null',
    'create index commentary_unreleased on commentary (report_id) where draft <> released',
    // Raised by whatever a list or sheet shows: who looks at one asks for it again only then.
    'create table change_mark (n integer not null) strict',
    'insert into change_mark values (0)',
    ...Object.entries(SEEN).flatMap(([table, columns]) =>
      ['insert', 'delete', `update of ${columns}`].map(
        (event) => `create trigger mark_${table}_${event.split(' ')[0]} after ${event} on ${table} for each row
          begin update change_mark set n = n + 1; end`,
      ),
    ),
  ],
  '008-settings': [
    'drop trigger mark_client_update',
    "alter table client add column settings text not null default '{}'",
    `update client set settings = json_object('site', site, 'zone', zone, 'currency', currency, 'language', language,
      'startDate', start_date, 'weekStart', week_start, 'fiscalStart', fiscal_start)`,
    ...['site', 'zone', 'currency', 'language', 'week_start', 'fiscal_start', 'start_date'].map(
      (column) => `alter table client drop column ${column}`,
    ),
    `create trigger mark_client_update after update of name, settings, colour, manager_id on client for each row
      begin update change_mark set n = n + 1; end`,
  ],
  '009-sign-in': [
    "alter table session add column seen_at text not null default ''",
    "alter table session add column address text not null default ''",
    "alter table session add column agent text not null default ''",
    'update session set seen_at = created_at',
    'create index session_member on session (member_id)',
  ],
  '010-agency': [
    'alter table agency add column week_start integer not null default 1',
    "alter table agency add column language text not null default 'en-GB'",
  ],
  '011-people': [
    "alter table agency add column settings text not null default '{}'",
    // Days have names: those that were kept before have none.
    `update agency set holidays = (select coalesce(json_group_array(json_object('date', value, 'name', '')), '[]') from json_each(agency.holidays))`,
    'create table calendar (id text primary key, name text not null, days text not null) strict, without rowid',
    "alter table member add column state text not null default 'active'",
    "alter table member add column settings text not null default '{}'",
    'alter table member add column factor text',
    `create table one_time_link (hash text primary key, purpose text not null, member_id text not null references member,
      until text not null) strict, without rowid`,
    'create index one_time_link_member on one_time_link (member_id)',
    `create table known_browser (member_id text not null references member, hash text not null, seen_at text not null,
      primary key (member_id, hash)) strict, without rowid`,
    `create table handover (id text primary key, from_member text not null references member, to_member text not null references member,
      clients text not null, until text not null, made_by text not null, made_at text not null) strict, without rowid`,
    "alter table contact add column details text not null default '{}'",
    'create table client_tag (client_id text not null references client, tag text not null, primary key (client_id, tag)) strict, without rowid',
    'create index client_tag_tag on client_tag (tag)',
    'alter table client add column aside_at text',
    'drop trigger mark_client_update',
    `create trigger mark_client_update after update of name, settings, colour, manager_id, aside_at on client for each row
      begin update change_mark set n = n + 1; end`,
    ...['client_tag', 'assignment'].flatMap((table) =>
      ['insert', 'delete'].map(
        (event) => `create trigger mark_${table}_${event} after ${event} on ${table} for each row
          begin update change_mark set n = n + 1; end`,
      ),
    ),
    'create index client_manager on client (manager_id)',
  ],
  '012-segments': [
    'create table segment (id text primary key, client_id text references client, name text not null, parts text not null) strict, without rowid',
    'create index segment_client on segment (client_id)',
    'create table picture (client_id text not null references client, file text not null, type text not null, primary key (client_id, file)) strict, without rowid',
    "alter table schedule add column assumed text not null default '{}'",
  ],
  '013-schedules-filter': ["alter table schedule add column filter text not null default '[]'"],
  '014-item-pictures': [
    `create table item_picture (client_id text not null references client, address text not null, file text, type text, width integer,
      height integer, trouble text, tries integer not null, next_at text, at text not null, primary key (client_id, address)) strict, without rowid`,
  ],
  '015-composer': [
    `create table presence (report_id text not null references report, member_id text not null references member, window text not null,
      block text, at text not null, primary key (report_id, member_id, window)) strict, without rowid`,
    'create index presence_at on presence (at)',
    `create table template (id text primary key, name text not null, about text not null, language text not null, title text not null,
      document text not null, version integer not null, updated_at text not null, updated_by text not null) strict, without rowid`,
    `create table template_version (template_id text not null references template, version integer not null, title text not null,
      document text not null, at text not null, by text not null, primary key (template_id, version)) strict, without rowid`,
    'alter table report add column template_id text references template',
    'alter table report add column template_version integer',
    "alter table report add column binding text not null default '{}'",
    'create index report_template on report (template_id)',
    `create table report_version (n integer primary key, id text not null unique, report_id text not null references report, kind text not null, name text not null,
      title text not null, document text not null, template_version integer, at text not null, by text) strict`,
    'create index report_version_report on report_version (report_id, n)',
    `insert into report_version (id, report_id, kind, name, title, document, template_version, at, by)
      select 'rv_first_' || id, id, 'release', '', released_title, released_document, null, released_at, released_by
      from report where released_document is not null`,
  ],
  '016-typefaces': [
    `create table typeface (id text primary key, name text not null, regular text not null, bold text, said text not null,
      at text not null, by text not null, removed_at text) strict, without rowid`,
  ],
  '017-shared-metrics': ["alter table agency add column metrics text not null default '[]'"],
  '018-planning': [
    "alter table schedule add column exceptions text not null default '{}'",
    `update schedule set exceptions = coalesce((select json_group_object(value, json('{"skipped":true}')) from json_each(skip)), '{}')`,
    'alter table schedule drop column skip',
    `update schedule set readers = coalesce((select json_group_array(json_object('contact', value)) from json_each(readers)), '[]')`,
    // What a schedule chooses beyond that: see OwnColumn in schedules.ts.
    "alter table schedule add column own text not null default '{}'",
    'alter table schedule add column resumes_on text',
    // Who the mail is for is told by its delivery: one mail may be for many.
    "alter table delivery add column reader_id text not null default ''",
    'update delivery set reader_id = (select contact_id from message where message.id = delivery.message_id)',
    "alter table message add column lines text not null default '{}'",
    // Those who were written to until now were the client's own.
    `update client set settings = json_set(settings, '$.domains', coalesce((select group_concat(d, ' ') from (select distinct
      lower(substr(email, instr(email, '@') + 1)) as d from contact where contact.client_id = client.id and removed_at is null)), ''))`,
    `create table reader_list (id text primary key, client_id text not null references client, name text not null, readers text not null) strict, without rowid`,
    'create index reader_list_client on reader_list (client_id)',
    `create table bulk_act (id text primary key, at text not null, by text not null references member, what text not null, count integer not null,
      kept text not null, undone_at text) strict, without rowid`,
    'create index bulk_act_at on bulk_act (at)',
    'create table calendar_link (member_id text primary key references member, hash text not null unique, made_at text not null) strict, without rowid',
    `drop trigger mark_schedule_update`,
    `create trigger mark_schedule_update after update of state, stopped, rule, time, zone, first_date, last_date, period, comparison, readers,
      report_id, exceptions, own, resumes_on on schedule for each row begin update change_mark set n = n + 1; end`,
  ],
  '019-series': [
    `create table told (edition_id text not null references edition, member_id text not null, of text not null, at text not null,
      primary key (edition_id, member_id, of)) strict, without rowid`,
    `create table zone_move (schedule_id text not null references schedule, nominal text not null, was text not null, becomes text not null,
      primary key (schedule_id, nominal)) strict, without rowid`,
    'create table series (id text primary key, source_id text not null references schedule, tag text not null, made_by text not null, made_at text not null) strict, without rowid',
    'alter table schedule add column series_id text references series',
    'create index schedule_series on schedule (series_id) where series_id is not null',
    'create index edition_told on edition (due_at, state) where schedule_id is not null',
    'create index run_next on run (schedule_id, at)',
  ],
  '020-post': [
    "alter table message add column files text not null default '[]'",
    "alter table edition add column mail_note text not null default ''",
    'alter table message add column asked_by text references member',
    "alter table message add column home text not null default ''",
    `create table mail_file (client_id text not null references client, file text not null, name text not null, type text not null, size integer not null,
      brought_at text not null, primary key (client_id, file)) strict, without rowid`,
    `create table attempt (delivery_id text not null references delivery, number integer not null, email text not null, began_at text not null,
      ended_at text, outcome text, reply text, primary key (delivery_id, number)) strict, without rowid`,
    'create index attempt_began on attempt (began_at)',
  ],
  // Packed, and then without what was not (packMails).
  '021-packed-mails': [
    `alter table message add column body blob not null default x''`,
    'drop index delivery_next',
    'create index delivery_due on delivery (next_at, id)',
  ],
  // What was called otherwise before has the field's name, in old rows as in new ones.
  '022-field-names': [
    'alter table client rename column aside_at to inactive_at',
    'alter table handover rename to delegation',
    "update setting set key = 'mail' || substr(key, 5) where key like 'post.%'",
    "delete from setting where key = 'first.door'",
    "update ledger set actor = 'scheduler' where actor = 'clockwork'",
    ...[
      ['client.put-aside', 'client.deactivated'],
      ['client.taken-up', 'client.activated'],
      ['post-rules.changed', 'mail-rules.changed'],
      ['edition.gathering', 'edition.collecting'],
      ['edition.proof', 'edition.review'],
      ['edition.cleared', 'edition.ready'],
      ['edition.superseded', 'edition.replaced'],
    ].map(([before, now]) => `update ledger set action = '${now}' where action = '${before}'`),
    ...[
      ['gathering', 'collecting'],
      ['proof', 'review'],
      ['cleared', 'ready'],
      ['superseded', 'replaced'],
    ].map(([before, now]) => `update edition set state = '${now}' where state = '${before}'`),
    // What a person saw was kept with the edition; who it was, and when, the ledger alone said.
    `create table approval (id text primary key, edition_id text not null references edition, member_id text references member, at text not null,
      hashes text not null, taken_back_at text) strict, without rowid`,
    'create index approval_edition on approval (edition_id, at)',
    `insert into approval (id, edition_id, member_id, at, hashes)
      select 'ap_' || substr(e.id, 4), e.id, l.actor, coalesce(l.at, e.created_at), e.seen from edition e
      left join ledger l on l.id = (select id from ledger where subject = e.id and action = 'edition.ready'
        and actor in (select id from member) order by at desc, rowid desc limit 1)
      where e.seen is not null`,
    'alter table edition add column approval_id text references approval',
    `update edition set approval_id = 'ap_' || substr(id, 4) where seen is not null`,
    'drop trigger mark_edition_update',
    'alter table edition drop column seen',
    `create trigger mark_edition_update after update of state, reason, code, title, due_at, looked_at, period_from, period_to, pdf, approval_id,
      stale on edition for each row begin update change_mark set n = n + 1; end`,
  ],
  '023-excluded-days': [
    `create table excluded_day (id text primary key, client_id text not null references client, first text not null, last text not null,
      metrics text not null, reason text not null, printed integer not null, made_by text not null references member, created_at text not null) strict, without rowid`,
    'create index excluded_day_client on excluded_day (client_id, first)',
  ],
  '024-drafts': [
    `create table schedule_draft (member_id text not null references member, client_id text not null references client, input text not null,
      saved_at text not null, primary key (member_id, client_id)) strict, without rowid`,
    'alter table report add column removed_at text',
    'alter table edition add column sent_at text',
    // When something went out stood in the ledger alone.
    `update edition set sent_at = (select min(at) from ledger where subject = edition.id and action in ('edition.sent', 'edition.part-sent'))
      where state in ('sent', 'part-sent', 'replaced')`,
  ],
  '025-sound': [
    `create table early_bounce (delivery_id text primary key references delivery, recipient text not null, status text not null,
      said text not null, at text not null) strict, without rowid`,
    'create table unread_mail (id text primary key, at text not null, subject text not null, raw blob not null) strict',
    'create index client_name on client (name, id)',
    // What is due is found without looking at all there is.
    'create index feed_due on feed (next_sync)',
    'create index feed_kind on feed (kind)',
    'create index schedule_resumes on schedule (resumes_on) where resumes_on is not null',
  ],
  '026-turns': [
    `create table bulk_change (act_id text not null references bulk_act, n integer not null, detail text not null, undone integer not null,
      primary key (act_id, n)) strict, without rowid`,
    // Which pictures the mail of an edition shows: those of a drawing before are swept like its pages.
    `create table edition_picture (edition_id text not null references edition, file text not null, primary key (edition_id, file)) strict, without rowid`,
    'create index edition_picture_file on edition_picture (file)',
    `create trigger edition_left_picture after delete on edition_picture for each row
      begin insert or ignore into left_file values (old.file); end`,
    // Why an edition was left out is a code; what it says is for people.
    `update edition set code = 'ended' where state = 'skipped' and code is null and reason like 'Its schedule was ended by %'`,
    `update edition set code = 'left-out' where state = 'skipped' and code is null and reason = 'Its run was left out.'`,
    // Which of a client's facts the editions have been told of.
    `create table facts_told (client_id text primary key references client, revision text not null) strict, without rowid`,
    `insert into facts_told (client_id, revision) select id, 'before' from client`,
    // What a mail says of its sender is kept when it is first handed over.
    'alter table message add column head text',
    // Schedules that have ended or are paused are not looked through for the next one.
    'drop index schedule_look',
    `create index schedule_look on schedule (next_look) where state = 'active'`,
  ],
  // Reports of a client, and schedules of a report, were looked for among all there are.
  '027-indexes': [
    'create index report_client on report (client_id)',
    'create index schedule_report on schedule (report_id)',
  ],
};

/** What a step rewrites beyond what SQL can say. */
const REWRITES: Record<string, (db: Kysely<Tables>) => Promise<void>> = {
  '004-way-out': commentaryBecomesDated,
  '007-runs': listWrittenBlocks,
  '021-packed-mails': packMails,
  '026-turns': bulkChanges,
};

/** The steps by name, the oldest first. */
export const STEP_NAMES: readonly string[] = Object.keys(STEPS);

/**
 * Brings the operations database up to date, or up to a step.
 * @throws NewerData where another version took steps that are not known here
 */
export const migrate = <T>(db: Kysely<T>, until?: string): Promise<void> =>
  takeSteps(
    db,
    Object.fromEntries(
      Object.entries(STEPS).map(([name, statements]) => [
        name,
        { statements, rewrite: async (tx) => REWRITES[name]?.(tx as Kysely<Tables>) },
      ]),
    ),
    { until },
  );
