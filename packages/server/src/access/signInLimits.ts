import { createHash } from 'node:crypto';
import { addMinutes } from '@chronicon/core/calendar';
import type { Store } from '../store/store.ts';

/**
 * Slows down guessing without shutting anybody out: failures count for an account from one address, for that address
 * whatever the account, and for an account from everywhere. The right password from another address always enters.
 */
interface Limit {
  key: string;
  /** Failures that are free. */
  free: number;
}

/** Minutes after the first failure beyond the free ones; doubled by each further one. */
const FIRST_PAUSE = 0.5;
const LONGEST_PAUSE = 60;
/** Failures are forgotten when so long nothing came, in minutes. */
const FORGET = 24 * 60;
/** An account that is guessed at from everywhere leaves each address fewer tries. */
const MANY = 50;

const hashed = (text: string): string => createHash('sha256').update(text).digest('base64url');

/** The part of an address that one party has: of IPv6 the first 64 bits (RFC 6177 §2). */
export function partyOf(address: string): string {
  if (!address.includes(':') || address.startsWith('::ffff:')) return address.replace('::ffff:', '');
  const [head = ''] = address.split('%');
  const groups = head.split('::')[0]!.split(':');
  return groups.slice(0, 4).join(':');
}

async function failures(db: Store, key: string, now: string) {
  const row = await db.selectFrom('sign_in_failure').selectAll().where('key', '=', key).executeTakeFirst();
  // One that lies ahead was written before the clock was set back: it is old.
  return row && row.last_at > addMinutes(now, -FORGET) && row.last_at <= addMinutes(now, 1) ? row : null;
}

/** What is tried: each is counted by itself, so that asking for links shuts nobody out who knows the password. */
export type Tried = 'sign-in' | 'reset';

async function limitsOf(db: Store, tried: Tried, email: string, address: string, now: string): Promise<Limit[]> {
  const of = tried === 'sign-in' ? '' : `${tried} `;
  const account = hashed(`${of}account ${email.trim().toLowerCase()}`);
  const party = partyOf(address);
  const hunted = ((await failures(db, account, now))?.times ?? 0) > MANY;
  return [
    { key: hashed(`${account} from ${party}`), free: hunted ? 2 : 5 },
    { key: hashed(`${of}address ${party}`), free: 30 },
    // Counted, never a reason to wait by itself.
    { key: account, free: Number.POSITIVE_INFINITY },
  ];
}

/** Seconds that this address has to wait before it may try this account; 0 when it may try now. */
export async function mustWait(
  db: Store,
  email: string,
  address: string,
  now: string,
  tried: Tried = 'sign-in',
): Promise<number> {
  let wait = 0;
  for (const { key } of await limitsOf(db, tried, email, address, now)) {
    const row = await failures(db, key, now);
    if (row && row.free_at > now) wait = Math.max(wait, (Date.parse(row.free_at) - Date.parse(now)) / 1000);
  }
  return Math.ceil(wait);
}

/** Counts a failure; call it in one transaction with its entry in the ledger. */
export async function countFailure(
  tx: Store,
  email: string,
  address: string,
  now: string,
  tried: Tried = 'sign-in',
): Promise<void> {
  for (const { key, free } of await limitsOf(tx, tried, email, address, now)) {
    const times = ((await failures(tx, key, now))?.times ?? 0) + 1;
    const pause = times <= free ? 0 : Math.min(LONGEST_PAUSE, FIRST_PAUSE * 2 ** Math.min(20, times - free - 1));
    const values = { times, last_at: now, free_at: addMinutes(now, pause) };
    await tx
      .insertInto('sign_in_failure')
      .values({ key, ...values })
      .onConflict((c) => c.column('key').doUpdateSet(values))
      .execute();
  }
  await tx.deleteFrom('sign_in_failure').where('last_at', '<', addMinutes(now, -FORGET)).execute();
}

/** Who knows the password starts anew from this address. */
export async function forgetFailures(tx: Store, email: string, address: string, now: string): Promise<void> {
  const [own] = await limitsOf(tx, 'sign-in', email, address, now);
  await tx.deleteFrom('sign_in_failure').where('key', '=', own!.key).execute();
}
