import type { Selectable } from 'kysely';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';

/** A member's word that an edition may go (VOCABULARY): who, when, and which pages and mails they saw. */
export type ApprovalRow = Selectable<Tables['approval']>;

/**
 * Keeps an approval. It counts once the edition points to it (`approval_id`): in the same transaction.
 * @param hashes of what the member saw (`approvedHashes`)
 * @returns its id
 */
export async function keepApproval(
  tx: Store,
  { editionId, memberId, hashes, at }: { editionId: string; memberId: string; hashes: string; at: string },
): Promise<string> {
  const id = newId('ap');
  await tx
    .insertInto('approval')
    .values({ id, edition_id: editionId, member_id: memberId, at, hashes, taken_back_at: null })
    .execute();
  return id;
}

/** The approval that an edition points to. */
export const approvalById = (db: Store, id: string): Promise<ApprovalRow> =>
  db.selectFrom('approval').selectAll().where('id', '=', id).executeTakeFirstOrThrow();

/** Writes down that somebody took it back; it stays as it was given. */
export async function takeBackApproval(tx: Store, id: string, at: string): Promise<void> {
  await tx.updateTable('approval').set({ taken_back_at: at }).where('id', '=', id).execute();
}
