import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { FULL_COST, type PasswordCost } from '../platform/passwordCost.ts';

const LENGTH = 32;
const SALT = 16;
const MOST_MEMORY = 2 ** 28;

const derive = (password: string, salt: Buffer, cost: PasswordCost) =>
  new Promise<Buffer>((resolve, reject) => {
    const options = { ...cost, maxmem: MOST_MEMORY };
    scrypt(password.normalize('NFC'), salt, LENGTH, options, (error, key) => (error ? reject(error) : resolve(key)));
  });

const written = ({ N, r, p }: PasswordCost, salt: Buffer, key: Buffer): string =>
  ['scrypt', N, r, p, salt.toString('base64'), key.toString('base64')].join('$');

/** `scrypt$N$r$p$salt$hash`, with a salt of its own. The cost is kept with it, so that it can be raised later. */
export async function hashPassword(password: string, cost = FULL_COST): Promise<string> {
  const salt = randomBytes(SALT);
  return written(cost, salt, await derive(password, salt, cost));
}

/** A hash that no password gives: a check takes as long for an unknown address as for a known one. */
export const hashOfNobody = (cost: PasswordCost): string => written(cost, Buffer.alloc(SALT), Buffer.alloc(LENGTH));

export async function verifyPassword(password: string, stored: string): Promise<boolean> {
  const [, n, r, p, salt, hash] = stored.split('$');
  const key = await derive(password, Buffer.from(salt!, 'base64'), { N: Number(n), r: Number(r), p: Number(p) });
  return timingSafeEqual(key, Buffer.from(hash!, 'base64'));
}
