import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Secret, TOTP } from 'otpauth';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createMember } from '../store/members.ts';
import {
  MANAGER,
  mailTo,
  OWNER,
  openTestFixture,
  PASSWORD,
  secretIn,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';

const PASSPHRASE = 'walrus umbrella 7 teaspoons';

let fixture: TestFixture;
let guest: Visitor;
beforeEach(async () => {
  fixture = await openTestFixture('2026-11-02T08:42:00Z', {
    CHRONICON_NOTICES: 'on',
    CHRONICON_TRUST_PROXY: 'loopback',
  });
  guest = await visit(fixture.server.url);
});
afterEach(() => fixture.close());

const askReset = (email: string) => guest.ask('POST /api/reset', { body: { email } });
const use = (secret: string, password: string) => guest.ask('POST /api/links/use', { body: { secret, password } });
/** A sign-in over plain HTTP: its status, its words, the cookies. */
async function signIn(email: string, password: string, more: { code?: string; cookie?: string; from?: string } = {}) {
  const response = await fetch(`${fixture.server.url}/api/session`, {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      ...(more.cookie && { cookie: more.cookie }),
      ...(more.from && { 'x-forwarded-for': more.from }),
    },
    body: JSON.stringify({ email, password, code: more.code ?? '' }),
  });
  const body = (await response.json()) as { message?: string; fields?: Record<string, string> };
  const cookies = response.headers.getSetCookie().map((c) => c.split(';')[0]!);
  return { status: response.status, message: body.message, fields: body.fields ?? {}, cookies };
}

describe('a link for a new password', () => {
  it('sets it once within half an hour; sessions end, and the old password opens nothing', async () => {
    const open = await visit(fixture.server.url, MANAGER);
    expect((await askReset(MANAGER)).body).toEqual({ done: true });
    const secret = secretIn(await mailTo(fixture, MANAGER, /^Set a new password$/));
    expect((await use(secret, PASSPHRASE)).body).toEqual({ email: MANAGER });
    expect((await open.ask('GET /api/session')).status).toBe(401);
    expect((await signIn(MANAGER, PASSWORD)).status).toBe(401);
    expect((await signIn(MANAGER, PASSPHRASE)).status).toBe(200);
    expect((await use(secret, PASSPHRASE)).status).toBe(410);
    await mailTo(fixture, MANAGER, /^Your password was changed$/);
  });

  it('is over after its time, after a change of the password, and after another one was asked for', async () => {
    await askReset(MANAGER);
    const first = secretIn(await mailTo(fixture, MANAGER, /^Set a new password$/));
    fixture.simulators.mails.clear();
    await askReset(MANAGER);
    const second = secretIn(await mailTo(fixture, MANAGER, /^Set a new password$/));
    expect((await use(first, PASSPHRASE)).status).toBe(410);
    const joren = await visit(fixture.server.url, MANAGER);
    await joren.ask('PUT /api/session/password', { body: { current: PASSWORD, next: PASSPHRASE } });
    expect((await use(second, 'another 9 walrus teaspoons')).status).toBe(410);
    fixture.simulators.mails.clear();
    await askReset(MANAGER);
    const third = secretIn(await mailTo(fixture, MANAGER, /^Set a new password$/));
    await fixture.moveTo('2026-11-02T09:12:30Z');
    expect((await use(third, 'another 9 walrus teaspoons')).status).toBe(410);
    expect((await use('no-such-secret', PASSPHRASE)).status).toBe(410);
  });

  it('is used by one of two hands', async () => {
    await askReset(MANAGER);
    const secret = secretIn(await mailTo(fixture, MANAGER, /^Set a new password$/));
    const both = await Promise.all([use(secret, 'walrus umbrella one'), use(secret, 'walrus umbrella two')]);
    expect(both.map((b) => b.status).sort()).toEqual([200, 410]);
  });

  it('leads to this server’s own address, whatever the request says its host is', async () => {
    await fetch(`${fixture.server.url}/api/reset`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-forwarded-host': 'elsewhere.example' },
      body: JSON.stringify({ email: MANAGER }),
    });
    const mail = await mailTo(fixture, MANAGER, /^Set a new password$/);
    expect(mail.text).not.toContain('elsewhere.example');
    expect(mail.text).toMatch(/http:\/\/localhost:\d+\/link#/);
  });

  it('is never in a file, a log line or an answer', async () => {
    await askReset(MANAGER);
    const secret = secretIn(await mailTo(fixture, MANAGER, /^Set a new password$/));
    const told = [
      await askReset(MANAGER),
      await fixture.owner.ask('GET /api/members'),
      await fixture.owner.ask('GET /api/agency'),
    ];
    expect(JSON.stringify(told)).not.toContain(secret);
    for (const file of readdirSync(fixture.config.data).filter((n) => n.includes('.db'))) {
      expect(readFileSync(join(fixture.config.data, file)).includes(secret), file).toBe(false);
    }
  });
});

