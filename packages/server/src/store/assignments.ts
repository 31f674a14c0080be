import { grouped } from '../platform/grouped.ts';
import type { Store } from './store.ts';

/** The clients that each member, or one of them, is assigned to, by name; owners see every one beside. */
export async function assignmentsOf(
  db: Store,
  memberId?: string,
): Promise<Map<string, { id: string; name: string }[]>> {
  let query = db
    .selectFrom('assignment')
    .innerJoin('client', 'client.id', 'assignment.client_id')
    .select(['member_id', 'client.id', 'client.name'])
    .orderBy('client.name');
  if (memberId !== undefined) query = query.where('member_id', '=', memberId);
  const rows = await query.execute();
  return grouped(
    rows,
    (r) => r.member_id,
    ({ id, name }) => ({ id, name }),
  );
}

/** The clients that each member, or one of them, manages, by name. */
export async function managedBy(db: Store, memberId?: string): Promise<Map<string, { id: string; name: string }[]>> {
  let query = db.selectFrom('client').select(['id', 'name', 'manager_id']).orderBy('name');
  if (memberId !== undefined) query = query.where('manager_id', '=', memberId);
  const rows = await query.execute();
  return grouped(
    rows,
    (r) => r.manager_id,
    ({ id, name }) => ({ id, name }),
  );
}

/** @returns whether the member did not see the client before */
export async function assign(tx: Store, memberId: string, clientId: string): Promise<boolean> {
  const { numInsertedOrUpdatedRows } = await tx
    .insertInto('assignment')
    .values({ client_id: clientId, member_id: memberId })
    .onConflict((c) => c.doNothing())
    .executeTakeFirst();
  return (numInsertedOrUpdatedRows ?? 0n) > 0n;
}

export async function unassign(tx: Store, memberId: string, clientId: string): Promise<void> {
  await tx.deleteFrom('assignment').where('member_id', '=', memberId).where('client_id', '=', clientId).execute();
}

/** Sets which clients a member sees; those that they manage stay among them. */
export async function setAssignments(tx: Store, memberId: string, clients: readonly string[]): Promise<void> {
  const managed = await tx.selectFrom('client').select('id').where('manager_id', '=', memberId).execute();
  const wanted = new Set([...clients, ...managed.map((c) => c.id)]);
  await tx.deleteFrom('assignment').where('member_id', '=', memberId).execute();
  for (const id of wanted) await assign(tx, memberId, id);
}
