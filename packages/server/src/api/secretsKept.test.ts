import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Writable } from 'node:stream';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Furnished, OWNER, openFurnishedFixture, PASSWORD, type TestFixture, visit } from '../test/harness.ts';
import { createApp } from './app.ts';
import { shownPath } from './shownPath.ts';

let fixture: TestFixture;
let f: Furnished;
beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterAll(() => fixture.close());

describe('logs', () => {
  it('hold neither what opens something nor what was asked for', async () => {
    const lines: string[] = [];
    const sink = new Writable({
      write(chunk, _encoding, done) {
        lines.push(String(chunk));
        done();
      },
    });
    const log = pino({ level: 'info' }, sink);
    const server = createServer(createApp({ ...fixture.server, log, config: { ...fixture.config, log: 'info' } }));
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    await fetch(`${url}/api/calendar/c2VjcmV0b2ZhY2FsZW5kYXI.ics?who=petra`);
    await fetch(`${url}/api/drop/c2VjcmV0b2ZhZHJvcA/till.csv?x=petra`, { method: 'PUT', body: 'a' });
    await fetch(`${url}/api/session?email=petra@tarnbeck.example`);
    await new Promise((resolve) => server.close(resolve));
    expect(lines.length).toBeGreaterThanOrEqual(3);
    expect(lines.join('')).not.toMatch(/c2VjcmV0|petra/);
    expect(lines.join('')).toContain('/api/calendar/…');
  });

  it('name every address without its secret', () => {
    expect(shownPath('/api/drop/key/till.csv')).toBe('/api/drop/…/till.csv');
    expect(shownPath('/unsubscribe/all/token?x=1')).toBe('/unsubscribe/all/…');
    expect(shownPath('/unsubscribe/token')).toBe('/unsubscribe/…');
    expect(shownPath('/api/clients/cl_1?text=Petra')).toBe('/api/clients/cl_1');
  });
});

describe('signing in', () => {
  const post = (path: string, body: object, cookie = '') =>
    fetch(fixture.server.url + path, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie },
      body: JSON.stringify(body),
    });
  const signIn = (cookie = '') => post('/api/session', { email: OWNER, password: PASSWORD }, cookie);
  const cookieOf = (r: Response) =>
    r.headers
      .getSetCookie()
      .find((c) => /session/.test(c))!
      .split(';')[0]!;
  const isIn = async (cookie: string) =>
    (await fetch(`${fixture.server.url}/api/session`, { headers: { cookie } })).status === 200;

  it('again ends the session that came along', async () => {
    const first = cookieOf(await signIn());
    const second = cookieOf(await signIn(first));
    expect([await isIn(first), await isIn(second)]).toEqual([false, true]);
  });

  it('is counted apart from links for a new password: asking for many shuts nobody out', async () => {
    for (let i = 0; i < 45; i++) await post('/api/reset', { email: `nobody${i}@fernglass.example` });
    expect((await post('/api/reset', { email: 'one.more@fernglass.example' })).status).toBe(429);
    expect((await signIn()).status).toBe(200);
  });
});

describe('files for mails', () => {
  it('are of kinds that mail programs open, and no more than there is room for', async () => {
    const owner = await visit(fixture.server.url, OWNER);
    const bring = (name: string) =>
      owner.raw(`/api/clients/${f.client}/mail-files?name=${name}`, { method: 'PUT', body: 'Prices' });
    expect((await bring('prices.constructor')).status).toBe(422);
    expect((await bring('prices.txt')).status).toBe(200);
    await fixture.server.store.updateTable('mail_file').set({ size: 199_999_998 }).execute();
    const refused = await bring('more.txt');
    expect([refused.status, await refused.text()]).toEqual([422, expect.stringContaining('can have 200 MB in total')]);
  });
});