describe('a second factor', () => {
  let joren: Visitor;
  let totp: TOTP;
  let codes: string[];
  /** When the factor was set up: the code of that step is used up, whatever the time is by now. */
  let at: number;
  beforeEach(async () => {
    at = Date.now();
    joren = await visit(fixture.server.url, MANAGER);
    const begun = await joren.ask('POST /api/session/factor/begin', { body: { password: PASSWORD } });
    totp = new TOTP({ secret: Secret.fromBase32(begun.body.secret) });
    // Nothing is asked for before a code has shown that the app knows it.
    expect((await signIn(MANAGER, PASSWORD)).status).toBe(200);
    expect((await joren.ask('POST /api/session/factor', { body: { code: '000000' } })).fields.code).toContain(
      'Wrong code. Check the time on your phone.',
    );
    const done = await joren.ask('POST /api/session/factor', { body: { code: totp.generate({ timestamp: at }) } });
    codes = done.body.codes;
  });

  it('is asked for after the right password alone; a code is good once', async () => {
    expect(await signIn(MANAGER, 'wrong')).toMatchObject({ status: 401, fields: {} });
    expect(await signIn(MANAGER, PASSWORD)).toMatchObject({
      status: 401,
      fields: { code: expect.stringContaining('authenticator') },
    });
    // The code that set it up was taken already; the next one is good.
    expect((await signIn(MANAGER, PASSWORD, { code: totp.generate({ timestamp: at }) })).status).toBe(401);
    const next = totp.generate({ timestamp: at + 30_000 });
    expect((await signIn(MANAGER, PASSWORD, { code: next })).status).toBe(200);
    expect((await signIn(MANAGER, PASSWORD, { code: next })).status).toBe(401);
    await mailTo(fixture, MANAGER, /^Two-factor authentication is on$/);
  });

  it('that was lost is replaced by a recovery code, each good once, or by an owner', async () => {
    expect((await signIn(MANAGER, PASSWORD, { code: codes[0]!.toUpperCase().replace('-', ' ') })).status).toBe(200);
    expect((await signIn(MANAGER, PASSWORD, { code: codes[0]! })).status).toBe(401);
    expect((await joren.ask('GET /api/me')).body.factor).toMatchObject({ codesLeft: 9 });
    const fresh = await joren.ask('POST /api/session/factor/codes', { body: { password: PASSWORD } });
    expect((await signIn(MANAGER, PASSWORD, { code: codes[1]! })).status).toBe(401);
    expect((await signIn(MANAGER, PASSWORD, { code: fresh.body.codes[0]! })).status).toBe(200);
    const member = (await fixture.owner.ask('GET /api/members')).body.find((m) => m.email === MANAGER)!;
    expect(member.factor).toBe(true);
    await fixture.owner.ask('DELETE /api/members/:member/factor', { params: { member: member.id } });
    expect((await joren.ask('GET /api/session')).status).toBe(401);
    expect((await signIn(MANAGER, PASSWORD)).status).toBe(200);
    await mailTo(fixture, MANAGER, /^Two-factor authentication is off$/);
  });

  it('lets a password be shorter, which it has to be no more before the factor goes', async () => {
    const change = (current: string, next: string) =>
      joren.ask('PUT /api/session/password', { body: { current, next } });
    expect((await change(PASSWORD, 'kelp7 wharf')).status).toBe(200);
    const away = () => joren.ask('DELETE /api/session/factor', { body: { password: 'kelp7 wharf' } });
    expect((await away()).fields.password).toContain('Change it first');
    expect((await change('kelp7 wharf', PASSPHRASE)).status).toBe(200);
    expect((await joren.ask('DELETE /api/session/factor', { body: { password: PASSPHRASE } })).status).toBe(200);
    expect((await signIn(MANAGER, PASSPHRASE)).status).toBe(200);
  });

  it('is guessed at no faster than a password', async () => {
    const tries = [];
    for (let i = 0; i < 7; i++) tries.push((await signIn(MANAGER, PASSWORD, { code: `00000${i}` })).status);
    expect(tries).toEqual([401, 401, 401, 401, 401, 401, 429]);
  });

  it('where the agency asks for it, comes before anything else', async () => {
    const rules = { secondFactor: ['owner'], idleHours: 12, longestDays: 7 };
    expect((await fixture.owner.ask('PUT /api/agency/sign-in', { body: rules })).status).toBe(200);
    expect((await fixture.owner.ask('GET /api/session')).body.mustSetUpFactor).toBe(true);
    expect((await fixture.owner.ask('GET /api/clients')).status).toBe(403);
    expect((await joren.ask('GET /api/clients')).status).toBe(200);
    const begun = await fixture.owner.ask('POST /api/session/factor/begin', { body: { password: PASSWORD } });
    const code = new TOTP({ secret: Secret.fromBase32(begun.body.secret) }).generate();
    await fixture.owner.ask('POST /api/session/factor', { body: { code } });
    expect((await fixture.owner.ask('GET /api/clients')).status).toBe(200);
    const away = await fixture.owner.ask('DELETE /api/session/factor', { body: { password: PASSWORD } });
    expect(away.status).toBe(409);
  });

  it('keeps secret and codes from whoever reads the files', async () => {
    for (const file of readdirSync(fixture.config.data).filter((n) => n.includes('.db'))) {
      const bytes = readFileSync(join(fixture.config.data, file));
      for (const secret of [totp.secret.base32, ...codes]) expect(bytes.includes(secret), file).toBe(false);
    }
  });
});

