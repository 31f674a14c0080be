import { createHash, randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { type Factor, factorOf, setFactor } from '../store/factors.ts';
import type { Secrets } from '../store/secrets.ts';
import type { Store } from '../store/store.ts';

/** Bytes of the secret (RFC 4226 §4: 160 bits recommended), seconds of a step, and steps that a clock may be off. */
const BYTES = 20;
const PERIOD = 30;
const OFF = 1;
const CODES = 10;

const totpOf = (secret: Secret, issuer = '', label = '') =>
  new TOTP({ issuer, label, algorithm: 'SHA1', digits: 6, period: PERIOD, secret });

/** A new secret: as one types it, and as apps read it from a picture. */
export function newFactor(agency: string, email: string): { secret: string; uri: string } {
  const secret = new Secret({ size: BYTES });
  return { secret: secret.base32, uri: totpOf(secret, `${agency} reports`, email).toString() };
}

/**
 * The step whose code this is, if it is later than the last that was taken; null for a wrong one.
 * @param machine the machine's own time in milliseconds: an authenticator knows no other
 */
export function stepOf(secret: string, code: string, last: number, machine: number): number | null {
  const digits = code.replace(/\s/g, '');
  if (!/^\d{6}$/.test(digits)) return null;
  const delta = totpOf(Secret.fromBase32(secret)).validate({ token: digits, timestamp: machine, window: OFF });
  const step = delta === null ? null : Math.floor(machine / 1000 / PERIOD) + delta;
  return step !== null && step > last ? step : null;
}

const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';
const plain = (code: string): string => code.toLowerCase().replace(/[^a-z0-9]/g, '');
const hashOf = (code: string): string => createHash('sha256').update(plain(code)).digest('base64url');

/** Codes for whoever lost the app: about 49 bits each, good once; their hashes alone are kept. */
export function newCodes(): { codes: string[]; hashes: string[] } {
  const codes = Array.from({ length: CODES }, () => {
    const letters = Array.from(randomBytes(10), (b) => LETTERS[b % LETTERS.length]).join('');
    return `${letters.slice(0, 5)}-${letters.slice(5)}`;
  });
  return { codes, hashes: codes.map(hashOf) };
}

/**
 * Whether a code lets a member in whose password was right: `none` is asked for, none was given (`wanted`), or it was
 * right or wrong. A code that was right is used up.
 */
export async function checkFactor(
  store: Store,
  secrets: Secrets,
  memberId: string,
  code: string,
  machine: number,
): Promise<'none' | 'wanted' | 'right' | 'wrong'> {
  const factor = await factorOf(store, memberId);
  if (!factor || factor.since === null) return 'none';
  if (code.trim() === '') return 'wanted';
  const step = stepOf(secrets.open(factor.secret), code, factor.step, machine);
  const used: Factor | null =
    step !== null
      ? { ...factor, step }
      : factor.codes.includes(hashOf(code))
        ? { ...factor, codes: factor.codes.filter((h) => h !== hashOf(code)) }
        : null;
  // Two hands with one code: one comes in.
  return used && (await setFactor(store, memberId, used, factor)) ? 'right' : 'wrong';
}
