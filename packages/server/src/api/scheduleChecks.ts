import { MOST_MOVED } from '@chronicon/core/bounds';
import {
  type Exception,
  type Exceptions,
  instantOf,
  occurrenceOn,
  occurrences,
  toDayNumber,
  wallClock,
} from '@chronicon/core/calendar';
import { GUARD_WORDS, guard } from '@chronicon/core/client';
import { MANAGERS, type ScheduleInput, scheduleInput } from '@chronicon/core/contract';
import { FOLLOWING } from '@chronicon/core/edition';
import { metricBook } from '@chronicon/core/figures';
import {
  checkMergeFields,
  chooseParts,
  describeMergeFault,
  fillMergeFields,
  goneFromMail,
  isShown,
  MERGE_FIELDS,
  readerKey,
  type ScheduleReader,
  type ShownPart,
} from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { atField, Refusal } from '../platform/refusal.ts';
import { peopleIn } from '../scheduler/ordersOfRun.ts';
import { agencyFor } from '../store/agencyCalendar.ts';
import { contactsOf, type StoredClient } from '../store/clients.ts';
import { editionsOfRun } from '../store/editions.ts';
import { mailFilesOf } from '../store/mailFiles.ts';
import { activeMembers, agencyOf } from '../store/members.ts';
import { listsOf } from '../store/readerLists.ts';
import { reportById, type StoredReport } from '../store/reports.ts';
import { recurrenceOf, type StoredSchedule } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import type { Api } from './context.ts';
import { readersOfPlan } from './lookAhead.ts';
import { checkFilters } from './scheduleFilter.ts';
import { checkWorking } from './working.ts';

/** A field that can never be filled by this schedule is refused now, not on the day of sending (SEMANTICS §11). */
function checkTemplates(input: ScheduleInput, client: StoredClient): void {
  const { keys } = metricBook(client.metrics);
  const held = ['none', 'target', 'typical'].includes(input.comparison.kind) ? null : 'x';
  const sample: Record<string, string | null> = Object.fromEntries(MERGE_FIELDS.map((f) => [f, 'x']));
  sample['comparison.label'] = held;
  for (const key of keys) {
    sample[`figure.${key}`] = 'x';
    sample[`change.${key}`] = held;
  }
  const texts: [string, string][] = [
    ['subject', input.subject],
    ['message', input.message],
    ['fileName', input.fileName],
    ['mail.preview', input.mail.preview],
    ...input.mail.parts.flatMap((p, i): [string, string][] =>
      p.kind === 'text'
        ? [[`mail.parts.${i}.text`, p.text]]
        : p.kind === 'button'
          ? [[`mail.parts.${i}.label`, p.label]]
          : [],
    ),
    ...(input.groups?.groups ?? []).flatMap((g, i): [string, string][] => [
      [`groups.groups.${i}.fileName`, g.fileName],
      [`groups.groups.${i}.greeting`, g.greeting],
    ]),
  ];
  for (const [field, text] of texts) {
    const fault = checkMergeFields(text, keys);
    if (fault) throw atField(field, describeMergeFault(fault));
    const filled = fillMergeFields(text, 'text', keys, sample);
    if (!filled.ok) throw atField(field, describeMergeFault(filled.fault));
  }
}

/**
 * What a schedule assumes of what its report assumes now: what was set before, and the report has let go since, goes too.
 * @throws Refusal for what is set now and the report does not name
 */
function assumedOf(report: StoredReport, { assumed }: ScheduleInput, before: ScheduleInput['assumed']) {
  const known = new Set((report.release?.document.assumptions ?? []).map((a) => a.key));
  const lost = Object.keys(assumed).find((key) => !known.has(key) && !Object.hasOwn(before, key));
  if (lost) throw atField('assumed', `The report has no assumption called ${lost}.`);
  return Object.fromEntries(Object.entries(assumed).filter(([key]) => known.has(key)));
}

