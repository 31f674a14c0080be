import { MANAGERS } from '@chronicon/core/contract';
import type { Selectable } from 'kysely';
import { z } from 'zod';
import { assign, unassign } from './assignments.ts';
import { changeClient, clientById } from './clients.ts';
import { newId } from './ids.ts';
import { memberById } from './members.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';
import { stored } from './stored.ts';

/** A client in a colleague's hands, and whether the colleague sees it for that reason alone. */
interface Given {
  client: string;
  assigned: boolean;
}

export interface StoredDelegation extends Omit<Selectable<Tables['delegation']>, 'clients'> {
  clients: Given[];
}

const givenIn = stored<Given[]>(
  z.array(z.object({ client: z.string(), assigned: z.boolean() })),
  'clients in a colleague’s hands',
);

const fromRow = (r: Selectable<Tables['delegation']>): StoredDelegation => ({
  ...r,
  clients: givenIn(r.clients),
});

/**
 * Makes a colleague the manager of clients, for good or until an instant. What goes out for them answers to the
 * colleague from now on: editions that are not on their way follow.
 * @param until null for good: whoever had them sees them no more, unless they see every client
 */
export const delegateClients = (
  db: Store,
  give: { from: string; to: string; clients: readonly string[]; until: string | null; by: string; at: string },
): Promise<void> =>
  inTransaction(db, async (tx) => {
    const given: Given[] = [];
    for (const id of give.clients) {
      given.push({ client: id, assigned: await assign(tx, give.to, id) });
      if ((await clientById(tx, id))!.managerId === give.from)
        await changeClient(tx, id, { manager_id: give.to }, give.at);
      if (give.until === null) await unassign(tx, give.from, id);
    }
    if (give.until === null) return;
    await tx
      .insertInto('delegation')
      .values({
        id: newId('dg'),
        from_member: give.from,
        to_member: give.to,
        clients: JSON.stringify(given),
        until: give.until,
        made_by: give.by,
        made_at: give.at,
      })
      .execute();
  });

/** What is in a colleague's hands at present, that which ends soonest first. */
export async function delegations(db: Store): Promise<StoredDelegation[]> {
  return (await db.selectFrom('delegation').selectAll().orderBy('until').execute()).map(fromRow);
}

export async function delegationsDue(db: Store, now: string): Promise<StoredDelegation[]> {
  return (await db.selectFrom('delegation').selectAll().where('until', '<=', now).execute()).map(fromRow);
}

/**
 * Gives clients back. What changed hands meanwhile stays where it is, and so does what belonged to somebody who is gone or
 * manages no clients any more.
 * @returns the clients that went back; null where another has ended it already
 */
export const endDelegation = (db: Store, h: StoredDelegation, at: string): Promise<string[] | null> =>
  inTransaction(db, async (tx) => {
    const { numDeletedRows } = await tx.deleteFrom('delegation').where('id', '=', h.id).executeTakeFirst();
    if (numDeletedRows === 0n) return null;
    const to = await memberById(tx, h.from_member);
    if (to?.state !== 'active' || !MANAGERS.includes(to.role)) return [];
    const back: string[] = [];
    for (const { client: id, assigned } of h.clients) {
      if ((await clientById(tx, id))?.managerId !== h.to_member) continue;
      await changeClient(tx, id, { manager_id: h.from_member }, at);
      await assign(tx, h.from_member, id);
      if (assigned) await unassign(tx, h.to_member, id);
      back.push(id);
    }
    return back;
  });
