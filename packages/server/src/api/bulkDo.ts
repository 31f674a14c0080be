import { setImmediate } from 'node:timers/promises';
import type { BulkAct } from '@chronicon/core/contract';
import { readerKey, type ScheduleReader } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { Refusal } from '../platform/refusal.ts';
import type { Doer } from '../scheduler/follow.ts';
import { type Person, readdress } from '../scheduler/readdress.ts';
import { type BulkKept, keepAct, keepEdition, notedOf } from '../store/bulkActs.ts';
import { clientById, contactsOf, saveContact } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { memberNames } from '../store/members.ts';
import { saveList } from '../store/readerLists.ts';
import { type StoredSchedule, scheduleById } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { isChange, NEW, type Planned, type Step } from './bulkPlan.ts';
import { whatOf } from './bulkWords.ts';
import type { Api } from './context.ts';
import { readersOfPlan } from './lookAhead.ts';
import { changeReaders } from './manyPeople.ts';
import { changeTo, endSchedule, inputOf, makeFrom, setActive, standingOf } from './scheduleActs.ts';
import { changesOf } from './scheduleHistory.ts';

/** Schedules that are changed before anybody else's turn comes. */
export const CHANGED_AT_ONCE = 4;

/** Does one step within the transaction of all of them. */
async function doStep(
  tx: Store,
  act: Exclude<BulkAct, { do: 'make' }>,
  { schedule, input, row }: Step,
  by: Doer,
): Promise<void> {
  const client = (await clientById(tx, schedule.clientId))!;
  const at = { at: by.at, actor: by.actor, subject: row.id };
  switch (act.do) {
    case 'pause':
      await setActive(tx, schedule, { active: false, resumesOn: act.resumesOn }, by);
      return record(tx, { ...at, action: 'schedule.paused', detail: { resumesOn: act.resumesOn } });
    case 'resume':
      await setActive(tx, schedule, { active: true, resumesOn: null }, by);
      return record(tx, { ...at, action: 'schedule.resumed' });
    case 'end':
      await endSchedule(tx, schedule, by);
      return record(tx, { ...at, action: 'schedule.ended' });
    default:
      await changeTo(tx, schedule, client, input, by);
      return record(tx, {
        ...at,
        action: 'schedule.changed',
        detail: { changed: changesOf(inputOf(schedule), input) },
      });
  }
}

/** Makes contacts that an act asks for, and puts them where they stand for. */
async function makeContacts(tx: Store, plan: Planned, at: string): Promise<BulkKept['made']> {
  const made: BulkKept['made'] = [];
  for (const [client, who] of plan.make) {
    await setImmediate();
    const { id } = await saveContact(tx, client, { ...who, approved: who.email }, at);
    made.push({ client, id });
    const put = (readers: readonly ScheduleReader[]) =>
      readers.map((r) => ('contact' in r && r.contact === NEW ? { ...r, contact: id } : r));
    for (const step of plan.steps.filter((s) => s.schedule.clientId === client)) {
      step.input = changeReaders(step.input, put);
    }
    for (const l of plan.lists.filter((x) => x.client === client)) {
      l.contacts = l.contacts.map((c) => (c === NEW ? id : c));
    }
  }
  return made;
}

/** Notes of a contact that they have left, or that their address is right. @returns how that was, and is */
async function noteContact(
  tx: Store,
  { client, contact: id, that }: Planned['note'][number],
  at: string,
): Promise<BulkKept['noted'][number] | null> {
  const contact = (await contactsOf(tx, client)).find((c) => c.id === id);
  if (!contact) return null;
  const before = notedOf(contact);
  const after = that === 'left' ? { ...before, standing: 'left' as const } : { ...before, approved: contact.email };
  await saveContact(tx, client, { ...contact, ...after }, at);
  return { client, id, before, after };
}

/** Who reads a schedule no more, and who does in their place; null where nobody took a place. */
function replacedIn(before: StoredSchedule, after: StoredSchedule): { from: string; to: Person } | null {
  const [had, has] = [readersOfPlan(before), readersOfPlan(after)];
  const gone = had.find((r) => !has.some((x) => readerKey(x) === readerKey(r)));
  const come = has.find((r) => !had.some((x) => readerKey(x) === readerKey(r)));
  return gone && come && !('list' in come) ? { from: readerKey(gone), to: come } : null;
}

/** Does an act, in one transaction, and keeps how it was before. */
export async function doAct(
  api: Api,
  session: Session,
  act: BulkAct,
  plan: Planned,
): Promise<{ id: string; late: string[] }> {
  const { member } = session;
  const at = api.clock.now();
  const by = { at, actor: member.id, name: member.name };
  const names = await memberNames(api.store);
  return inTransaction(api.store, async (tx) => {
    const kept: BulkKept = { schedules: [], lists: [], made: [], noted: [], editions: [] };
    kept.made = await makeContacts(tx, plan, at);
    const late: string[] = [];
    const steps = plan.steps.filter((s) => isChange(s.row));
    for (const [i, step] of steps.entries()) {
      // Others read meanwhile; who wants to write waits for the whole.
      if (i % CHANGED_AT_ONCE === 0) await setImmediate();
      const now = await scheduleById(tx, step.row.id);
      if (!now || JSON.stringify(standingOf(now)) !== JSON.stringify(standingOf(step.schedule))) {
        throw new Refusal(409, `“${step.row.title}” of ${step.row.clientName} was changed meanwhile. Look once more.`);
      }
      // An edition is made once all is done: nothing of its schedule changes.
      if (act.do === 'make') continue;
      await doStep(tx, act, step, by);
      const after = (await scheduleById(tx, step.row.id))!;
      kept.schedules.push({ id: step.row.id, before: standingOf(step.schedule), after: standingOf(after) });
      const other = act.do === 'replace' ? replacedIn(step.schedule, after) : null;
      if (other) late.push(...(await readdress(api, tx, step.row.id, other, by)).late);
    }
    const lists = plan.lists.filter((l) => isChange(l.row));
    for (const { client, list, contacts } of lists) {
      await saveList(tx, client, { ...list, contacts }, at);
      kept.lists.push({ client, id: list.id, name: list.name, before: list.contacts, after: contacts });
      await record(tx, { at, actor: member.id, action: 'list.changed', subject: client });
    }
    for (const note of plan.note) {
      await setImmediate();
      const noted = await noteContact(tx, note, at);
      if (!noted) continue;
      kept.noted.push(noted);
      const detail = { contact: note.contact };
      await record(tx, { at, actor: member.id, action: 'contact.changed', subject: note.client, detail });
    }
    const count = steps.length + lists.length;
    const what = whatOf(act, count, names);
    const id = await keepAct(tx, { at, by: member.id, what, count, kept });
    await record(tx, { at, actor: member.id, action: 'schedules.many', subject: id, detail: { what, count } });
    return { id, late };
  });
}

/** Makes the editions of an act that makes some: each is looked at before it goes, and can be undone once it is there. */
export async function makeEditions(api: Api, session: Session, plan: Planned, actId: string): Promise<void> {
  for (const { schedule } of plan.steps.filter((s) => isChange(s.row))) {
    const by = { memberId: session.member.id, kind: 'by-hand' as const, of: 'last' as const };
    for (const edition of await makeFrom(api, schedule, by)) await keepEdition(api.store, actId, edition);
  }
}
