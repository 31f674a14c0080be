import type { FilterPart, Segment } from '@chronicon/core/figures';
import type { SegmentInput } from '@chronicon/core/report';
import { filterSchema } from '@chronicon/core/report';
import { cached } from './cache.ts';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import { inTransaction, type Store } from './store.ts';
import { storedOnce } from './stored.ts';

export interface StoredSegment extends Segment {
  /** Null for one of the agency, which every client has. */
  clientId: string | null;
}

/** The segments that a client's figures can be narrowed by: its own and the agency's, by name. */
export const segmentsOf = (db: Store, clientId: string): Promise<StoredSegment[]> =>
  cached(db, ['segment'], `segments ${clientId}`, async () => {
    const rows = await db
      .selectFrom('segment')
      .selectAll()
      .where((w) => w.or([w('client_id', '=', clientId), w('client_id', 'is', null)]))
      .orderBy('name')
      .orderBy('id')
      .execute();
    return rows.map((r) => ({
      id: r.id,
      clientId: r.client_id,
      name: r.name,
      parts: partsIn(r.parts),
    }));
  });

const partsIn = storedOnce<FilterPart[]>(filterSchema, 'what a segment keeps');

/** What is made by a segment: one of the agency may stand in any client's report. */
const madeBy = (clientId: string | null) => (clientId === null ? 'all' : { clientId });

/** Adds a segment of a client, or of the agency for null; or changes the one of that id. */
export async function saveSegment(
  db: Store,
  clientId: string | null,
  { name, parts }: SegmentInput,
  at: string,
  id = newId('sg'),
): Promise<string> {
  const values = { name, parts: JSON.stringify(parts) };
  await inTransaction(db, async (tx) => {
    await tx
      .insertInto('segment')
      .values({ id, client_id: clientId, ...values })
      .onConflict((c) => c.column('id').doUpdateSet(values))
      .execute();
    await markStale(tx, madeBy(clientId), at);
  });
  return id;
}

export async function removeSegment(db: Store, { id, clientId }: StoredSegment, at: string): Promise<void> {
  await inTransaction(db, async (tx) => {
    await tx.deleteFrom('segment').where('id', '=', id).execute();
    await markStale(tx, madeBy(clientId), at);
  });
}
