import type { Store } from './store.ts';

/** Of which revision of its figures the editions of a client were last told, by client. */
export async function factsTold(db: Store): Promise<Map<string, string>> {
  const rows = await db.selectFrom('facts_told').selectAll().execute();
  return new Map(rows.map((r) => [r.client_id, r.revision]));
}

/** The revision that a client's editions were told of; null where they never were. */
export async function factsToldOf(db: Store, clientId: string): Promise<string | null> {
  const row = await db.selectFrom('facts_told').select('revision').where('client_id', '=', clientId).executeTakeFirst();
  return row?.revision ?? null;
}

/** Keeps of which revision they were told; in the transaction that tells them. */
export async function keepFactsTold(tx: Store, clientId: string, revision: string): Promise<void> {
  await tx
    .insertInto('facts_told')
    .values({ client_id: clientId, revision })
    .onConflict((c) => c.column('client_id').doUpdateSet({ revision }))
    .execute();
}