/** Members who are named are there, and sign in. @throws Refusal at the field that names another */
async function checkMembers(db: Store, { signOff, notified, readers, groups }: ScheduleInput): Promise<void> {
  const members = await activeMembers(db);
  const active = new Set(members.map((m) => m.id));
  const check = (field: string, id: string | null) => {
    if (id !== null && !active.has(id)) throw atField(field, 'This person isn’t an active member.');
  };
  if (signOff.rule !== 'none' && signOff.asks !== null) {
    check('signOff.asks', signOff.asks);
    const { role, name } = members.find((m) => m.id === signOff.asks)!;
    if (!MANAGERS.includes(role))
      throw atField('signOff.asks', `${name} can’t approve editions. Choose an owner or manager.`);
  }
  for (const n of notified) check('notified', n.member);
  for (const r of [...readers, ...(groups?.groups.flatMap((g) => g.readers) ?? [])]) {
    if ('member' in r) check('readers', r.member);
  }
}

/**
 * Readers are contacts and lists of this client, and members. Who may not be written to is not chosen anew; who was
 * chosen before stays, with a warning beside each run.
 */
async function checkReaders(
  api: Api,
  client: StoredClient,
  input: ScheduleInput,
  before: StoredSchedule | null,
): Promise<void> {
  const { limits } = (await agencyOf(api.store))!.settings;
  const contacts = new Map((await contactsOf(api.store, client.id)).map((c) => [c.id, c]));
  const lists = await listsOf(api.store, client.id);
  const known = new Set(before ? readersOfPlan(before).map(readerKey) : []);
  const check = (field: string, readers: readonly ScheduleReader[]) => {
    for (const r of readers) {
      if ('list' in r && !lists.some((l) => l.id === r.list)) throw atField(field, 'This list no longer exists.');
      if (!('contact' in r)) continue;
      const contact = contacts.get(r.contact);
      if (!contact) {
        if (known.has(r.contact)) continue;
        throw atField(field, 'Choose each reader once, from this client’s contacts.');
      }
      const fault = guard(client, contact);
      if (fault !== null && fault !== 'outside' && !known.has(r.contact)) {
        throw atField(field, `${contact.firstName} ${contact.lastName} ${GUARD_WORDS[fault]}`.replace('  ', ' '));
      }
    }
    if (peopleIn(readers, lists).length > limits.readers) {
      throw atField(field, `Your agency allows at most ${limits.readers} readers per schedule.`);
    }
  };
  check('readers', input.readers);
  for (const [i, g] of (input.groups?.groups ?? []).entries()) check(`groups.groups.${i}.readers`, g.readers);
  await checkMembers(api.store, input);
}

/** Pages that are chosen anew are in the release, and something of it goes. @throws Refusal at `pages` or `leftOut` */
function checkParts(report: StoredReport, input: ScheduleInput, before: StoredSchedule | null): void {
  const { pages, leftOut } = input;
  const { document } = report.release!;
  if (leftOut.length > 0 && chooseParts(document, { pages }) !== null && chooseParts(document, input) === null)
    throw atField('leftOut', 'Nothing in the report would be sent. Show some blocks, or choose another filter.');
  if (pages === null) return;
  const there = document.pages.map((p) => p.id);
  const lost = pages.find((p) => !there.includes(p) && !before?.pages?.includes(p));
  if (lost || chooseParts(document, { pages }) === null) {
    throw atField('pages', 'Choose pages the report includes in editions.');
  }
}

/**
 * What the mail shows is on the pages that go, and its files are the client's. What stood there before stays, and holds its
 * editions with the reason. @throws Refusal at the part, or the file
 */
async function checkMail(
  db: Store,
  client: StoredClient,
  report: StoredReport,
  input: ScheduleInput,
  before: StoredSchedule | null,
): Promise<void> {
  const { mail } = input;
  const document = chooseParts(report.release!.document, input) ?? report.release!.document;
  const gone = goneFromMail(document, mail);
  const stood = (part: ShownPart) => before?.mail.parts.some((p) => p.kind === part.kind && same(p, part));
  mail.parts.forEach((part, i) => {
    if (isShown(part) && gone.includes(part) && !stood(part))
      throw atField(`mail.parts.${i}.block`, 'Choose something on the included pages.');
  });
  const known = await mailFilesOf(db, client.id);
  for (const [i, f] of mail.files.entries()) {
    if (!known.some((k) => k.file === f.file)) throw atField(`mail.files.${i}`, 'Upload this file again.');
  }
}

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? {}) === JSON.stringify(b ?? {});

