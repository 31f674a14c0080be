import type { BulkAct, ScheduleInput } from '@chronicon/core/contract';
import { readerKey } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import type { Doer } from '../scheduler/follow.ts';
import { type MailsInstead, type Person, readdress, writeInstead } from '../scheduler/readdress.ts';
import { type BulkChange, keepAct, keepChange, notedOf, settleAct } from '../store/bulkActs.ts';
import { clientById, contactsOf, saveContact } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { memberNames } from '../store/members.ts';
import { listsOf, saveList } from '../store/readerLists.ts';
import { type StoredSchedule, scheduleById } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { isChange, NEW, type Planned, type Step } from './bulkPlan.ts';
import { whatOf } from './bulkWords.ts';
import type { Api } from './context.ts';
import { doneBefore, inTurns, type Turn } from './inTurns.ts';
import { readersOfPlan } from './lookAhead.ts';
import { changeReaders } from './manyPeople.ts';
import { changeTo, endSchedule, inputOf, makeFrom, setActive, standingOf } from './scheduleActs.ts';
import { changesOf } from './scheduleHistory.ts';

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

/** Makes the contacts that an act asks for. @returns their ids by client */
async function makeContacts(api: Api, plan: Planned, act: string, at: string): Promise<Map<string, string>> {
  const turns = [...plan.make].map(
    ([client, who]): Turn<[string, string]> => ({
      async run(tx) {
        const { id } = await saveContact(tx, client, { ...who, approved: who.email }, at);
        await keepChange(tx, act, { kind: 'made', client, id });
        return [client, id];
      },
    }),
  );
  return new Map(await inTurns(api, turns));
}

/** What a step would say, with the contacts that were made where they stand for. */
function withMade({ input, schedule }: Step, made: ReadonlyMap<string, string>): ScheduleInput {
  const id = made.get(schedule.clientId);
  return id === undefined
    ? input
    : changeReaders(input, (readers) =>
        readers.map((r) => ('contact' in r && r.contact === NEW ? { ...r, contact: id } : r)),
      );
}

/** Notes of a contact that they have left, or that their address is right. @returns how that was, and is */
async function noteContact(
  tx: Store,
  { client, contact: id, that }: Planned['note'][number],
  at: string,
): Promise<Extract<BulkChange, { kind: 'noted' }> | null> {
  const contact = (await contactsOf(tx, client)).find((c) => c.id === id);
  if (!contact) return null;
  const before = notedOf(contact);
  const after = that === 'left' ? { ...before, standing: 'left' as const } : { ...before, approved: contact.email };
  await saveContact(tx, client, { ...contact, ...after }, at);
  return { kind: 'noted', client, id, before, after };
}

/** Who reads a schedule no more, and who does in their place; null where nobody took a place. */
function replacedIn(before: StoredSchedule, after: StoredSchedule): { from: string; to: Person } | null {
  const [had, has] = [readersOfPlan(before), readersOfPlan(after)];
  const gone = had.find((r) => !has.some((x) => readerKey(x) === readerKey(r)));
  const come = has.find((r) => !had.some((x) => readerKey(x) === readerKey(r)));
  return gone && come && !('list' in come) ? { from: readerKey(gone), to: come } : null;
}

/** What a turn of an act came to: whether it changed something, and what has to be said of it. */
interface Came {
  changed: boolean;
  late?: string[];
  /** What somebody else changed meanwhile, and stays as it is. */
  left?: string;
}

/** One schedule of an act. */
function scheduleTurn(api: Api, act: Exclude<BulkAct, { do: 'make' }>, step: Step, id: string, by: Doer): Turn<Came> {
  const { row, schedule } = step;
  const other = act.do === 'replace' ? replacedIn(schedule, { ...schedule, ...step.input }) : null;
  let written: MailsInstead = new Map();
  return {
    async ready() {
      if (other) written = await writeInstead(api, row.id, other);
    },
    async run(tx) {
      const now = await scheduleById(tx, row.id);
      if (!now || JSON.stringify(standingOf(now)) !== JSON.stringify(standingOf(schedule)))
        return { changed: false, left: `“${row.title}” of ${row.clientName}` };
      await doStep(tx, act, step, by);
      const after = (await scheduleById(tx, row.id))!;
      await keepChange(tx, id, {
        kind: 'schedule',
        id: row.id,
        before: standingOf(schedule),
        after: standingOf(after),
      });
      const { late } = other ? await readdress(api, tx, row.id, { ...other, written }, by) : { late: [] };
      return { changed: true, late };
    },
  };
}

