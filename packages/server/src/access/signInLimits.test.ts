import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { OWNER, openTestFixture, PASSWORD, type TestFixture } from '../test/harness.ts';
import { countFailure, partyOf } from './signInLimits.ts';

let fixture: TestFixture;

beforeEach(async () => {
  fixture = await openTestFixture('2026-11-02T08:42:00Z', { CHRONICON_TRUST_PROXY: 'loopback' });
});
afterEach(() => fixture.close());

/** A try to sign in, as a trusted proxy passes it on. */
const attempt = async (from: string, password: string, email = OWNER) =>
  (
    await fetch(`${fixture.server.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-forwarded-for': from },
      body: JSON.stringify({ email, password }),
    })
  ).status;

describe('guessing', () => {
  it('is slowed down from one address, growing, and never locks out the right password from another', async () => {
    const statuses = [];
    for (let i = 0; i < 8; i++) statuses.push(await attempt('203.0.113.9', 'wrong'));
    expect(statuses).toEqual([401, 401, 401, 401, 401, 401, 429, 429]);
    expect(await attempt('203.0.113.9', PASSWORD)).toBe(429);
    expect(await attempt('198.51.100.7', PASSWORD)).toBe(200);
    await fixture.moveTo('2026-11-02T08:43:00Z');
    expect(await attempt('203.0.113.9', 'wrong')).toBe(401);
    // Twice as long now.
    await fixture.moveTo('2026-11-02T08:43:40Z');
    expect(await attempt('203.0.113.9', PASSWORD)).toBe(429);
    await fixture.moveTo('2026-11-02T08:44:30Z');
    expect(await attempt('203.0.113.9', PASSWORD)).toBe(200);
  });

  it('from everywhere at once leaves each address fewer tries, and the owner in', async () => {
    for (let i = 0; i < 60; i++) expect(await attempt(`203.0.113.${i}`, 'wrong')).toBe(401);
    const statuses = [];
    for (let i = 0; i < 4; i++) statuses.push(await attempt('192.0.2.200', 'wrong'));
    expect(statuses).toEqual([401, 401, 401, 429]);
    expect(await attempt('198.51.100.7', PASSWORD)).toBe(200);
  });

  it('at many accounts from one address is slowed down too, and written in the ledger', async () => {
    const { store, clock } = fixture.server;
    // The first of them are counted as they would be: each costs a hash at full price over HTTP.
    for (let i = 0; i < 28; i++) await countFailure(store, `nobody${i}@x.example`, '203.0.113.9', clock.now());
    const statuses: number[] = [];
    for (let i = 28; i < 34; i++) statuses.push(await attempt('203.0.113.9', 'wrong', `nobody${i}@x.example`));
    expect(statuses).toEqual([401, 401, 401, 429, 429, 429]);
    const entries = await store.selectFrom('ledger').select('detail').where('action', '=', 'sign-in.refused').execute();
    expect(entries.length).toBeGreaterThanOrEqual(3);
    expect(JSON.stringify(entries)).toContain('203.0.113.9');
    expect(JSON.stringify(entries)).not.toContain('wrong');
  });

  it('is counted by the part of an address that one party has', () => {
    expect(partyOf('::ffff:203.0.113.9')).toBe('203.0.113.9');
    expect(partyOf('2001:db8:1:2:3:4:5:6')).toBe(partyOf('2001:db8:1:2:ffff::1'));
    expect(partyOf('2001:db8:1:3::1')).not.toBe(partyOf('2001:db8:1:2::1'));
  });
});

describe('a session', () => {
  it('ends a week after it began, however often it is used', async () => {
    const signedIn = await fetch(`${fixture.server.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: OWNER, password: PASSWORD }),
    });
    const cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
    const ask = async () => (await fetch(`${fixture.server.url}/api/session`, { headers: { cookie } })).status;
    for (let hours = 8; hours < 7 * 24; hours += 8) {
      fixture.server.clock.moveTo(new Date(Date.parse('2026-11-02T08:42:00Z') + hours * 3_600_000).toISOString());
      expect(await ask()).toBe(200);
    }
    fixture.server.clock.moveTo('2026-11-09T08:45:00Z');
    expect(await ask()).toBe(401);
  });
});
