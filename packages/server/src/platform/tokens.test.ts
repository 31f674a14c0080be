import { describe, expect, it } from 'vitest';
import { hasEnded, makeToken, readToken } from './tokens.ts';

const BOUNCE = { name: 'bounce', prefix: 'de_', days: 60 };
const LEAVE = { name: 'leave', prefix: 'de_', days: 1_000 };
const ID = 'de_0123456789abcdefghij';

describe('a token', () => {
  const token = makeToken('key', BOUNCE, ID);

  it('is the same each time, and read whatever case a mail server makes of it', () => {
    expect(makeToken('key', BOUNCE, ID)).toBe(token);
    expect(token).toMatch(/^[a-z0-9]{20}-[0-9a-f]{16}$/);
    expect(readToken('key', BOUNCE, ` ${token.toUpperCase()} `)).toBe(ID);
  });

  it('is none for another purpose, key, row or generation, and none where one sign of it is another', () => {
    expect(readToken('key', LEAVE, token)).toBeNull();
    expect(readToken('other', BOUNCE, token)).toBeNull();
    expect(readToken('key', BOUNCE, token, 1)).toBeNull();
    expect(readToken('key', BOUNCE, makeToken('key', BOUNCE, ID, 1), 1)).toBe(ID);
    expect(readToken('key', BOUNCE, `1${token.slice(1)}`)).toBeNull();
    for (let i = token.indexOf('-') + 1; i < token.length; i++) {
      const other = token[i] === '0' ? '1' : '0';
      expect(readToken('key', BOUNCE, token.slice(0, i) + other + token.slice(i + 1))).toBeNull();
    }
    for (const text of ['', '__proto__', `${token}0`, '0'.repeat(100_000)])
      expect(readToken('key', BOUNCE, text)).toBeNull();
  });

  it('is good for as many days as its purpose says', () => {
    const made = '2026-01-01T00:00:00.000Z';
    expect(hasEnded(BOUNCE, made, '2026-03-02T00:00:00.000Z')).toBe(false);
    expect(hasEnded(BOUNCE, made, '2026-03-02T00:00:00.001Z')).toBe(true);
    // A clock that was set back ends nothing.
    expect(hasEnded(BOUNCE, made, '2025-12-01T00:00:00.000Z')).toBe(false);
  });
});
