import { clampRange, type Range } from '@chronicon/core/calendar';
import type { Exclusion } from '@chronicon/core/figures';
import type { ToldExclusion } from '@chronicon/core/report';
import type { Selectable } from 'kysely';
import { cached } from './cache.ts';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import { memberById } from './members.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';
import { storedNames } from './stored.ts';

/** Days that somebody left out of a client's figures, and why (SEMANTICS §6). */
export interface ExcludedDays extends Range {
  /** For these metrics and what is made of them; for all of them where it is empty. */
  metrics: string[];
  reason: string;
  /** Whether readers are told the reason. */
  printed: boolean;
}

export interface StoredExclusion extends ExcludedDays {
  id: string;
  madeBy: string;
}

const fromRow = (r: Selectable<Tables['excluded_day']>): StoredExclusion => ({
  id: r.id,
  ...clampRange({ from: r.first, to: r.last }),
  metrics: storedNames(r.metrics),
  reason: r.reason,
  printed: r.printed === 1,
  madeBy: r.made_by,
});

/** The exclusions of a client, newest days first. */
export const exclusionsOf = (db: Store, clientId: string): Promise<StoredExclusion[]> =>
  cached(db, ['excluded_day'], `excluded ${clientId}`, async () => {
    const rows = await db
      .selectFrom('excluded_day')
      .selectAll()
      .where('client_id', '=', clientId)
      .orderBy('first', 'desc')
      .orderBy('id')
      .execute();
    return rows.map(fromRow);
  });

/** An exclusion with the name of who left the days out. */
export const namedExclusion = async (db: Store, { madeBy, ...days }: StoredExclusion) => ({
  ...days,
  madeBy: (await memberById(db, madeBy))?.name ?? '',
});

/** An exclusion as figures and pages are made with it: its reason where readers are told. */
export const toldExclusion = ({ from, to, metrics, reason, printed }: ExcludedDays): ToldExclusion => ({
  from,
  to,
  ...(metrics.length > 0 && { metrics }),
  ...(printed && { reason }),
});

/** What figures are asked without. */
export const plainExclusion = ({ from, to, metrics }: ExcludedDays): Exclusion => ({
  from,
  to,
  ...(metrics.length > 0 && { metrics }),
});

/** Leaves days out of a client's figures, or changes how; every edition that is not on its way yet is drawn anew. */
export async function saveExclusion(
  db: Store,
  clientId: string,
  days: ExcludedDays & { id?: string },
  by: { memberId: string; at: string },
): Promise<StoredExclusion> {
  const { from: first, to: last, reason } = days;
  const values = { first, last, reason, metrics: JSON.stringify(days.metrics), printed: days.printed ? 1 : 0 } as const;
  const id = days.id ?? newId('xd');
  await inTransaction(db, async (tx) => {
    if (days.id) {
      await tx.updateTable('excluded_day').set(values).where('id', '=', id).where('client_id', '=', clientId).execute();
    } else {
      await tx
        .insertInto('excluded_day')
        .values({ id, client_id: clientId, ...values, made_by: by.memberId, created_at: by.at })
        .execute();
    }
    await markStale(tx, { clientId }, by.at);
  });
  return { ...days, id, madeBy: by.memberId };
}

/** Takes days back into a client's figures. */
export async function removeExclusion(db: Store, clientId: string, id: string, at: string): Promise<void> {
  await inTransaction(db, async (tx) => {
    await tx.deleteFrom('excluded_day').where('id', '=', id).where('client_id', '=', clientId).execute();
    await markStale(tx, { clientId }, at);
  });
}
