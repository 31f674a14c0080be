import { randomBytes } from 'node:crypto';
import { hasEnded, makeToken, type Purpose, readToken } from '../platform/tokens.ts';
import type { Secrets } from './secrets.ts';
import { readSetting } from './settings.ts';
import { inTransaction, type Store } from './store.ts';

const SEALED = 'mail.tokens.sealed';
/** Where versions before kept the key as it is. */
const PLAIN = 'mail.tokens';

/**
 * What tokens of mails are made with: one key for each agency, sealed, made when it is first asked for.
 * @throws KeyError while what seals it is missing
 */
export async function tokenKey(db: Store, secrets: Secrets): Promise<string> {
  const known = await readSetting(db, SEALED);
  if (known !== null) return secrets.open(known);
  return inTransaction(db, async (tx) => {
    const key = (await readSetting(tx, PLAIN)) ?? randomBytes(32).toString('base64url');
    await tx
      .insertInto('setting')
      .values({ key: SEALED, value: secrets.seal(key) })
      .onConflict((c) => c.column('key').doNothing())
      .execute();
    await tx.deleteFrom('setting').where('key', '=', PLAIN).execute();
    return secrets.open((await readSetting(tx, SEALED))!);
  });
}

/** Bounces come within days (RFC 5321 §4.5.4.1 gives up after five); late ones are told of by machines that were away. */
const BOUNCE: Purpose = { name: 'bounce', prefix: 'de_', days: 60 };
/** A reader may keep a mail for years before they have had enough of them. */
const LEAVE: Purpose = { name: 'leave', prefix: 'de_', days: 3 * 366 };
const LEAVE_ALL: Purpose = { name: 'leave-all', prefix: 'ms_', days: 3 * 366 };

/** What versions before signed: one token for all that a delivery is come back to by. */
const deliveryBefore = (id: string): string => `delivery ${id}`;
const messageBefore = (id: string): string => `message ${id}`;

const madeAt = async (db: Store, delivery: string): Promise<string | null> =>
  (
    await db
      .selectFrom('delivery')
      .innerJoin('message', 'message.id', 'delivery.message_id')
      .select('message.created_at')
      .where('delivery.id', '=', delivery)
      .executeTakeFirst()
  )?.created_at ?? null;

/** In the address to which a mail comes back. */
export const bounceToken = (key: string, delivery: string): string => makeToken(key, BOUNCE, delivery);

/** In the link by which the reader of one mail wants no more. */
export const leaveToken = (key: string, delivery: string): string => makeToken(key, LEAVE, delivery);

/** In the link by which any reader of a mail to many wants no more: the same for all of them. */
export const leaveAllToken = (key: string, message: string): string => makeToken(key, LEAVE_ALL, message);

async function deliveryOf(db: Store, key: string, purpose: Purpose, token: string, now: string) {
  const id = readToken(key, purpose, token, 0, deliveryBefore);
  const made = id === null ? null : await madeAt(db, id);
  return id !== null && made !== null && !hasEnded(purpose, made, now) ? id : null;
}

/** The delivery that comes back by a token; null where it is none, is of none, or its time is over. */
export const bouncedDelivery = (db: Store, key: string, token: string, now: string): Promise<string | null> =>
  deliveryOf(db, key, BOUNCE, token, now);

/** The delivery whose reader holds a link; null where it is none, is of none, or its time is over. */
export const leftDelivery = (db: Store, key: string, token: string, now: string): Promise<string | null> =>
  deliveryOf(db, key, LEAVE, token, now);

/** The mail to many whose link somebody holds; null where it is none, is of none, or its time is over. */
export async function leftMessage(db: Store, key: string, token: string, now: string): Promise<string | null> {
  const id = readToken(key, LEAVE_ALL, token, 0, messageBefore);
  if (id === null) return null;
  const row = await db.selectFrom('message').select('created_at').where('id', '=', id).executeTakeFirst();
  return row && !hasEnded(LEAVE_ALL, row.created_at, now) ? id : null;
}