/**
 * The exceptions of a schedule as they can be kept: those that were changed are of runs that its rule has and that have
 * not gone; those of runs to come that it has no more are let go.
 * @throws Refusal at `exceptions` for one that cannot be
 */
async function exceptionsOf(
  api: Api,
  client: StoredClient,
  input: ScheduleInput,
  before: StoredSchedule | null,
): Promise<Exceptions> {
  const agency = await agencyFor(api.store, client);
  const plain = recurrenceOf({ ...input, exceptions: {} }, agency, client.weekStart);
  const english = formatterOf('en-GB', client.currency);
  const now = api.clock.now();
  const today = wallClock(now, input.zone).date;
  const kept: [string, Exception][] = [];
  const dates = new Set([...Object.keys(input.exceptions), ...Object.keys(before?.exceptions ?? {})]);
  for (const nominal of dates) {
    const [said, was] = [input.exceptions[nominal], before?.exceptions[nominal]];
    const changed = !same(said, was);
    const of = `The run of ${english.date(nominal)}`;
    if (changed && before) {
      const gone = (await editionsOfRun(api.store, before.id, nominal)).some(
        (e) => e.state !== 'skipped' && !FOLLOWING.includes(e.state),
      );
      if (gone) throw atField('exceptions', `${of} is being sent or was sent, so it can’t be changed.`);
    }
    if (said === undefined || Object.keys(said).length === 0) continue;
    if (!occurrenceOn(plain, nominal)) {
      if (changed) throw atField('exceptions', `The schedule has no run on ${english.date(nominal)}.`);
      if (nominal >= today) continue;
    }
    if (changed && said.moved && !same(said.moved, was?.moved)) {
      const away = Math.abs(toDayNumber(said.moved.date) - toDayNumber(nominal));
      if (away > MOST_MOVED) throw atField('exceptions', `${of} can be moved by at most ${MOST_MOVED} days.`);
      if (instantOf(said.moved.date, said.moved.time, input.zone) <= now.replace(/\.\d+/, '')) {
        throw atField('exceptions', `${of} can’t be moved to the past.`);
      }
    }
    kept.push([nominal, said]);
  }
  return Object.fromEntries(kept.sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** What came by no form, held against what forms are held against. @throws Refusal */
export function wellFormed(input: ScheduleInput): ScheduleInput {
  const read = scheduleInput.safeParse(input);
  if (!read.success) throw new Refusal(422, read.error.issues[0]!.message);
  return read.data;
}

/** @throws Refusal where nobody would read what goes on, or nothing runs for the client */
export function checkMayRun(client: StoredClient, s: StoredSchedule): void {
  checkWorking(client);
  if (!s.archive && readersOfPlan(s).length === 0) throw atField('readers', 'Add at least one reader first.');
}

/** What a person asks of a schedule, as it can be kept. @throws Refusal at the field that cannot be */
export async function checked(
  api: Api,
  client: StoredClient,
  input: ScheduleInput,
  before: StoredSchedule | null = null,
): Promise<ScheduleInput> {
  checkWorking(client);
  const report = await reportById(api.store, input.reportId);
  if (report?.clientId !== client.id) throw atField('reportId', 'Choose a report of this client.');
  if (report.release === null) {
    throw atField('reportId', 'This report has never been released. Open it, review it and release it first.');
  }
  await checkReaders(api, client, input, before);
  const assumed = assumedOf(report, input, before?.assumed ?? {});
  checkTemplates(input, client);
  checkParts(report, input, before);
  await checkMail(api.store, client, report, input, before);
  await checkFilters(api, client, report.release.document, input);
  const agency = await agencyFor(api.store, client);
  const first = occurrences(
    recurrenceOf({ ...input, exceptions: {} }, agency, client.weekStart),
    input.firstDate,
  ).next();
  if (first.done) throw atField('rule', 'This rule has no date between the first and the last.');
  const exceptions = await exceptionsOf(api, client, input, before);
  return { ...input, assumed, exceptions };
}
