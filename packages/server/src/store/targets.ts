import { clampDate } from '@chronicon/core/calendar';
import { type PlainFilter, type Target, targetsFor } from '@chronicon/core/figures';
import type { Selectable } from 'kysely';
import { cached } from './cache.ts';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';
import { plainFilter, storedOnce } from './stored.ts';

export type StoredTarget = Target & { id: string };

const filterIn = storedOnce<PlainFilter>(plainFilter, 'what a target is narrowed to');

function fromRow({ id, metric, value, span, start, repeats, filter }: Selectable<Tables['target']>): StoredTarget {
  const narrowed = filterIn(filter);
  const common = { id, metric, value, ...(Object.keys(narrowed).length > 0 && { filter: narrowed }) };
  return span === 'date'
    ? { ...common, span, on: clampDate(start) }
    : { ...common, span, from: clampDate(`${start}-01`).slice(0, 7), repeats: repeats === 1 };
}

/** A client's targets, by metric and the newest first. */
export const targetsOf = (db: Store, clientId: string): Promise<StoredTarget[]> =>
  cached(db, ['target'], `targets ${clientId}`, async () => {
    const rows = await db
      .selectFrom('target')
      .selectAll()
      .where('client_id', '=', clientId)
      .orderBy('metric')
      .orderBy('start', 'desc')
      .execute();
    return rows.map(fromRow);
  });

/** The target of the same metric, narrowing and span that is there already, or null. */
export async function sameTarget(db: Store, clientId: string, target: Target): Promise<StoredTarget | null> {
  const start = target.span === 'date' ? target.on : target.from;
  const own = targetsFor(await targetsOf(db, clientId), target.metric, target.filter ?? {}) as StoredTarget[];
  const found = own.find((t) => t.span === target.span && (t.span === 'date' ? t.on : t.from) === start);
  return found ?? null;
}

/** Adds a target, or changes the one of that id. */
export async function saveTarget(
  db: Store,
  clientId: string,
  target: Target,
  at: string,
  id?: string,
): Promise<StoredTarget> {
  const { metric, value, span } = target;
  const start = target.span === 'date' ? target.on : target.from;
  const repeats = target.span !== 'date' && target.repeats ? 1 : 0;
  const values = { metric, value, span, start, repeats, filter: JSON.stringify(target.filter ?? {}) } as const;
  const key = id ?? newId('ta');
  await inTransaction(db, async (tx) => {
    if (id) await tx.updateTable('target').set(values).where('id', '=', id).where('client_id', '=', clientId).execute();
    else
      await tx
        .insertInto('target')
        .values({ id: key, client_id: clientId, ...values })
        .execute();
    await markStale(tx, { clientId }, at);
  });
  return { ...target, id: key };
}

export async function removeTarget(db: Store, clientId: string, id: string, at: string): Promise<void> {
  await inTransaction(db, async (tx) => {
    await tx.deleteFrom('target').where('id', '=', id).where('client_id', '=', clientId).execute();
    await markStale(tx, { clientId }, at);
  });
}

/** A client that has a target of a metric; null where none has. */
export async function clientWithTarget(db: Store, metric: string): Promise<string | null> {
  const row = await db.selectFrom('target').select('client_id').where('metric', '=', metric).executeTakeFirst();
  return row?.client_id ?? null;
}