describe('a browser that was not seen before', () => {
  it('is told of by mail, once, and never the first one', async () => {
    const first = await signIn(MANAGER, PASSWORD);
    const browser = first.cookies.find((c) => c.startsWith('chronicon_browser'))!;
    await signIn(MANAGER, PASSWORD, { cookie: browser });
    expect(fixture.simulators.mails.list()).toEqual([]);
    await signIn(MANAGER, PASSWORD);
    const mail = await mailTo(fixture, MANAGER, /^Signed in from a new browser$/);
    expect(mail.text).toContain('127.0.0.1');
  });
});

describe('whether an account exists', () => {
  /** How often the first kind takes longer than the second: a half where they are alike. */
  const longer = (a: number[], b: number[]) =>
    a.flatMap((x) => b.map((y): number => (x > y ? 1 : x === y ? 0.5 : 0))).reduce((s, x) => s + x, 0) /
    (a.length * b.length);

  it('is told neither by words nor by time: signing in', async () => {
    const { store, clock } = fixture.server;
    const invited = {
      name: 'Invited',
      email: 'invited@fernglass.example',
      role: 'manager',
      password: '',
      state: 'invited',
    } as const;
    await createMember(store, { ...invited, at: clock.now() });
    const times = new Map([MANAGER, 'nobody@fernglass.example', invited.email].map((who) => [who, [] as number[]]));
    const words = new Set<string>();
    for (let i = 0; i < 12; i++) {
      for (const [who, taken] of times) {
        const began = performance.now();
        const { status, message } = await signIn(who, `wrong ${i}`, { from: `203.0.113.${i * 3 + 1}` });
        taken.push(performance.now() - began);
        words.add(`${status} ${message}`);
      }
    }
    expect(words.size).toBe(1);
    const [real, ...others] = times.values();
    for (const other of others) {
      const share = longer(real!, other);
      // What returns at once for one of them lies at 0 or 1.
      expect(share).toBeGreaterThan(0.04);
      expect(share).toBeLessThan(0.96);
    }
  });

  it('is told neither by words nor by time: asking for a new password', async () => {
    const times: [number[], number[]] = [[], []];
    const answers = new Set<string>();
    for (let i = 0; i < 25; i++) {
      for (const [k, email] of [MANAGER, 'nobody@fernglass.example'].entries()) {
        const began = performance.now();
        const response = await fetch(`${fixture.server.url}/api/reset`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'x-forwarded-for': `198.51.100.${i + 1}` },
          body: JSON.stringify({ email }),
        });
        answers.add(`${response.status} ${await response.text()}`);
        times[k]!.push(performance.now() - began);
      }
    }
    expect([...answers]).toEqual(['200 {"done":true}']);
    const share = longer(...times);
    expect(share).toBeGreaterThan(0.1);
    expect(share).toBeLessThan(0.9);
  });
});

describe('an owner who is locked out', () => {
  it('is let in by an address that the machine prints, whatever was lost', async () => {
    const begun = await fixture.owner.ask('POST /api/session/factor/begin', { body: { password: PASSWORD } });
    const code = new TOTP({ secret: Secret.fromBase32(begun.body.secret) }).generate();
    await fixture.owner.ask('POST /api/session/factor', { body: { code } });
    const run = (...args: string[]) =>
      spawnSync(process.execPath, [join(import.meta.dirname, '../../../../build/letOwnerIn.mjs'), ...args], {
        encoding: 'utf8',
        env: { ...process.env, CHRONICON_DATA: fixture.config.data },
      });
    const other = run(MANAGER);
    expect([other.status, other.stderr]).toEqual([1, expect.stringContaining('Ines Tallow, ines@fernglass.example')]);
    const printed = run(OWNER);
    const secret = /\/link#([\w-]+)/.exec(printed.stdout)![1]!;
    // The machine's own clock is ahead of the one of this test: the link is good for its hour there.
    expect((await use(secret, PASSPHRASE)).body).toEqual({ email: OWNER });
    expect((await fixture.owner.ask('GET /api/session')).status).toBe(401);
    expect((await signIn(OWNER, PASSPHRASE)).status).toBe(200);
    expect((await use(secret, PASSPHRASE)).status).toBe(410);
  });
});
