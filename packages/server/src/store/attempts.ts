import type { Selectable } from 'kysely';
import { among } from './among.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

export type AttemptRow = Selectable<Tables['attempt']>;

/** Writes down that a mail is handed over; call in the transaction that takes the delivery up. @returns its number, from 1 */
export async function beginAttempt(tx: Store, deliveryId: string, email: string, at: string): Promise<number> {
  const row = await tx
    .selectFrom('attempt')
    .select((q) => q.fn.max('number').as('last'))
    .where('delivery_id', '=', deliveryId)
    .executeTakeFirst();
  const number = Number(row?.last ?? 0) + 1;
  await tx
    .insertInto('attempt')
    .values({ delivery_id: deliveryId, number, email, began_at: at, ended_at: null, outcome: null, reply: null })
    .execute();
  return number;
}

/** Writes down what became of the last one; call in the transaction that moves the delivery. */
export async function endAttempt(
  tx: Store,
  deliveryId: string,
  ended: { outcome: NonNullable<AttemptRow['outcome']>; reply: string | null },
  at: string,
): Promise<void> {
  await tx
    .updateTable('attempt')
    .set({ ...ended, ended_at: at })
    .where('delivery_id', '=', deliveryId)
    .where('number', '=', (q) =>
      q
        .selectFrom('attempt')
        .select((s) => s.fn.max('number').as('last'))
        .where('delivery_id', '=', deliveryId),
    )
    .where('ended_at', 'is', null)
    .execute();
}

/** All attempts of these deliveries, in order. */
export async function attemptsOf(db: Store, deliveryIds: readonly string[]): Promise<AttemptRow[]> {
  if (deliveryIds.length === 0) return [];
  return db
    .selectFrom('attempt')
    .selectAll()
    .where(among('delivery_id', [...deliveryIds]))
    .orderBy('delivery_id')
    .orderBy('number')
    .execute();
}

/** How many attempts began after one instant and not after another, by all servers on the folder. */
export async function attemptsBegun(db: Store, { from, until }: { from: string; until: string }): Promise<number> {
  const row = await db
    .selectFrom('attempt')
    .select((q) => q.fn.countAll<number>().as('n'))
    .where('began_at', '>', from)
    .where('began_at', '<=', until)
    .executeTakeFirstOrThrow();
  return Number(row.n);
}
