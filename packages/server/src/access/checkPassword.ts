import pLimit from 'p-limit';
import type { PasswordCost } from '../platform/passwordCost.ts';
import { Refusal } from '../platform/refusal.ts';
import { record } from '../store/ledger.ts';
import { type Member, memberByEmail } from '../store/members.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { hashOfNobody, verifyPassword } from './passwords.ts';
import { countFailure, mustWait, partyOf } from './signInLimits.ts';

/** Each check takes 128 MB and a core for a while: two at a time, and nobody waits behind a crowd. */
const checking = pLimit(2);
const MOST_WAITING = 20;

const inWords = (seconds: number): string =>
  seconds < 60 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`;

/**
 * The member whose password this is; null where it is wrong, which is counted against whoever tries.
 * @param cost of the hashes that are made here: what an unknown address takes, too
 * @throws Refusal 429 or 503 while they have to wait
 */
export async function checkPassword(
  store: Store,
  tried: { email: string; password: string; address: string },
  now: string,
  cost: PasswordCost,
): Promise<Member | null> {
  const { email, address } = tried;
  const wait = await mustWait(store, email, address, now);
  if (wait > 0) throw new Refusal(429, `Too many attempts. Try again in ${inWords(wait)}.`);
  if (checking.pendingCount > MOST_WAITING) throw new Refusal(503, 'Too many sign-ins at once. Try again.');
  const member = await memberByEmail(store, email);
  const may = member?.state === 'active';
  const right = await checking(() => verifyPassword(tried.password, may ? member.password : hashOfNobody(cost)));
  if (may && right) {
    const { password: _, ...known } = member;
    return known;
  }
  await inTransaction(store, async (tx) => {
    await countFailure(tx, email, address, now);
    const detail = { address: partyOf(address) };
    await record(tx, { at: now, actor: 'scheduler', action: 'sign-in.refused', subject: member?.id ?? '', detail });
  });
  return null;
}
