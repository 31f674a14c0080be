import { readdirSync, readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { AGENCY_REGISTRATION, SMTP_ACCOUNT } from '@chronicon/simulators';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ENVIRONMENT } from '../platform/environment.ts';
import { stopSending } from '../store/sendingStops.ts';
import { freePort } from '../test/freePort.ts';
import {
  CLIENT,
  furnish,
  MANAGER,
  OWNER,
  openFurnishedFixture,
  openTestFixture,
  scheduleFor,
  type TestFixture,
  visit,
} from '../test/harness.ts';

const AGENCY = {
  name: 'Fernglass Media',
  zone: 'Europe/London',
  language: 'en-GB',
  weekStart: 1,
  workingDays: [1, 2, 3, 4, 5],
  mailFrom: 'reports@fernglass.example',
  postalAddress: 'Quay 7\nHarbour Town',
};
const SECRET = SMTP_ACCOUNT.password;

let fixture: TestFixture;
afterEach(() => fixture.close());

const portOf = () => fixture.simulators.smtp.port;
const serverAt = (port: number, more: object = {}) => ({ host: '127.0.0.1', port, tls: 'never', user: '', ...more });
const setMail = (use: string, body: unknown) =>
  fixture.owner.ask('PUT /api/agency/mail/:use', { params: { use }, body });

describe('an agency without a mail server in the environment', () => {
  beforeEach(async () => {
    fixture = await openTestFixture('2026-11-02T08:42:00Z', { CHRONICON_SMTP: '' });
  });

  it('has none until an owner sets one; what waited for it goes then', async () => {
    await fixture.close();
    const furnished = await openFurnishedFixture('2026-11-02T08:42:00Z', { CHRONICON_SMTP: '' });
    fixture = furnished.fixture;
    const params = { client: furnished.f.client };
    const body = scheduleFor(furnished.f);
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body });
    await fixture.moveTo('2026-11-03T08:01:00Z');
    const stops = async () => (await fixture.owner.ask('GET /api/sending')).body.stops.map((s) => s.reason);
    expect(await stops()).toEqual(['No mail server is set up yet.']);
    const refused = (await setMail('main', serverAt(9))).body as { message?: string };
    expect(refused.message).toContain('No response on the mail server’s port.');
    expect((await fixture.owner.ask('GET /api/agency')).body.mail.main).toBeNull();
    const set = await setMail('main', serverAt(portOf()));
    expect(set).toMatchObject({ status: 200, body: { said: expect.stringMatching(/^250/), to: OWNER } });
    await fixture.server.scheduler.settle();
    expect(await stops()).toEqual([]);
    expect(
      fixture.simulators.mails
        .list()
        .map((m) => m.to)
        .sort(),
    ).toEqual([OWNER, 'petra@tarnbeck.example']);
  });

  it('keeps the password sealed, says it to nobody, and sends it to no other place', async () => {
    const typed = serverAt(portOf(), { user: 'reports', password: SECRET });
    const wrong = await setMail('main', { ...typed, password: 'not this one' });
    expect((wrong.body as { message?: string }).message).toContain('rejected our sign-in: 535');
    expect((await setMail('main', typed)).status).toBe(200);
    const told = (await fixture.owner.ask('GET /api/agency')).body.mail.main;
    expect(told).toEqual({
      host: '127.0.0.1',
      port: portOf(),
      tls: 'never',
      user: 'reports',
      hasPassword: true,
      setBy: null,
    });
    // Left out, it goes on being used for this place alone.
    expect((await setMail('main', serverAt(portOf(), { user: 'reports' }))).status).toBe(200);
    expect((await setMail('main', serverAt(9, { user: 'reports' }))).fields.password).toContain('Enter the password');
    expect((await setMail('main', serverAt(portOf(), { user: 'other' }))).fields.password).toContain(
      'Enter the password for this server and user.',
    );
    const ledger = JSON.stringify(await fixture.server.store.selectFrom('ledger').selectAll().execute());
    expect(ledger).not.toContain(SECRET);
    for (const file of readdirSync(fixture.config.data).filter((n) => n.includes('.db'))) {
      expect(readFileSync(join(fixture.config.data, file)).includes(SECRET), file).toBe(false);
    }
  });

  it('tries a server with a real mail before it is saved, in the server’s own words', async () => {
    fixture.simulators.smtp.refused.add(OWNER);
    const refused = await setMail('main', serverAt(portOf()));
    expect(refused.status).toBe(422);
    expect((refused.body as { message?: string }).message).toMatch(/rejected an email to ines@fernglass.example: 550/);
    await fixture.simulators.smtp.setFault('silent');
    expect(((await setMail('main', serverAt(portOf()))).body as { message?: string }).message).toContain(
      'The mail server isn’t responding.',
    );
    expect((await fixture.owner.ask('GET /api/agency')).body.mail.main).toBeNull();
  });

  it('tells members by the second server when the first is what is wrong', async () => {
    const other = await openTestFixture();
    try {
      await setMail('main', serverAt(portOf()));
      await setMail('notices', serverAt(other.simulators.smtp.port));
      fixture.simulators.mails.clear();
      other.simulators.mails.clear();
      await fixture.simulators.smtp.setFault('down');
      const at = fixture.server.clock.now();
      await stopSending(fixture.server.store, {
        cause: 'mail-server',
        reason: 'Nothing answers.',
        mend: 'Start it.',
        at,
      });
      // It tells when it starts, and then not again for a while: what is to be told has to be there.
      await fixture.restart({ notices: true });
      await fixture.server.scheduler.settle();
      // The sign-in after the restart is told of by itself, before or after this.
      const told = other.simulators.mails.list().filter((m) => !m.subject.startsWith('Signed in'));
      expect(told.map((m) => m.to)).toEqual([OWNER]);
      expect(fixture.simulators.mails.list()).toEqual([]);
    } finally {
      await other.close();
    }
  });
});

