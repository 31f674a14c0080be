import { setImmediate } from 'node:timers/promises';
import { readerKey } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { notFound, Refusal } from '../platform/refusal.ts';
import { type Doer, takeUpEnded } from '../scheduler/follow.ts';
import { actById, type BulkKept, markUndone, notedOf } from '../store/bulkActs.ts';
import { clientById, contactsOf, maySee, removeContact, saveContact } from '../store/clients.ts';
import { editionById, moveEdition } from '../store/editions.ts';
import { record } from '../store/ledger.ts';
import { listsOf, saveList } from '../store/readerLists.ts';
import { scheduleById, schedulesOf } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { CHANGED_AT_ONCE } from './bulkDo.ts';
import type { Api } from './context.ts';
import { readersOfPlan } from './lookAhead.ts';
import { changeTo, endSchedule, setActive, standingOf } from './scheduleActs.ts';
import { changesOf } from './scheduleHistory.ts';

/** Puts one schedule back as it was; false where it is no longer as the act left it. */
async function putBack(
  tx: Store,
  { id, before, after }: BulkKept['schedules'][number],
  by: Doer,
  member: Session['member'],
): Promise<boolean> {
  const now = await scheduleById(tx, id);
  // Whoever does not see a client any more changes nothing of it.
  if (!now || !(await maySee(tx, member, now.clientId))) return false;
  if (JSON.stringify(standingOf(now)) !== JSON.stringify(after)) return false;
  const client = (await clientById(tx, now.clientId))!;
  if (JSON.stringify(before.input) !== JSON.stringify(after.input)) await changeTo(tx, now, client, before.input, by);
  if (before.state === 'ended') await endSchedule(tx, now, by);
  else if (before.state !== after.state || before.resumesOn !== after.resumesOn) {
    await setActive(tx, now, { active: before.state === 'active', resumesOn: before.resumesOn }, by);
    if (after.state === 'ended') await takeUpEnded(tx, id, by);
  }
  await record(tx, {
    at: by.at,
    actor: by.actor,
    action: 'schedule.changed',
    subject: id,
    detail: { changed: changesOf(after.input, before.input) },
  });
  return true;
}

/** Puts back what is noted of a contact. @returns whose, where somebody has noted something else since */
async function putBackNoted(
  tx: Store,
  { client, id, before, after }: BulkKept['noted'][number],
  at: string,
): Promise<string | null> {
  const contact = (await contactsOf(tx, client)).find((c) => c.id === id);
  if (!contact) return null;
  if (JSON.stringify(notedOf(contact)) !== JSON.stringify(after)) {
    return `${contact.firstName} ${contact.lastName}`.trim();
  }
  await saveContact(tx, client, { ...contact, ...before }, at);
  return null;
}

/** States of an edition in which nothing of it has been handed over. */
const OPEN = ['planned', 'collecting', 'review', 'ready', 'held'];

/** Takes away what an act made. @returns how many editions of it are left out now */
async function takeBackMade(
  tx: Store,
  { made, editions }: BulkKept,
  by: Doer,
  sees: (client: string) => Promise<boolean>,
): Promise<number> {
  for (const { client, id } of made) {
    await setImmediate();
    if (!(await sees(client))) continue;
    // Who reads elsewhere by now stays.
    const reads =
      (await schedulesReading(tx, client, id)) || (await listsOf(tx, client)).some((l) => l.contacts.includes(id));
    if (!reads) await removeContact(tx, client, id, by.at);
  }
  let leftOut = 0;
  for (const edition of editions) {
    const e = await editionById(tx, edition);
    if (!e || !OPEN.includes(e.state) || !(await sees(e.client_id))) continue;
    const patch = { reason: `Left out by ${by.name}.`, next_at: null };
    if (await moveEdition(tx, e, 'skipped', patch, { at: by.at, actor: by.actor })) leftOut++;
  }
  return leftOut;
}

/**
 * Undoes an act on many schedules: what is still as the act left it is as it was before; what was changed since stays,
 * and is named. Of clients that the member does not see any more, nothing is touched.
 * @throws Refusal 404 for an act that is not theirs, 409 for one that was undone
 */
export async function undoAct(api: Api, { member }: Session, id: string): Promise<{ undone: number; kept: string[] }> {
  const act = await actById(api.store, id);
  if (!act || (act.by !== member.id && member.role !== 'owner')) throw notFound('act');
  if (act.undone_at !== null) throw new Refusal(409, 'This was undone already.');
  const at = api.clock.now();
  const by = { at, actor: member.id, name: member.name };
  const kept: string[] = [];
  let undone = 0;
  await inTransaction(api.store, async (tx) => {
    if (!(await markUndone(tx, id, at))) throw new Refusal(409, 'This was undone already.');
    const seen = new Map<string, boolean>();
    const sees = async (client: string) => {
      const known = seen.get(client) ?? (await maySee(tx, member, client));
      seen.set(client, known);
      return known;
    };
    const onlyVisible = async <T extends { client: string }>(all: readonly T[]): Promise<T[]> => {
      const found: T[] = [];
      for (const x of all) if (await sees(x.client)) found.push(x);
      return found;
    };
    for (const [i, s] of act.kept.schedules.entries()) {
      if (i % CHANGED_AT_ONCE === 0) await setImmediate();
      if (await putBack(tx, s, by, member)) undone++;
      else kept.push(await titleOf(tx, s.id, member));
    }
    for (const l of await onlyVisible(act.kept.lists)) {
      const list = (await listsOf(tx, l.client)).find((x) => x.id === l.id);
      if (list && JSON.stringify(list.contacts) === JSON.stringify(l.after)) {
        await saveList(tx, l.client, { ...list, contacts: l.before }, at);
        undone++;
      } else kept.push(`List “${l.name}”`);
    }
    for (const noted of await onlyVisible(act.kept.noted)) {
      await setImmediate();
      const whose = await putBackNoted(tx, noted, at);
      if (whose !== null) kept.push(`What is noted of ${whose}`);
    }
    undone += await takeBackMade(tx, act.kept, by, sees);
    await record(tx, { at, actor: member.id, action: 'schedules.undone', subject: id, detail: { undone } });
  });
  api.scheduler.nudge();
  return { undone, kept };
}

const schedulesReading = async (db: Store, client: string, contact: string): Promise<boolean> =>
  (await schedulesOf(db, client)).some((s) => readersOfPlan(s).some((r) => readerKey(r) === contact));

async function titleOf(db: Store, scheduleId: string, member: Session['member']): Promise<string> {
  const row = await db
    .selectFrom('schedule')
    .innerJoin('report', 'report.id', 'schedule.report_id')
    .innerJoin('client', 'client.id', 'schedule.client_id')
    .select(['report.title', 'client.name', 'client.id'])
    .where('schedule.id', '=', scheduleId)
    .executeTakeFirst();
  return row && (await maySee(db, member, row.id))
    ? `“${row.title}” of ${row.name}`
    : 'A schedule of a client that you do not see any more';
}
