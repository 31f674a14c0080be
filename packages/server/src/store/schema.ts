import type { DeliveryState, EditionState, HoldCode, StopCause } from '@chronicon/core/edition';
import type { Generated } from 'kysely';

/** The operations database. JSON columns are text; instants are UTC ISO text, dates YYYY-MM-DD. */
export interface Tables {
  setting: { key: string; value: string };
  agency: {
    id: string;
    name: string;
    zone: string;
    mail_from: string;
    holidays: string;
    working_days: string;
    week_start: number;
    language: string;
    /** What an owner set beyond that (AgencySettings). */
    settings: Generated<string>;
    /** Metrics for all clients (OwnMetric). */
    metrics: Generated<string>;
  };
  /** Holidays of some place, for clients that do not keep the agency's; days with names as JSON. */
  calendar: { id: string; name: string; days: string };
  member: {
    id: string;
    name: string;
    email: string;
    role: string;
    /** A hash; empty until an invitation is taken. */
    password: string;
    created_at: string;
    state: Generated<'active' | 'invited' | 'inactive'>;
    /** What the member set for themselves (MemberSettings). */
    settings: Generated<string>;
    /** The second factor (Factor): its secret sealed, recovery codes hashed; null without one. */
    factor: Generated<string | null>;
  };
  /** Links that were sent by mail or printed: hashed, good for one use. */
  one_time_link: { hash: string; purpose: 'invite' | 'reset' | 'let-in'; member_id: string; until: string };
  /** Browsers from which a member has signed in, by a hash of what their cookie says. */
  known_browser: { member_id: string; hash: string; seen_at: string };
  /** Clients in a colleague's hands until an instant. */
  delegation: {
    id: string;
    from_member: string;
    to_member: string;
    clients: string;
    until: string;
    made_by: string;
    made_at: string;
  };
  session: {
    id: string;
    member_id: string;
    csrf: string;
    created_at: string;
    expires_at: string;
    seen_at: string;
    /** Where it began, and what the browser said of itself. */
    address: string;
    agent: string;
  };
  client: {
    id: string;
    name: string;
    /** What is set for it (ClientSettings). */
    settings: string;
    manager_id: string;
    brand: string;
    /** The brand's first colour. */
    colour: string;
    /** How its metrics differ from the standard ones (MetricSettings). */
    metrics: string;
    created_at: string;
    /** Since when nothing runs for it; null while it is looked after. */
    inactive_at: Generated<string | null>;
  };
  client_tag: { client_id: string; tag: string };
  assignment: { client_id: string; member_id: string };
  contact: {
    id: string;
    client_id: string;
    first_name: string;
    last_name: string;
    email: string;
    removed_at: string | null;
    /** Role, language, phone and notes (ContactDetails). */
    details: Generated<string>;
  };
  /** Which members were told what of an edition. */
  told: { edition_id: string; member_id: string; of: string; at: string };
  /** Runs that other rules of time zones move, until somebody has seen them. */
  zone_move: { schedule_id: string; nominal: string; was: string; becomes: string };
  /** Schedules that were made from one, each for a client of a tag. */
  series: { id: string; source_id: string; tag: string; made_by: string; made_at: string };
  /** What was done with many schedules at once, and all that it changed as it was before (BulkKept). */
  bulk_act: { id: string; at: string; by: string; what: string; count: number; undone_at: string | null };
  /** The facts of a client that its editions were told of (factsTold.ts). */
  facts_told: { client_id: string; revision: string };
  bulk_change: { act_id: string; n: number; detail: string; undone: number };
  /** Links to members' calendars of what goes out, hashed. */
  calendar_link: { member_id: string; hash: string; made_at: string };
  /** Named sets of contacts of a client (ids as JSON). */
  reader_list: { id: string; client_id: string; name: string; readers: string };
  /** The agency's credentials for one service; its accounts become feeds of clients. */
  connection: {
    id: string;
    kind: string;
    method: 'oauth' | 'token';
    /** Sealed: a bare token, or access and refresh token with the end of the access as JSON. */
    secret: string;
    /** Why the service lets us in no more; null while it does. */
    refused: string | null;
    quota_used: number;
    quota_limit: number | null;
    quota_resets: string | null;
    made_by: string | null;
    created_at: string;
    lease_owner: string | null;
    lease_fence: number;
  };
  /** Round trips of authorisation that have begun; `state` is hashed, `verifier` sealed. */
  authorisation: {
    state: string;
    kind: string;
    connection_id: string | null;
    verifier: string;
    redirect: string;
    member_id: string;
    /** What was asked for, in the service's words. */
    scopes: string | null;
    until: string;
  };
  feed: {
    id: string;
    client_id: string;
    /** A kind of service, `file` or `typed`. */
    kind: string;
    connection_id: string | null;
    account: string;
    name: string;
    /** `stopped`: the account is not the one that was confirmed; a person has to look. */
    state: 'new' | 'loading' | 'fresh' | 'troubled' | 'stopped' | 'removed';
    trouble: string | null;
    /** The kind of what is wrong (FeedError); null when nothing is. */
    fault: string | null;
    /** The account as a person confirmed it (Fingerprint), and as it was last seen when that differs. */
    fingerprint: string | null;
    seen: string | null;
    /** How a file is read, or what is typed in; JSON. */
    setup: string | null;
    /** Hash of the secret under which files are put. */
    drop_key: string | null;
    failures: number;
    progress_done: number;
    progress_of: number;
    last_success: string | null;
    next_sync: string;
    removed_at: string | null;
    created_at: string;
    /** Who fetches it at present, and who renews a connection's access. */
    lease_owner: string | null;
    lease_fence: number;
  };
  file_import: {
    id: string;
    client_id: string;
    feed_id: string | null;
    file_name: string;
    /** Where the file lies, below the data folder. */
    path: string;
    bytes: number;
    /** A description that came with it (FileHints). */
    hints: string | null;
    /** Encoding, separator, sheet. */
    reading: string;
    inspection: string | null;
    mapping: string | null;
    state: 'looking' | 'asking' | 'importing' | 'done' | 'refused' | 'cancelled' | 'undone';
    problem: string | null;
    source: 'dropped' | 'folder' | 'put';
    /** Thousandths of the file that were read. */
    progress: number;
    rows_good: number;
    rows_bad: number;
    first: string | null;
    last: string | null;
    /** Where the rows that were set aside lie, below the data folder. */
    rejects: string | null;
    /** Days that are not known because of those rows, as JSON. */
    unknown: Generated<string>;
    made_by: string | null;
    created_at: string;
    done_at: string | null;
  };
  /** What somebody noted of a client's days; both ends included. */
  /** Named filters: of a client, or of the agency where none is named; parts as JSON. */
  segment: { id: string; client_id: string | null; name: string; parts: string };
  /** Files that may stand on a client's pages. */
  picture: { client_id: string; file: string; type: string };
  day_note: {
    id: string;
    client_id: string;
    first: string;
    last: string;
    text: string;
    in_reports: 0 | 1;
    made_by: string;
    created_at: string;
  };
  /** A schedule that somebody has begun and not started: what its form held, as JSON. */
  schedule_draft: { member_id: string; client_id: string; input: string; saved_at: string };
  /** `metrics`: the keys of those that it is for, as a list in JSON; an empty one for all. */
  excluded_day: {
    id: string;
    client_id: string;
    first: string;
    last: string;
    metrics: string;
    reason: string;
    printed: 0 | 1;
    made_by: string;
    created_at: string;
  };
  /** `start` is a month (YYYY-MM) or, for the span `date`, that date. */
  target: {
    id: string;
    client_id: string;
    metric: string;
    span: 'month' | 'quarter' | 'year' | 'date';
    start: string;
    repeats: 0 | 1;
    value: number;
    /** What it is narrowed to: values by dimension, as JSON. */
    filter: Generated<string>;
  };
  /** The draft, which is edited, and the release, from which editions are made; null before the first one. */
  report: {
    id: string;
    client_id: string;
    title: string;
    document: string;
    version: number;
    updated_at: string;
    released_title: string | null;
    released_document: string | null;
    /** The version that was released; null before the first time. */
    released_version: number | null;
    released_at: string | null;
    released_by: string | null;
    /** The template that it follows, the version of it that it has, and what the client calls otherwise. */
    template_id: string | null;
    template_version: number | null;
    binding: Generated<string>;
    /** When it was deleted; what was made from it stays. */
    removed_at: Generated<string | null>;
  };
  /** What was written for one period of a report, as draft and as released. */
  commentary: {
    report_id: string;
    block_id: string;
    first: string;
    last: string;
    draft: string;
    released: string;
    updated_at: string;
    updated_by: string | null;
  };
  /** A schedule's runs to come, as its rule gives them; made anew when what they follow from changes. */
  run: {
    schedule_id: string;
    nominal: string;
    client_id: string;
    report_id: string;
    runs_on: string;
    at: string;
    period_from: string;
    period_to: string;
    compared_from: string | null;
    compared_to: string | null;
  };
  /** Files that an edition pointed to before it was drawn anew. */
  left_file: { hash: string };
  /** Pictures that the mail of an edition shows. */
  edition_picture: { edition_id: string; file: string };
  /** One row, raised by whatever a list or sheet shows. */
  change_mark: { n: number };
  /** Blocks of a release whose words are written for one period, in reading order. */
  written_block: { report_id: string; block_id: string; position: number };
  /** Designs of the agency that are bound to no client, as they are now. */
  template: {
    id: string;
    name: string;
    about: string;
    language: string;
    title: string;
    document: string;
    version: number;
    updated_at: string;
    updated_by: string;
  };
  /** Every version of a template, so that what changed since any of them can be told. */
  template_version: { template_id: string; version: number; title: string; document: string; at: string; by: string };
  /** What a report was: at its releases, when somebody kept it, and before a change of the whole. */
  report_version: {
    /** In the order in which they were kept. */
    n: Generated<number>;
    id: string;
    report_id: string;
    kind: 'release' | 'kept' | 'before';
    name: string;
    title: string;
    document: string;
    template_version: number | null;
    at: string;
    by: string | null;
  };
  /** Typefaces that were brought; one that was taken away stays for what was sent with it. */
  typeface: {
    id: string;
    name: string;
    /** SHA-256 of its files. */
    regular: string;
    bold: string | null;
    /** What whoever chooses it ought to know: a list of sentences. */
    said: string;
    at: string;
    by: string;
    removed_at: string | null;
  };
  /** Windows in which a report is open, and what is chosen there; rows of the last minute. */
  presence: { report_id: string; member_id: string; window: string; block: string | null; at: string };
  /** Pictures of items that stand out (posts), by the address that their feed names; `file` null for what is not to be had. */
  item_picture: {
    client_id: string;
    address: string;
    file: string | null;
    type: 'image/jpeg' | 'image/png' | null;
    width: number | null;
    height: number | null;
    /** Why it is not to be had, in words. */
    trouble: string | null;
    tries: number;
    /** When it is looked for again; null where it is there. */
    next_at: string | null;
    at: string;
  };
  schedule: {
    id: string;
    client_id: string;
    report_id: string;
    rule: string;
    time: string;
    zone: string;
    first_date: string;
    last_date: string | null;
    /** Runs that are left out, moved, or cover other dates (Exceptions). */
    exceptions: Generated<string>;
    working_day_rule: string;
    lead_minutes: number;
    period: string;
    comparison: string;
    /** Assumptions that are set anew (Assumed). */
    assumed: Generated<string>;
    filter: Generated<string>;
    /** Whom it addresses (ScheduleReader). */
    readers: string;
    /** What it chooses beyond its dates and readers (OwnColumn). */
    own: Generated<string>;
    subject: string;
    message: string;
    state: 'active' | 'paused' | 'ended';
    /** The day on which one that is paused goes on; stays with it until it is changed again. */
    resumes_on: Generated<string | null>;
    /** Why the scheduler paused it, and for which feed; null when a person did. */
    stopped: string | null;
    stopped_by: string | null;
    /** Occurrences up to this instant have been turned into editions or found to be none. */
    planned_through: string;
    /** The series that it belongs to: the same for each client of a tag. */
    series_id: Generated<string | null>;
    /** When the scheduler has to look at it again. */
    next_look: string;
    /** When its dates were last changed: rule, bounds, period. */
    rule_changed_at: string | null;
    created_at: string;
  };
  edition: {
    id: string;
    number: number | null;
    client_id: string;
    report_id: string;
    kind: 'scheduled' | 'by-hand' | 'test';
    schedule_id: string | null;
    nominal: string | null;
    reader_group: string;
    revision: number;
    /** The report's title when it was planned; what the archive is searched by. */
    title: string;
    /** What it is made from: period, comparison, readers, subject, message. */
    order_sheet: string;
    period_from: string | null;
    period_to: string | null;
    compared_from: string | null;
    compared_to: string | null;
    state: EditionState;
    reason: string | null;
    /** Why it is held, for what may be done about it (core/edition/holds.ts). */
    code: HoldCode | null;
    /** When data or files were last looked for. */
    looked_at: string | null;
    /** Something that it is made of has changed since it was drawn. */
    stale: 0 | 1;
    /** It was held: after its time it does not go on without a person. */
    was_held: 0 | 1;
    /** Hash of all that its pages are made of. */
    made_of: string | null;
    /** The approval that lets it go; null while none does. */
    approval_id: string | null;
    /** What the manager writes in its mails; empty for nothing. */
    mail_note: Generated<string>;
    due_at: string;
    /** When the first of it was handed over to all that could be reached; null before. */
    sent_at: Generated<string | null>;
    next_at: string | null;
    frozen: string | null;
    pdf: string | null;
    made_by: string | null;
    created_at: string;
    lease_owner: string | null;
    /** Raised whenever somebody takes it up: a process with an older number cannot finish the work. */
    lease_fence: number;
  };
  /** Each approval that an edition was ever given, by whom, and when. */
  approval: {
    id: string;
    edition_id: string;
    /** Null where a database of before did not say. */
    member_id: string | null;
    at: string;
    /** What was seen: hashes of the pages and of each mail, with its readers; as JSON (`approvedHashes`). */
    hashes: string;
    taken_back_at: string | null;
  };
  /** Files that managers brought for mails of a client, by their SHA-256. */
  mail_file: {
    client_id: string;
    file: string;
    name: string;
    type: string;
    size: number;
    brought_at: string;
  };
  /** Each time that a mail was handed to the mail server, or was to be: what became of it, and in whose words. */
  attempt: {
    delivery_id: string;
    /** From 1. */
    number: number;
    email: string;
    began_at: string;
    /** Null while it lasts, and for ever where the server was ended meanwhile. */
    ended_at: string | null;
    outcome: 'accepted' | 'deferred' | 'refused' | 'uncertain' | 'aborted' | 'server' | null;
    reply: string | null;
  };
  message: {
    id: string;
    edition_id: string;
    message_id: string;
    resend: number;
    contact_id: string;
    /** Who stands in To and Cc of a mail for many; as JSON. */
    lines: Generated<string>;
    subject: string;
    /** HTML and plain text (packed.ts). */
    body: Buffer;
    file_name: string;
    /** What goes with it beside the report; as JSON. */
    files: Generated<string>;
    /** What it says of its sender, once it was handed over (mailHead.ts); as JSON. */
    head: string | null;
    /** Who asked for it once more, or for somebody else, when it had gone; null for what goes of itself. */
    asked_by: string | null;
    /** Where readers reached this server when it was written: what it says stays the same. */
    home: Generated<string>;
    /** Stands in its Date header, whenever it is handed over. */
    created_at: string;
  };
  delivery: {
    id: string;
    message_id: string;
    edition_id: string;
    /** The contact or member whom it is for. */
    reader_id: string;
    email: string;
    name: string;
    state: DeliveryState;
    tries: number;
    reply: string | null;
    /** When it is tried next; NEVER when it is not. */
    next_at: string;
    /** Tries that ended without an answer to the last dot. */
    doubts: number;
    lease_owner: string | null;
    lease_fence: number;
  };
  /** Mails that came back before they were written down as taken: a mail server may be faster than a transaction. */
  early_bounce: { delivery_id: string; recipient: string; status: string; said: string; at: string };
  /** Mails that came back and that could not be read; the last few. */
  unread_mail: { id: string; at: string; subject: string; raw: Buffer };
  /** Running servers: `beat_at` by the machine's clock, `beat_now` by the server's own. */
  instance: { id: string; started_at: string; beat_at: string; beat_now: string };
  /** Why no mail is handed over at present; sending goes on when none is left. */
  sending_stop: {
    cause: StopCause;
    reason: string;
    mend: string;
    since: string;
    by: string | null;
    tries: number;
    next_try: string | null;
  };
  /** When a cause was last told by mail. */
  notice: { cause: string; sent_at: string };
  /** Failed tries to sign in, by account and by address; keys are hashed. */
  sign_in_failure: { key: string; times: number; last_at: string; free_at: string };
  ledger: { id: string; at: string; actor: string; action: string; subject: string; detail: string };
}
