import { createHmac, timingSafeEqual } from 'node:crypto';

/** What a token lets its holder do, for which kind of row, and for how many days after that was made. */
export interface Purpose {
  name: string;
  /** Of the ids of its rows. */
  prefix: string;
  days: number;
}

/** Hexadecimal digits of a sign that nobody makes who does not know the key: 64 bits. */
const SIGNED = 16;

const signOf = (key: string, said: string): string =>
  createHmac('sha256', key).update(said).digest('hex').slice(0, SIGNED);

/** What is signed: a token of one purpose is none of another, and one of a generation before is good no more. */
const saidOf = ({ name }: Purpose, id: string, generation: number): string => `${name} ${generation} ${id}`;

/**
 * A token: the id without its prefix, and an HMAC (RFC 2104) of purpose, generation and id. It follows from these alone: what is written
 * again has the same token, and nothing of it is kept. Raise the generation of a row to revoke what was given out for it.
 *
 * @example makeToken(key, { name: 'bounce', prefix: 'de_', days: 60 }, 'de_0123456789abcdefghij') // '0123456789abcdefghij-5f0c…'
 */
export const makeToken = (key: string, purpose: Purpose, id: string, generation = 0): string =>
  `${id.slice(purpose.prefix.length)}-${signOf(key, saidOf(purpose, id, generation))}`;

/**
 * The id that a token of this purpose is about; null for any other text. Whether its time is over is told by {@link hasEnded}.
 * @param before what was signed for this purpose in versions before, by id
 */
export function readToken(
  key: string,
  purpose: Purpose,
  token: string,
  generation = 0,
  before?: (id: string) => string,
): string | null {
  const found = /^([a-z0-9]{20})-([0-9a-f]{16})$/.exec(token.trim().toLowerCase());
  if (!found) return null;
  const id = `${purpose.prefix}${found[1]}`;
  const signed = [saidOf(purpose, id, generation), ...(before ? [before(id)] : [])];
  const sign = Buffer.from(found[2]!);
  return signed.some((said) => timingSafeEqual(sign, Buffer.from(signOf(key, said)))) ? id : null;
}

/** Whether the time of a token is over. @param made when its row was made, and now, UTC ISO text */
export const hasEnded = ({ days }: Purpose, made: string, now: string): boolean =>
  Date.parse(now) - Date.parse(made) > days * 86_400_000;
