import { Secret, TOTP } from 'otpauth';
import { describe, expect, it } from 'vitest';
import { newCodes, newFactor, stepOf } from './secondFactor.ts';

/** RFC 6238, appendix B: the secret of SHA-1 and its codes, of which apps show the last six digits. */
const RFC_SECRET = new Secret({ buffer: new TextEncoder().encode('12345678901234567890').buffer as ArrayBuffer })
  .base32;
const RFC_CODES: [number, string][] = [
  [59, '94287082'],
  [1_111_111_109, '07081804'],
  [1_111_111_111, '14050471'],
  [1_234_567_890, '89005924'],
  [2_000_000_000, '69279037'],
  [20_000_000_000, '65353130'],
];

describe('codes of a second factor', () => {
  it.each(RFC_CODES)('at %d seconds are those of RFC 6238', (seconds, code) => {
    expect(stepOf(RFC_SECRET, code.slice(2), 0, seconds * 1000)).toBe(Math.floor(seconds / 30));
  });

  it('are taken a step early or late, never twice, and never from further away', () => {
    const now = 1_800_000_000_000;
    const at = (steps: number) =>
      new TOTP({ secret: Secret.fromBase32(RFC_SECRET) }).generate({ timestamp: now + steps * 30_000 });
    const step = Math.floor(now / 30_000);
    for (const off of [-1, 0, 1]) expect(stepOf(RFC_SECRET, at(off), 0, now), String(off)).toBe(step + off);
    for (const off of [-3, -2, 2, 3]) expect(stepOf(RFC_SECRET, at(off), 0, now), String(off)).toBeNull();
    expect(stepOf(RFC_SECRET, at(0), step, now)).toBeNull();
    expect(stepOf(RFC_SECRET, ` ${at(0).slice(0, 3)} ${at(0).slice(3)} `, 0, now)).toBe(step);
    for (const wrong of ['', '12345', '1234567', 'abcdef', '１２３４５６']) {
      expect(stepOf(RFC_SECRET, wrong, 0, now), wrong).toBeNull();
    }
  });

  it('come from a secret of 160 bits that apps can read, under the agency’s name', () => {
    const { secret, uri } = newFactor('Fernglass & Daughters', 'ines@fernglass.example');
    expect(Secret.fromBase32(secret).bytes).toHaveLength(20);
    const read = new URL(uri);
    expect([read.protocol, read.host, read.searchParams.get('secret')]).toEqual(['otpauth:', 'totp', secret]);
    expect(read.searchParams.get('issuer')).toBe('Fernglass & Daughters reports');
  });

  it('have ten recovery codes beside them, no two alike, kept as hashes', () => {
    const { codes, hashes } = newCodes();
    expect(new Set(codes).size).toBe(10);
    for (const code of codes) {
      expect(code).toMatch(/^[a-z2-9]{5}-[a-z2-9]{5}$/);
      expect(hashes.join()).not.toContain(code);
    }
  });
});