describe('an agency', () => {
  beforeEach(async () => {
    fixture = await openTestFixture('2026-11-02T08:42:00Z', { CHRONICON_FEEDS: '' });
  });

  it('is changed by an owner; a manager sees it, and changes nothing', async () => {
    const body = { ...AGENCY, name: 'Fernglass & Daughters', language: 'de-DE' };
    expect((await fixture.owner.ask('PUT /api/agency', { body })).status).toBe(200);
    const manager = await visit(fixture.server.url, MANAGER);
    expect((await manager.ask('GET /api/agency')).body.agency).toEqual(body);
    expect((await manager.ask('PUT /api/agency', { body: AGENCY })).status).toBe(403);
    const wrong = await fixture.owner.ask('PUT /api/agency', {
      body: { ...AGENCY, name: ' ', mailFrom: 'x', workingDays: [] },
    });
    expect(Object.keys(wrong.fields).sort()).toEqual(['mailFrom', 'name', 'workingDays']);
    expect((await fixture.owner.ask('GET /api/clients/settings')).body.fresh.language).toBe('de-DE');
  });

  it('gives new clients its brand, and keeps old ones as they are', async () => {
    const before = (await fixture.owner.ask('POST /api/clients', { body: CLIENT })).body;
    const brand = { main: '#224466', second: '#cc8800', footer: 'Made by Fernglass' };
    await fixture.owner.ask('PUT /api/agency/brand', { body: brand });
    const after = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Skerry Boats' } })).body;
    expect(after.brand).toMatchObject(brand);
    expect(
      (await fixture.owner.ask('GET /api/clients/:client', { params: { client: before.id } })).body.brand.main,
    ).toBe('#0f5e6b');
  });

  it('moves its schedules by its holidays, and those of a client by the client’s', async () => {
    const f = await furnish(fixture, false);
    const plan = { ...scheduleFor(f), rule: { freq: 'monthly', every: 1, on: { workday: 1 } } };
    const runs = async () => {
      const ask = { params: { client: f.client }, body: plan };
      return (await fixture.owner.ask('POST /api/clients/:client/schedules/look-ahead', ask)).body.runs
        .slice(0, 2)
        .map((r) => r.local.date);
    };
    expect(await runs()).toEqual(['2026-12-01', '2027-01-01']);
    const holidays = [
      { date: '2027-01-01', name: 'New year' },
      { date: '2026-12-01', name: 'Founders’ day' },
    ];
    await fixture.owner.ask('PUT /api/agency/holidays', { body: { holidays } });
    expect(await runs()).toEqual(['2026-12-02', '2027-01-04']);
    const days = [{ date: '2026-12-01', name: 'Herring day' }];
    const calendar = (await fixture.owner.ask('POST /api/calendars', { body: { name: 'Skerries', days } })).body;
    const client = { ...CLIENT, calendar: calendar.id };
    const params = { client: f.client };
    expect((await fixture.owner.ask('PUT /api/clients/:client', { params, body: client })).status).toBe(200);
    expect(await runs()).toEqual(['2026-12-02', '2027-01-01']);
    // In use, it stays; and nobody is given one that there is not.
    const id = { calendar: calendar.id };
    expect((await fixture.owner.ask('DELETE /api/calendars/:calendar', { params: id })).status).toBe(409);
    const none = await fixture.owner.ask('PUT /api/clients/:client', {
      params,
      body: { ...CLIENT, calendar: 'ca_none' },
    });
    expect(none.fields.calendar).toBe('Calendar not found.');
    await fixture.owner.ask('PUT /api/calendars/:calendar', { params: id, body: { name: 'Skerries', days: [] } });
    expect(await runs()).toEqual(['2026-12-01', '2027-01-01']);
    await fixture.owner.ask('PUT /api/clients/:client', { params, body: CLIENT });
    expect((await fixture.owner.ask('DELETE /api/calendars/:calendar', { params: id })).status).toBe(200);
  });

  it('is registered at services, once they know it', async () => {
    const address = `${fixture.simulators.url}/services/calls/v1`;
    const set = (body: object) => fixture.owner.ask('PUT /api/services/:kind', { params: { kind: 'calls' }, body });
    const kinds = async () =>
      (await fixture.owner.ask('GET /api/feed-kinds')).body.filter((k) => k.available).map((k) => k.kind);
    expect(await kinds()).toEqual([]);
    const right = { address, ...AGENCY_REGISTRATION };
    expect((await set({ ...right, clientSecret: 'wrong' })).fields.clientId).toContain('rejected this name and secret');
    expect((await set({ ...right, address: `${fixture.simulators.url}/nowhere` })).fields.address).toBeDefined();
    expect((await set({ ...right, address: `http://127.0.0.1:${await freePort()}` })).fields.address).toContain(
      'Can’t reach',
    );
    expect((await set(right)).status).toBe(200);
    expect(await kinds()).toEqual(['calls']);
    const told = JSON.stringify((await fixture.owner.ask('GET /api/services')).body);
    expect(told).not.toContain(AGENCY_REGISTRATION.clientSecret);
    // The secret stays with the place that it was typed in for.
    const elsewhere = { address: `${fixture.simulators.url}/services/social/v1`, clientId: right.clientId };
    expect((await set(elsewhere)).fields.clientSecret).toContain('Enter the secret for this address and name.');
    expect((await set({ address, clientId: right.clientId })).status).toBe(200);
    expect((await fixture.owner.ask('DELETE /api/services/:kind', { params: { kind: 'calls' } })).status).toBe(200);
    expect(await kinds()).toEqual([]);
    expect((await fixture.owner.ask('PUT /api/services/:kind', { params: { kind: 'file' }, body: right })).status).toBe(
      404,
    );
  });
});

