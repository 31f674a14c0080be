import type { Range } from '@chronicon/core/calendar';
import { markStale } from './following.ts';
import type { Store } from './store.ts';

export interface StoredCommentary {
  block: string;
  period: Range;
  draft: string;
  released: string;
  updatedAt: string;
}

/** What was written for the periods of a report, newest period first. */
export async function commentariesOf(db: Store, reportId: string): Promise<StoredCommentary[]> {
  const rows = await db
    .selectFrom('commentary')
    .selectAll()
    .where('report_id', '=', reportId)
    .orderBy('last', 'desc')
    .orderBy('first', 'desc')
    .execute();
  return rows.map((r) => ({
    block: r.block_id,
    period: { from: r.first, to: r.last },
    draft: r.draft,
    released: r.released,
    updatedAt: r.updated_at,
  }));
}

/** What was written for one period, by block: as released, or as it is being written. */
export async function commentaryFor(
  db: Store,
  reportId: string,
  period: Range,
  which: 'draft' | 'released',
): Promise<Record<string, string>> {
  const rows = await db
    .selectFrom('commentary')
    .select(['block_id', which])
    .where('report_id', '=', reportId)
    .where('first', '=', period.from)
    .where('last', '=', period.to)
    .execute();
  return Object.fromEntries(rows.map((r) => [r.block_id, (r as Record<'draft' | 'released', string>)[which]]));
}

/** Keeps what is being written for a period; it reaches no edition before it is released. */
export async function writeCommentary(
  db: Store,
  c: { reportId: string; block: string; period: Range; text: string; at: string; by: string | null },
): Promise<void> {
  const values = { draft: c.text, updated_at: c.at, updated_by: c.by };
  await db
    .insertInto('commentary')
    .values({
      report_id: c.reportId,
      block_id: c.block,
      first: c.period.from,
      last: c.period.to,
      released: '',
      ...values,
    })
    .onConflict((x) => x.columns(['report_id', 'block_id', 'first', 'last']).doUpdateSet(values))
    .execute();
}

/** Makes the words of one block and period what goes out, and marks the editions that they reach. */
export async function releaseWords(
  tx: Store,
  { reportId, block, period, at }: { reportId: string; block: string; period: Range; at: string },
): Promise<void> {
  await tx
    .updateTable('commentary')
    .set((q) => ({ released: q.ref('draft') }))
    .where('report_id', '=', reportId)
    .where('block_id', '=', block)
    .where('first', '=', period.from)
    .where('last', '=', period.to)
    .execute();
  await markStale(tx, { reportId }, at);
}

/** Makes every draft of a report's commentary what goes out; inside the transaction that releases the report. */
export async function releaseCommentary(tx: Store, reportId: string): Promise<void> {
  await tx
    .updateTable('commentary')
    .set((q) => ({ released: q.ref('draft') }))
    .where('report_id', '=', reportId)
    .execute();
}
