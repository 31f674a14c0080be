import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';

/** Cost as OWASP's password storage advice has it for scrypt: N = 2^17, r = 8, p = 1 (128 MB). */
const COST = { N: 2 ** 17, r: 8, p: 1, maxmem: 2 ** 28 };
const LENGTH = 32;

const derive = (password: string, salt: Buffer, cost: typeof COST) =>
  new Promise<Buffer>((resolve, reject) => {
    scrypt(password.normalize('NFC'), salt, LENGTH, cost, (error, key) => (error ? reject(error) : resolve(key)));
  });

/** `scrypt$N$r$p$salt$hash`, with a salt of its own. The cost is kept with it, so that it can be raised later. */
export async function hashPassword(password: string, cost = COST): Promise<string> {
  const salt = randomBytes(16);
  const key = await derive(password, salt, cost);
  return ['scrypt', cost.N, cost.r, cost.p, salt.toString('base64'), key.toString('base64')].join('$');
}

export async function verifyPassword(password: string, stored: string): Promise<boolean> {
  const [, n, r, p, salt, hash] = stored.split('$');
  const key = await derive(password, Buffer.from(salt!, 'base64'), {
    ...COST,
    N: Number(n),
    r: Number(r),
    p: Number(p),
  });
  return timingSafeEqual(key, Buffer.from(hash!, 'base64'));
}
