import { z } from 'zod';
import type { Store } from './store.ts';
import { stored } from './stored.ts';

/** What somebody has of a schedule that they have not started yet; one for each member and client. */
export interface ScheduleDraft {
  /** What its form held. */
  input: Record<string, unknown>;
  savedAt: string;
}

const inputIn = stored(z.record(z.string(), z.unknown()), 'a schedule that is not started yet');

export async function scheduleDraft(db: Store, memberId: string, clientId: string): Promise<ScheduleDraft | null> {
  const row = await db
    .selectFrom('schedule_draft')
    .selectAll()
    .where('member_id', '=', memberId)
    .where('client_id', '=', clientId)
    .executeTakeFirst();
  return row ? { input: inputIn(row.input), savedAt: row.saved_at } : null;
}

export async function keepScheduleDraft(
  db: Store,
  memberId: string,
  clientId: string,
  { input, savedAt }: ScheduleDraft,
): Promise<void> {
  const values = { input: JSON.stringify(input), saved_at: savedAt };
  await db
    .insertInto('schedule_draft')
    .values({ member_id: memberId, client_id: clientId, ...values })
    .onConflict((c) => c.columns(['member_id', 'client_id']).doUpdateSet(values))
    .execute();
}

export async function dropScheduleDraft(db: Store, memberId: string, clientId: string): Promise<void> {
  await db.deleteFrom('schedule_draft').where('member_id', '=', memberId).where('client_id', '=', clientId).execute();
}
