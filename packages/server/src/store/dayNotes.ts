import { clampRange } from '@chronicon/core/calendar';
import type { DayNote } from '@chronicon/core/report';
import type { Selectable } from 'kysely';
import { cached } from './cache.ts';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';

export interface StoredNote extends DayNote {
  id: string;
  /** Shown to readers, not to the agency alone. */
  inReports: boolean;
  madeBy: string;
}

const fromRow = (r: Selectable<Tables['day_note']>): StoredNote => ({
  id: r.id,
  ...clampRange({ from: r.first, to: r.last }),
  text: r.text,
  inReports: r.in_reports === 1,
  madeBy: r.made_by,
});

/** A client's notes on days, newest days first. */
export const notesOf = (db: Store, clientId: string): Promise<StoredNote[]> =>
  cached(db, ['day_note'], `notes ${clientId}`, async () => {
    const rows = await db
      .selectFrom('day_note')
      .selectAll()
      .where('client_id', '=', clientId)
      .orderBy('first', 'desc')
      .orderBy('id')
      .execute();
    return rows.map(fromRow);
  });

/** Adds a note, or changes the one of that id. */
export async function saveNote(
  db: Store,
  clientId: string,
  note: DayNote & { id?: string; inReports: boolean },
  by: { memberId: string; at: string },
): Promise<StoredNote> {
  const values = { first: note.from, last: note.to, text: note.text, in_reports: note.inReports ? 1 : 0 } as const;
  const id = note.id ?? newId('no');
  await inTransaction(db, async (tx) => {
    if (note.id) {
      await tx.updateTable('day_note').set(values).where('id', '=', id).where('client_id', '=', clientId).execute();
    } else {
      await tx
        .insertInto('day_note')
        .values({ id, client_id: clientId, ...values, made_by: by.memberId, created_at: by.at })
        .execute();
    }
    await markStale(tx, { clientId }, by.at);
  });
  return { ...note, id, madeBy: by.memberId };
}

export async function removeNote(db: Store, clientId: string, id: string, at: string): Promise<void> {
  await inTransaction(db, async (tx) => {
    await tx.deleteFrom('day_note').where('id', '=', id).where('client_id', '=', clientId).execute();
    await markStale(tx, { clientId }, at);
  });
}