const listTurn = ({ client, list, contacts }: Planned['lists'][number], id: string, by: Doer): Turn<Came> => ({
  async run(tx) {
    const now = (await listsOf(tx, client)).find((l) => l.id === list.id);
    if (JSON.stringify(now?.contacts) !== JSON.stringify(list.contacts))
      return { changed: false, left: `List “${list.name}”` };
    await saveList(tx, client, { ...list, contacts }, by.at);
    const { name, contacts: before } = list;
    await keepChange(tx, id, { kind: 'list', client, id: list.id, name, before, after: contacts });
    await record(tx, { at: by.at, actor: by.actor, action: 'list.changed', subject: client });
    return { changed: true };
  },
});

const noteTurn = (note: Planned['note'][number], id: string, by: Doer): Turn<Came> => ({
  async run(tx) {
    const noted = await noteContact(tx, note, by.at);
    if (!noted) return { changed: false };
    await keepChange(tx, id, noted);
    const detail = { contact: note.contact };
    await record(tx, { at: by.at, actor: by.actor, action: 'contact.changed', subject: note.client, detail });
    return { changed: false };
  },
});

/**
 * Does an act, a few changes to a transaction: others write meanwhile. Each change is kept with how it was before, in the transaction
 * that makes it. Whatever ends it in between, what was done until then can be undone; what somebody else changed meanwhile
 * stays, and is named.
 */
export async function doAct(
  api: Api,
  session: Session,
  act: BulkAct,
  plan: Planned,
): Promise<{ id: string; late: string[]; left: string[] }> {
  const { member } = session;
  const at = api.clock.now();
  const by = { at, actor: member.id, name: member.name };
  const names = await memberNames(api.store);
  const steps = plan.steps.filter((s) => isChange(s.row));
  const lists = plan.lists.filter((l) => isChange(l.row));
  const planned = steps.length + lists.length;
  const id = await keepAct(api.store, { at, by: member.id, what: whatOf(act, planned, names), count: planned });
  const settle = (came: readonly Came[]) =>
    inTransaction(api.store, async (tx) => {
      // An edition is made once all is done: nothing of its schedule changes.
      const count = act.do === 'make' ? planned : came.filter((c) => c.changed).length;
      const what = whatOf(act, count, names);
      if (act.do !== 'make') await settleAct(tx, id, { what, count });
      await record(tx, { at, actor: member.id, action: 'schedules.many', subject: id, detail: { what, count } });
    });
  const work = async (): Promise<Came[]> => {
    const made = await makeContacts(api, plan, id, at);
    return inTurns(api, [
      ...(act.do === 'make'
        ? []
        : steps.map((s) => scheduleTurn(api, act, { ...s, input: withMade(s, made) }, id, by))),
      ...lists.map((l) => {
        const contacts = l.contacts.map((c) => (c === NEW ? made.get(l.client)! : c));
        return listTurn({ ...l, contacts }, id, by);
      }),
      ...plan.note.map((n) => noteTurn(n, id, by)),
    ]);
  };
  const came = await work().catch(async (error: unknown) => {
    // What was done until then stands in the list of acts, and can be undone there. Of contacts alone nothing was changed.
    await settle(doneBefore<Came>(error).filter((c) => typeof c === 'object' && 'changed' in c));
    throw error;
  });
  await settle(came);
  return { id, late: came.flatMap((c) => c.late ?? []), left: came.flatMap((c) => c.left ?? []) };
}

/** Makes the editions of an act that makes some: each is looked at before it goes, and can be undone once it is there. */
export async function makeEditions(api: Api, session: Session, plan: Planned, actId: string): Promise<void> {
  for (const { schedule } of plan.steps.filter((s) => isChange(s.row))) {
    const by = { memberId: session.member.id, kind: 'by-hand' as const, of: 'last' as const };
    for (const edition of await makeFrom(api, schedule, by))
      await keepChange(api.store, actId, { kind: 'edition', id: edition });
  }
}
