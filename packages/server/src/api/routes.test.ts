import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { EVERYONE, FILE_ROUTES, type Role, routes } from '@chronicon/core/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hashOfNobody, hashPassword, verifyPassword } from '../access/passwords.ts';
import { readConfig } from '../platform/config.ts';
import {
  type Furnished,
  furnish,
  MANAGER,
  memberOf,
  OWNER,
  openTestFixture,
  PASSWORD,
  REVIEWER,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';
import { rolesDoc } from '../test/rolesDoc.ts';

let fixture: TestFixture;
let f: Furnished;
let manager: Visitor;
let reviewer: Visitor;

beforeAll(async () => {
  fixture = await openTestFixture();
  f = await furnish(fixture, false);
  manager = await visit(fixture.server.url, MANAGER);
  reviewer = await visit(fixture.server.url, REVIEWER);
});
afterAll(() => fixture.close());

const everyRoute = [...Object.keys(routes), ...Object.keys(FILE_ROUTES)].map((name) => {
  const [method, path] = name.split(' ') as [string, string];
  return { name, method, path: path.replace(/:\w+/g, 'x') };
});
const OPEN = [
  'GET /api/health',
  'GET /api/sign-in',
  'POST /api/session',
  'POST /api/first',
  'POST /api/reset',
  'POST /api/links/look',
  'POST /api/links/use',
];

describe('the routes', () => {
  it('lets nobody in without a session, but at those that are listed as open', async () => {
    for (const { name, method, path } of everyRoute) {
      const { status } = await fetch(fixture.server.url + path, {
        method,
        ...(method !== 'GET' && { body: '{}', headers: { 'content-type': 'application/json' } }),
      });
      if (!OPEN.includes(name)) expect([name, status]).toEqual([name, 401]);
    }
    expect((await fetch(`${fixture.server.url}/api/nothing-here`)).status).toBe(401);
    expect((await fixture.owner.raw('/api/nothing-here')).status).toBe(404);
  });

  it('holds every route to its roles, each of them, as the documentation says', async () => {
    const documented = readFileSync(join(import.meta.dirname, '../../../../docs/roles.md'), 'utf8');
    expect(documented).toBe(rolesDoc());
    const analyst = await memberOf(fixture, 'analyst@fernglass.example', 'analyst', [f.client]);
    const visitors: Record<Role, Visitor> = { owner: fixture.owner, manager, analyst, reviewer };
    const said = new Map(
      [...documented.matchAll(/^\| `([^`]+)`.* \| (yes|–) \| (yes|–) \| (yes|–) \| (yes|–) \|$/gm)].map((m) => [
        m[1]!,
        EVERYONE.filter((_, i) => m[i + 2] === 'yes'),
      ]),
    );
    // What ends the sessions that walk, or moves the clock, is tried elsewhere.
    const apart = ['DELETE /api/session', 'DELETE /api/sessions', 'POST /api/demo/clock'];
    const listed = everyRoute.filter(
      (d) => !apart.includes(d.name) && !OPEN.includes(d.name) && !d.path.startsWith('/api/drop'),
    );
    expect(listed.filter((d) => !said.has(d.name))).toEqual([]);
    for (const { name, method, path } of listed) {
      for (const role of EVERYONE) {
        const { status } = await visitors[role].raw(path, {
          method,
          ...(method !== 'GET' && { body: '{}', headers: { 'content-type': 'application/json' } }),
        });
        expect([name, role, status === 403 ? 'refused' : 'let in']).toEqual([
          name,
          role,
          said.get(name)!.includes(role) ? 'let in' : 'refused',
        ]);
      }
    }
  });

  it('shows a client to its own people and the owner alone', async () => {
    expect((await manager.ask('GET /api/clients')).body).toMatchObject({ clients: [], total: 0 });
    expect((await manager.ask('GET /api/clients/:client', { params: { client: f.client } })).status).toBe(404);
    expect((await manager.ask('GET /api/reports/:report', { params: { report: f.report } })).status).toBe(404);
    expect((await manager.ask('POST /api/reports/:report/test', { params: { report: f.report } })).status).toBe(404);
    expect((await fixture.owner.ask('GET /api/clients/:client', { params: { client: f.client } })).status).toBe(200);
    expect((await manager.ask('GET /api/editions', { query: { client: f.client } })).body.total).toBe(0);
  });

  it('takes nothing that changes something from another site or without the page’s own token', async () => {
    const body = JSON.stringify({ active: true });
    const headers = { 'content-type': 'application/json' };
    const foreign = await fixture.owner.raw('/api/clients', {
      method: 'POST',
      body,
      headers: { ...headers, origin: 'http://elsewhere.example' },
    });
    expect(foreign.status).toBe(403);
    const nowhere = await fixture.owner.raw('/api/clients', {
      method: 'POST',
      body,
      headers: { ...headers, origin: 'null' },
    });
    expect(nowhere.status).toBe(403);
    const bare = await fixture.owner.raw('/api/clients', {
      method: 'POST',
      body,
      headers: { ...headers, 'x-csrf-token': 'guess' },
    });
    expect(bare.status).toBe(403);
  });

  it('ends a session when it is signed out, and gives its cookie to no script', async () => {
    const response = await fetch(`${fixture.server.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: OWNER, password: PASSWORD }),
    });
    const cookie = response.headers.getSetCookie()[0]!;
    expect(cookie).toContain('HttpOnly');
    expect(cookie).toContain('SameSite=Strict');
    const guest = await visit(fixture.server.url, OWNER);
    expect((await guest.ask('GET /api/session')).status).toBe(200);
    await guest.ask('DELETE /api/session');
    expect((await guest.ask('GET /api/session')).status).toBe(401);
  });

  it('keeps passwords as salted scrypt hashes of full cost', async () => {
    const { passwordCost } = readConfig({ CHRONICON_MODE: 'production' });
    const [a, b] = [await hashPassword(PASSWORD, passwordCost), await hashPassword(PASSWORD)];
    for (const hash of [a, b, hashOfNobody(passwordCost)]) expect(hash).toMatch(/^scrypt\$131072\$8\$1\$/);
    expect(a).not.toBe(b);
    expect(await verifyPassword(PASSWORD, a)).toBe(true);
    expect(await verifyPassword('copper-kettle-18', a)).toBe(false);
  });

  it('offers sign-ins on the page of a demo alone', async () => {
    const offer = (await (await fetch(`${fixture.server.url}/api/sign-in`)).json()) as { demo: unknown };
    expect(offer.demo).toBeNull();
  });

  it('describes itself as OpenAPI', async () => {
    const described = (await (await fixture.owner.raw('/api/openapi.json')).json()) as {
      paths: Record<string, object>;
    };
    expect(Object.keys(described.paths)).toContain('/api/clients/{client}/schedules');
  });

  it('slows down who guesses passwords, with a word for it', async () => {
    const guess = () =>
      visit(fixture.server.url).then((v) => v.ask('POST /api/session', { body: { email: OWNER, password: 'wrong' } }));
    let last = await guess();
    expect(last.status).toBe(401);
    for (let i = 0; i < 10; i++) last = await guess();
    expect(last.status).toBe(429);
    expect((last.body as unknown as { message: string }).message).toContain('Too many attempts. Try again in');
  });
});
