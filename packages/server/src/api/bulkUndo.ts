import { readerKey } from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { notFound, Refusal } from '../platform/refusal.ts';
import { type Doer, takeUpEnded } from '../scheduler/follow.ts';
import { actById, type BulkChange, changesOfAct, markUndone, notedOf, takeChange } from '../store/bulkActs.ts';
import { clientById, contactsOf, maySee, removeContact, saveContact } from '../store/clients.ts';
import { editionById, moveEdition } from '../store/editions.ts';
import { record } from '../store/ledger.ts';
import { listsOf, saveList } from '../store/readerLists.ts';
import { scheduleById, scheduleNamed, schedulesOf } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import type { Api } from './context.ts';
import { inTurns, type Turn } from './inTurns.ts';
import { readersOfPlan } from './lookAhead.ts';
import { changeTo, endSchedule, setActive, standingOf } from './scheduleActs.ts';
import { changesOf } from './scheduleHistory.ts';

type Of<K> = Extract<BulkChange, { kind: K }>;

/** Puts one schedule back as it was; false where it is no longer as the act left it. */
async function putBack(
  tx: Store,
  { id, before, after }: Of<'schedule'>,
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
async function putBackNoted(tx: Store, { client, id, before, after }: Of<'noted'>, at: string): Promise<string | null> {
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

/** What undoing one change came to: undone, left as it is with what that is called, or nothing to speak of. */
type Came = { undone: number } | { kept: string } | null;

/** Puts back one change of an act, as far as it is still as the act left it and the member sees its client. */
async function undoOne(tx: Store, change: BulkChange, by: Doer, member: Session['member']): Promise<Came> {
  switch (change.kind) {
    case 'schedule':
      return (await putBack(tx, change, by, member)) ? { undone: 1 } : { kept: await titleOf(tx, change.id, member) };
    case 'list': {
      if (!(await maySee(tx, member, change.client))) return null;
      const list = (await listsOf(tx, change.client)).find((x) => x.id === change.id);
      if (!list || JSON.stringify(list.contacts) !== JSON.stringify(change.after))
        return { kept: `List “${change.name}”` };
      await saveList(tx, change.client, { ...list, contacts: change.before }, by.at);
      return { undone: 1 };
    }
    case 'noted': {
      if (!(await maySee(tx, member, change.client))) return null;
      const whose = await putBackNoted(tx, change, by.at);
      return whose === null ? null : { kept: `The status of ${whose}` };
    }
    case 'made': {
      const { client, id } = change;
      if (!(await maySee(tx, member, client))) return null;
      // Who reads elsewhere by now stays.
      const reads =
        (await schedulesReading(tx, client, id)) || (await listsOf(tx, client)).some((l) => l.contacts.includes(id));
      if (!reads) await removeContact(tx, client, id, by.at);
      return null;
    }
    case 'edition': {
      const e = await editionById(tx, change.id);
      if (!e || !OPEN.includes(e.state) || !(await maySee(tx, member, e.client_id))) return null;
      const patch = { reason: `Skipped by ${by.name}.`, next_at: null };
      return (await moveEdition(tx, e, 'skipped', patch, { at: by.at, actor: by.actor })) ? { undone: 1 } : null;
    }
  }
}

/** What was made for an act goes once nothing of the act hangs on it any more. */
const LAST: string[] = ['made', 'edition'];

/**
 * Undoes an act on many schedules, a few changes to a transaction: what is still as the act left it is as it was before; what was
 * changed since stays, and is named. Of clients that the member does not see any more, nothing is touched. One that was ended
 * in between goes on where it stopped.
 * @throws Refusal 404 for an act that is not theirs, 409 for one that was undone
 */
export async function undoAct(api: Api, { member }: Session, id: string): Promise<{ undone: number; kept: string[] }> {
  const act = await actById(api.store, id);
  if (!act || (act.by !== member.id && member.role !== 'owner')) throw notFound('act');
  if (act.undone_at !== null) throw new Refusal(409, 'Already undone.');
  const at = api.clock.now();
  const by = { at, actor: member.id, name: member.name };
  const changes = await changesOfAct(api.store, id);
  const rank = ({ kind }: (typeof changes)[number]): number => LAST.indexOf(kind);
  const turns = [...changes]
    .sort((a, b) => rank(a) - rank(b))
    .map(
      ({ n }): Turn<Came> => ({
        async run(tx) {
          const change = await takeChange(tx, id, n);
          return change && undoOne(tx, change, by, member);
        },
      }),
    );
  const came = await inTurns(api, turns);
  const undone = came.reduce((sum, c) => sum + (c && 'undone' in c ? c.undone : 0), 0);
  await inTransaction(api.store, async (tx) => {
    if (!(await markUndone(tx, id, at))) throw new Refusal(409, 'Already undone.');
    await record(tx, { at, actor: member.id, action: 'schedules.undone', subject: id, detail: { undone } });
  });
  api.scheduler.nudge();
  return { undone, kept: came.flatMap((c) => (c && 'kept' in c ? c.kept : [])) };
}

const schedulesReading = async (db: Store, client: string, contact: string): Promise<boolean> =>
  (await schedulesOf(db, client)).some((s) => readersOfPlan(s).some((r) => readerKey(r) === contact));

async function titleOf(db: Store, scheduleId: string, member: Session['member']): Promise<string> {
  const named = await scheduleNamed(db, scheduleId);
  return named && (await maySee(db, member, named.clientId))
    ? `“${named.title}” of ${named.clientName}`
    : 'A schedule of a client you can no longer see';
}
