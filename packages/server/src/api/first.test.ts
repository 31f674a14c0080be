import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openFirstStart, opensFirstStart } from '../access/firstStart.ts';
import { readConfig } from '../platform/config.ts';
import { type RunningServer, startServer } from '../server.ts';

let data: string;
let server: RunningServer;

/** Threads are started on demand in a test's own mode; the routes are those of production in either. */
const start = (mode = 'test') =>
  startServer(
    readConfig({
      CHRONICON_DATA: data,
      CHRONICON_MODE: mode,
      CHRONICON_PORT: '0',
      CHRONICON_LOG: 'silent',
      CHRONICON_NOTICES: 'off',
    }),
  );

beforeEach(async () => {
  data = mkdtempSync(join(tmpdir(), 'chronicon-first-'));
  server = await start();
});
afterEach(async () => {
  await server.close();
  rmSync(data, { recursive: true, force: true });
});

const secretOf = (s: RunningServer) => new URL(s.first!).hash.slice(1);
const AGENCY = {
  name: 'Fernglass Media',
  zone: 'Europe/Berlin',
  language: 'de-DE',
  weekStart: 7,
  workingDays: [1, 2, 3, 4],
  mailFrom: 'reports@fernglass.example',
  owner: { name: 'Ines Tallow', email: 'Ines@fernglass.example', password: 'walrus umbrella 7 teaspoons' },
};
const make = (secret: string, changes: object = {}) =>
  fetch(`${server.url}/api/first`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ secret, ...AGENCY, ...changes }),
  });
const offered = async () =>
  (await (await fetch(`${server.url}/api/sign-in`)).json()) as { agency: string; first: unknown };

describe('an empty data folder', () => {
  it('becomes an agency with its owner by the address that the start printed, once', async () => {
    await server.close();
    server = await start('production');
    expect((await offered()).first).not.toBeNull();
    const secret = secretOf(server);
    expect(Buffer.from(secret, 'base64url')).toHaveLength(16);
    const made = await make(secret);
    expect(made.status).toBe(200);
    const [set] = made.headers.getSetCookie();
    expect(set).toMatch(/^__Host-chronicon_session=.*HttpOnly; Secure; SameSite=Strict/);
    const cookie = set!.split(';')[0]!;
    const session = await (await fetch(`${server.url}/api/session`, { headers: { cookie } })).json();
    expect(session).toMatchObject({
      member: { email: 'ines@fernglass.example', role: 'owner' },
      zone: 'Europe/Berlin',
      demo: null,
    });
    const { fresh } = (await (await fetch(`${server.url}/api/clients/settings`, { headers: { cookie } })).json()) as {
      fresh: object;
    };
    expect(fresh).toMatchObject({ zone: 'Europe/Berlin', language: 'de-DE', weekStart: 7 });
    expect(await offered()).toMatchObject({ agency: 'Fernglass Media', first: null });
    const again = await make(secret);
    expect([again.status, ((await again.json()) as { message: string }).message]).toEqual([
      403,
      expect.stringContaining('Link used or expired. Restart the server for a new one.'),
    ]);
    await server.close();
    // At rest there is neither the secret nor the password.
    for (const name of readdirSync(data).filter((f) => f.startsWith('chronicon.db'))) {
      const bytes = readFileSync(join(data, name));
      for (const text of [secret, AGENCY.owner.password]) expect(bytes.includes(text)).toBe(false);
    }
    server = await start();
    expect(server.first).toBeNull();
  });

  it('stays empty for who does not know the secret, and says at the field what is wrong', async () => {
    expect((await make('AAAAAAAAAAAAAAAAAAAAAA')).status).toBe(403);
    const weak = await make(secretOf(server), { owner: { ...AGENCY.owner, password: 'passwordpassword' } });
    expect(await weak.json()).toMatchObject({
      fields: {
        'owner.password': expect.stringContaining('Too easy to guess'),
      },
    });
    const empty = await make(secretOf(server), { name: ' ', mailFrom: 'nowhere', workingDays: [] });
    expect(Object.keys(((await empty.json()) as { fields: object }).fields).sort()).toEqual([
      'mailFrom',
      'name',
      'workingDays',
    ]);
    expect((await offered()).first).not.toBeNull();
    expect((await make(secretOf(server))).status).toBe(200);
  });

  it('becomes one agency where two hands press at once', async () => {
    const both = await Promise.all([make(secretOf(server)), make(secretOf(server), { name: 'Another' })]);
    expect(both.map((r) => r.status).sort()).toEqual([200, 403]);
    expect(await server.store.selectFrom('member').select('id').execute()).toHaveLength(1);
  });

  it('is opened by the last printed address alone, for an hour', async () => {
    const old = secretOf(server);
    await server.close();
    server = await start();
    expect((await make(old)).status).toBe(403);
    const secret = (await openFirstStart(server.store, 1_000_000))!;
    expect(await opensFirstStart(server.store, secret, 1_000_000 + 59 * 60_000)).toBe(true);
    expect(await opensFirstStart(server.store, secret, 1_000_000 + 60 * 60_000)).toBe(false);
    expect(await opensFirstStart(server.store, 'x', 1_000_001)).toBe(false);
  });

  it('has no sign-ins of a demo in production', async () => {
    await server.close();
    server = await start('production');
    await make(secretOf(server));
    const to = { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' };
    expect(await offered()).toMatchObject({ demo: null });
    expect((await fetch(`${server.url}/api/demo/clock`, to)).status).toBe(401);
  });
});

describe('a data folder', () => {
  const config = (more: Record<string, string> = {}) =>
    readConfig({
      CHRONICON_DATA: data,
      CHRONICON_PORT: '0',
      CHRONICON_LOG: 'silent',
      CHRONICON_PATIENCE: '1',
      ...more,
    });

  it('has one server in production, unless several are asked for', async () => {
    await server.close();
    server = await startServer(config());
    await expect(startServer(config())).rejects.toThrow(`A server already runs on ${data}`);
    // A variable's former name goes on working.
    const address = 'http://127.0.0.1:4310';
    expect(config({ CHRONICON_STANDINS: address }).simulators).toBe(address);
    const second = await startServer(config({ CHRONICON_MANY: 'yes' }));
    await second.close();
  });

  it('is taken up again after a server that was killed', async () => {
    const beat = new Date(Date.now() + 300).toISOString();
    const killed = { id: 'in_killed', started_at: beat, beat_at: beat, beat_now: beat };
    await server.store.insertInto('instance').values(killed).execute();
    await server.close();
    server = await startServer(config());
    expect((await fetch(`${server.url}/api/sign-in`)).status).toBe(200);
  });
});
