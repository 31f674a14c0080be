import { createHash, randomBytes } from 'node:crypto';
import { addMinutes } from '@chronicon/core/calendar';
import type { Store } from '../store/store.ts';

/** Minutes after which a browser that was not seen again is forgotten. */
const FORGET = 400 * 24 * 60;

const hashOf = (token: string): string => createHash('sha256').update(token).digest('base64url');

/** What a browser's cookie says of it from now on. */
export const newBrowser = (): string => randomBytes(16).toString('base64url');

/**
 * Remembers that a member signed in from a browser.
 * @returns whether that is news: they have signed in before, and never from this one
 */
export async function meetBrowser(tx: Store, memberId: string, token: string, now: string): Promise<boolean> {
  const known = await tx.selectFrom('known_browser').select('hash').where('member_id', '=', memberId).execute();
  const hash = hashOf(token);
  await tx
    .insertInto('known_browser')
    .values({ member_id: memberId, hash, seen_at: now })
    .onConflict((c) => c.columns(['member_id', 'hash']).doUpdateSet({ seen_at: now }))
    .execute();
  await tx.deleteFrom('known_browser').where('seen_at', '<', addMinutes(now, -FORGET)).execute();
  return known.length > 0 && !known.some((k) => k.hash === hash);
}
