import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  MANAGER,
  mailTo,
  OWNER,
  openTestFixture,
  PASSWORD,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';

let fixture: TestFixture;
beforeEach(async () => {
  fixture = await openTestFixture('2026-11-02T08:42:00Z', { CHRONICON_NOTICES: 'on', CHRONICON_LOG: 'silent' });
});
afterEach(() => fixture.close());

const NEXT = 'walrus umbrella 7 teaspoons';
const change = (who: Visitor, current: string, next: string) =>
  who.ask('PUT /api/session/password', { body: { current, next } });
const signIn = async (password: string) =>
  (
    await fetch(`${fixture.server.url}/api/session`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        'user-agent': 'Mozilla/5.0 (Windows NT 10.0) Gecko/20100101 Firefox/140.0',
      },
      body: JSON.stringify({ email: MANAGER, password }),
    })
  ).status;

describe('a password', () => {
  it('is changed by who knows it: the old one opens nothing, other sessions end, and the member is told', async () => {
    const [here, elsewhere] = [await visit(fixture.server.url, MANAGER), await visit(fixture.server.url, MANAGER)];
    expect((await change(here, PASSWORD, NEXT)).status).toBe(200);
    expect((await here.ask('GET /api/session')).status).toBe(200);
    expect((await elsewhere.ask('GET /api/session')).status).toBe(401);
    expect(await signIn(PASSWORD)).toBe(401);
    expect(await signIn(NEXT)).toBe(200);
    expect((await mailTo(fixture, MANAGER, /^Your password was changed$/)).text).toContain(
      '. You’ve been signed out everywhere else.',
    );
    const all = JSON.stringify(await fixture.server.store.selectFrom('ledger').selectAll().execute());
    expect(all).toContain('password.changed');
    for (const secret of [PASSWORD, NEXT]) expect(all).not.toContain(secret);
  });

  it('is not changed by who does not know it, which is counted as guessing', async () => {
    const here = await visit(fixture.server.url, MANAGER);
    const tries = [];
    for (let i = 0; i < 7; i++) tries.push(await change(here, `wrong ${i}`, NEXT));
    expect(tries.map((t) => t.status)).toEqual([422, 422, 422, 422, 422, 422, 429]);
    expect(tries[0]!.fields).toEqual({ current: 'Wrong password.' });
    expect(await signIn(PASSWORD)).toBe(429);
  });

  it.each([
    ['short, Odd!7', 'at least 15 characters'],
    ['passwordpassword', 'Too easy to guess'],
    ['1234567890123456789', 'Too easy to guess'],
    ['aaaaaaaaaaaaaaaaaaaaaaaa', 'Too easy to guess'],
    ['jorenvaskjorenvask', 'Too easy to guess'],
    ['fernglassmedia2026', 'Too easy to guess'],
    ['qwertyuiopasdfghjkl', 'Too easy to guess'],
    [PASSWORD, 'This is already your password.'],
    ['x'.repeat(300), 'Maximum 200'],
  ])('%j is refused in words', async (next, words) => {
    const here = await visit(fixture.server.url, MANAGER);
    const answer = await change(here, PASSWORD, next);
    expect(answer.status).toBe(422);
    expect(answer.fields.next).toContain(words);
  });

  it('is changed once where two windows change it at once', async () => {
    const here = await visit(fixture.server.url, MANAGER);
    const both = await Promise.all(
      ['walrus umbrella one', 'walrus umbrella two'].map((next) => change(here, PASSWORD, next)),
    );
    expect(both.map((b) => b.status).sort()).toEqual([200, 422]);
    const refused = both.find((b) => b.status === 422)!;
    expect(refused.fields.current).toMatch(/in the meantime|Wrong password/);
  });

  it('may be made of any letters', async () => {
    const here = await visit(fixture.server.url, MANAGER);
    expect((await change(here, PASSWORD, 'морж зонтик семь ложек')).status).toBe(200);
    expect(await signIn('морж зонтик семь ложек')).toBe(200);
  });
});

describe('one’s sessions', () => {
  it('are listed with their browsers, and ended one by one or all but this one', async () => {
    const here = await visit(fixture.server.url, MANAGER);
    for (let i = 0; i < 3; i++) expect(await signIn(PASSWORD)).toBe(200);
    const { body: all } = await here.ask('GET /api/sessions');
    expect(all).toHaveLength(4);
    expect(all.filter((s) => s.current)).toHaveLength(1);
    const others = all.filter((s) => !s.current);
    expect(others[0]).toMatchObject({ device: 'Firefox on Windows', address: expect.stringContaining('127.0.0.1') });
    const end = (session: string) => here.ask('DELETE /api/sessions/:session', { params: { session } });
    expect((await end(others[0]!.id)).status).toBe(200);
    expect((await end(others[0]!.id)).status).toBe(404);
    expect((await here.ask('GET /api/sessions')).body).toHaveLength(3);
    expect((await here.ask('DELETE /api/sessions')).status).toBe(200);
    expect((await here.ask('GET /api/sessions')).body).toMatchObject([{ current: true }]);
  });

  it('are nobody else’s to see or end', async () => {
    const [manager, owner] = [await visit(fixture.server.url, MANAGER), await visit(fixture.server.url, OWNER)];
    const [session] = (await manager.ask('GET /api/sessions')).body.map((s) => s.id);
    expect((await owner.ask('GET /api/sessions')).body.map((s) => s.id)).not.toContain(session);
    expect((await owner.ask('DELETE /api/sessions/:session', { params: { session: session! } })).status).toBe(404);
    expect((await owner.ask('DELETE /api/sessions/:session', { params: { session: '________________' } })).status).toBe(
      404,
    );
    expect((await manager.ask('GET /api/session')).status).toBe(200);
  });
});