describe('a service without authorisation of its own', () => {
  /** Answers what the protocol asks of a token that it never gave, and has no token endpoint. */
  const serve = async (status: number) => {
    const server = createServer((req, res) => {
      res.writeHead(req.url!.endsWith('/oauth/token') ? 404 : status, { 'content-type': 'application/json' });
      res.end('{}');
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    return { server, address: `http://127.0.0.1:${(server.address() as AddressInfo).port}/feeds/calls/v1` };
  };
  const register = async (status: number, clientId: string) => {
    const { server, address } = await serve(status);
    const body = { address, clientId };
    const answer = await fixture.owner.ask('PUT /api/services/:kind', { params: { kind: 'calls' }, body });
    server.close();
    return answer;
  };

  it('is registered by its address alone, as the protocol says that it may do without', async () => {
    fixture = await openTestFixture('2026-11-02T08:42:00Z', { CHRONICON_FEEDS: '' });
    expect((await register(401, '')).status).toBe(200);
    // What refuses nobody is no such service.
    expect((await register(200, '')).fields.address).toContain('No service responds there');
    const { url } = fixture.simulators;
    const own = { address: `${url}/services/calls/v1`, clientId: '' };
    const asked = await fixture.owner.ask('PUT /api/services/:kind', { params: { kind: 'calls' }, body: own });
    expect(asked.fields.clientId).toBe('Enter the name of your agency’s registration there.');
  });
});

describe('the environment', () => {
  it('is shown without its secrets, and what it sets is not changed elsewhere', async () => {
    fixture = await openTestFixture('2026-11-02T08:42:00Z', { CHRONICON_URL: 'https://reports.fernglass.example' });
    const { environment, home, mail } = (await fixture.owner.ask('GET /api/agency')).body;
    expect(home).toEqual({ url: 'https://reports.fernglass.example', set: true });
    expect(environment.find((e) => e.name === 'CHRONICON_URL')).toMatchObject({
      set: true,
      value: 'https://reports.fernglass.example',
    });
    expect(mail.main).toMatchObject({ setBy: 'CHRONICON_SMTP' });
    expect((await setMail('main', serverAt(portOf()))).status).toBe(409);
    const body = { address: 'https://service.example', clientId: 'x' };
    expect((await fixture.owner.ask('PUT /api/services/:kind', { params: { kind: 'calls' }, body })).status).toBe(409);
  });

  it('has every variable in the table of the documentation, in the same words', async () => {
    fixture = await openTestFixture();
    const table = readFileSync(join(import.meta.dirname, '../../../../docs/running.md'), 'utf8');
    const rows = [...table.matchAll(/^\| `(CHRONICON_[A-Z_]+)` \| (.+) \| (.+) \|$/gm)].map((m) => m.slice(1, 4));
    const plain = rows.map(([name, about, otherwise]) => [
      name,
      about!.replaceAll('`', ''),
      otherwise!.replaceAll('`', ''),
    ]);
    expect(plain).toEqual(ENVIRONMENT.map((e) => [e.name, e.about, e.otherwise]));
  });
});
