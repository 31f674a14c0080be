import { z } from 'zod';
import type { Store } from './store.ts';
import { stored } from './stored.ts';

/** A member's second factor (TOTP, RFC 6238). */
export interface Factor {
  /** Its secret, sealed. */
  secret: string;
  /** Since when it is asked for; null while it is being set up. */
  since: string | null;
  /** The last step whose code was taken: none is taken twice (RFC 6238 §5.2). */
  step: number;
  /** Hashes of the recovery codes that are left. */
  codes: string[];
}

const factorIn = stored<Factor>(
  z.object({ secret: z.string(), since: z.string().nullable(), step: z.number(), codes: z.array(z.string()) }),
  'a second factor',
);
const read = (kept: string | null): Factor | null => (kept === null ? null : factorIn(kept));

/** Whether what is stored is a factor that is asked for. */
export const hasFactor = (kept: string | null): boolean => (read(kept)?.since ?? null) !== null;

/** A member's factor, one that is being set up included. */
export async function factorOf(db: Store, memberId: string): Promise<Factor | null> {
  const row = await db.selectFrom('member').select('factor').where('id', '=', memberId).executeTakeFirst();
  return read(row?.factor ?? null);
}

/** Sets a factor in place of the one that was read. @returns false where that is another one by now */
export async function setFactor(
  db: Store,
  memberId: string,
  factor: Factor | null,
  known: Factor | null,
): Promise<boolean> {
  const text = (f: Factor | null) => f && JSON.stringify(f);
  const { numUpdatedRows } = await db
    .updateTable('member')
    .set({ factor: text(factor) })
    .where('id', '=', memberId)
    .where('factor', 'is', text(known))
    .executeTakeFirst();
  return numUpdatedRows > 0n;
}
