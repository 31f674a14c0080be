import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  type Furnished,
  furnish,
  MANAGER,
  mailTo,
  memberOf,
  OWNER,
  openTestFixture,
  REVIEWER,
  scheduleFor,
  secretIn,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';

const NEW = 'sanne@fernglass.example';
const PASSPHRASE = 'walrus umbrella 7 teaspoons';

let fixture: TestFixture;
beforeEach(async () => {
  fixture = await openTestFixture('2026-11-02T08:42:00Z', { CHRONICON_NOTICES: 'on' });
});
afterEach(() => fixture.close());

const invite = (body: object = {}) =>
  fixture.owner.ask('POST /api/members', {
    body: { name: 'Sanne Okafor', email: NEW, role: 'manager', clients: [], ...body },
  });
const idOf = async (email: string) =>
  (await fixture.owner.ask('GET /api/members')).body.find((m) => m.email === email)!.id;
const use = async (secret: string, password = PASSPHRASE) =>
  (await visit(fixture.server.url)).ask('POST /api/links/use', { body: { secret, password } });
const look = async (secret: string) =>
  (await visit(fixture.server.url)).ask('POST /api/links/look', { body: { secret } });
const change = async (email: string, body: object) =>
  fixture.owner.ask('PUT /api/members/:member', { params: { member: await idOf(email) }, body });
const setActive = async (email: string, body: object) =>
  fixture.owner.ask('PUT /api/members/:member/active', { params: { member: await idOf(email) }, body });

describe('an invitation', () => {
  it('lets somebody choose a password once, and sign in with it', async () => {
    const f = await furnish(fixture, false);
    const made = await invite({ clients: [f.client] });
    expect(made.body).toMatchObject({
      member: { state: 'invited', role: 'manager' },
      sent: expect.stringMatching(/^250/),
    });
    const mail = await mailTo(fixture, NEW, /invited you to/);
    expect(mail.subject).toBe('Ines Tallow invited you to Fernglass Media on Chronicon');
    const secret = secretIn(mail);
    expect((await look(secret)).body).toEqual({
      purpose: 'invite',
      name: 'Sanne Okafor',
      email: NEW,
      agency: 'Fernglass Media',
      least: 15,
    });
    // A password that is refused leaves the link as it was.
    expect((await use(secret, 'sanneokafor2026')).fields.password).toContain('Too easy to guess');
    expect((await use(secret)).body).toEqual({ email: NEW });
    const sanne = await visit(fixture.server.url, NEW, PASSPHRASE);
    expect((await sanne.ask('GET /api/clients')).body.clients.map((c) => c.id)).toEqual([f.client]);
    for (const again of [await use(secret), await look(secret)]) expect(again.status).toBe(410);
  });

  it('is over after three days, after another one, and when the member is let in no more', async () => {
    await invite();
    const first = secretIn(await mailTo(fixture, NEW, /invited you to/));
    fixture.simulators.mails.clear();
    const params = { member: await idOf(NEW) };
    await fixture.owner.ask('POST /api/members/:member/invitation', { params });
    const second = secretIn(await mailTo(fixture, NEW, /invited you to/));
    expect((await look(first)).status).toBe(410);
    await setActive(NEW, { active: false });
    expect((await use(second)).status).toBe(410);
    await setActive(NEW, { active: true });
    expect((await fixture.owner.ask('GET /api/members')).body.find((m) => m.email === NEW)).toMatchObject({
      state: 'invited',
      invitedUntil: null,
    });
    fixture.simulators.mails.clear();
    await fixture.owner.ask('POST /api/members/:member/invitation', { params });
    const third = secretIn(await mailTo(fixture, NEW, /invited you to/));
    await fixture.moveTo('2026-11-05T08:43:00Z');
    expect((await look(third)).status).toBe(410);
  });

  it('is for an address that nobody has yet, and for clients that there are', async () => {
    expect((await invite({ email: MANAGER.toUpperCase() })).fields.email).toBe('Joren Vask already has this address.');
    expect((await invite({ clients: ['cl_none'] })).fields.clients).toContain('One of these clients no longer exists.');
    expect((await invite({ role: 'king' })).status).toBe(422);
    const manager = await visit(fixture.server.url, MANAGER);
    expect((await manager.ask('POST /api/members', { body: {} })).status).toBe(403);
  });

  it('that the mail server does not take says so, and can be sent again', async () => {
    fixture.simulators.smtp.refused.add(NEW);
    expect((await invite()).body.sent).toBeNull();
    fixture.simulators.smtp.refused.clear();
    const params = { member: await idOf(NEW) };
    expect((await fixture.owner.ask('POST /api/members/:member/invitation', { params })).body.sent).toMatch(/^250/);
  });

  it('is kept as a hash alone', async () => {
    await invite();
    const secret = secretIn(await mailTo(fixture, NEW, /invited you to/));
    const { store } = fixture.server;
    const kept = JSON.stringify([
      await store.selectFrom('one_time_link').selectAll().execute(),
      await store.selectFrom('ledger').selectAll().execute(),
      await store.selectFrom('member').selectAll().execute(),
    ]);
    expect(kept).not.toContain(secret);
  });
});

describe('what somebody may do', () => {
  let f: Furnished;
  let joren: Visitor;
  beforeEach(async () => {
    f = await furnish(fixture, false);
    joren = await visit(fixture.server.url, MANAGER);
  });
  const sees = async (who: Visitor) =>
    (await who.ask('GET /api/clients/:client', { params: { client: f.client } })).status;

  it('changes at once in an open session: clients, role, state', async () => {
    expect(await sees(joren)).toBe(404);
    await change(MANAGER, { name: 'Joren Vask', role: 'manager', clients: [f.client] });
    expect(await sees(joren)).toBe(200);
    await change(MANAGER, { name: 'Joren Vask', role: 'reviewer', clients: [f.client] });
    expect((await joren.ask('PUT /api/sending', { body: { on: false } })).status).toBe(403);
    await change(MANAGER, { name: 'Joren Vask', role: 'owner', clients: [] });
    expect((await joren.ask('GET /api/members')).status).toBe(200);
    await setActive(MANAGER, { active: false });
    expect((await joren.ask('GET /api/session')).status).toBe(401);
    await expect(visit(fixture.server.url, MANAGER)).rejects.toThrow('401');
    await setActive(MANAGER, { active: true });
    await visit(fixture.server.url, MANAGER);
  });

  it('leaves an owner: the last one can neither leave nor be less', async () => {
    expect((await change(OWNER, { name: 'Ines Tallow', role: 'manager', clients: [] })).status).toBe(409);
    expect((await setActive(OWNER, { active: false })).status).toBe(409);
    // One who was invited only is no owner yet.
    await invite({ role: 'owner' });
    expect((await setActive(OWNER, { active: false })).status).toBe(409);
    await change(MANAGER, { name: 'Joren Vask', role: 'owner', clients: [] });
    const both = await Promise.all([
      fixture.owner.ask('PUT /api/members/:member/active', {
        params: { member: await idOf(MANAGER) },
        body: { active: false },
      }),
      joren.ask('PUT /api/members/:member/active', {
        params: { member: await idOf(OWNER) },
        body: { active: false, to: await idOf(MANAGER) },
      }),
    ]);
    expect(both.filter((b) => b.status === 200).length).toBeLessThanOrEqual(1);
    const { store } = fixture.server;
    const left = await store
      .selectFrom('member')
      .select('id')
      .where('role', '=', 'owner')
      .where('state', '=', 'active')
      .execute();
    expect(left).toHaveLength(1);
  });

  it('gives what one has in hand to another before one leaves', async () => {
    await change(MANAGER, { name: 'Joren Vask', role: 'manager', clients: [f.client] });
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f),
    });
    const give = (body: object) => fixture.owner.ask('POST /api/delegations', { body: { through: null, ...body } });
    const [ines, jorenId] = [await idOf(OWNER), await idOf(MANAGER)];
    expect((await give({ from: ines, to: jorenId, clients: [f.client] })).status).toBe(200);
    const holdings = await fixture.owner.ask('GET /api/members/:member/holdings', { params: { member: jorenId } });
    expect(holdings.body).toMatchObject({ manages: [{ id: f.client }], schedules: 1, connections: 0 });
    // They manage it: they stay a manager, and see it whatever is ticked.
    expect((await change(MANAGER, { name: 'Joren Vask', role: 'analyst', clients: [] })).fields.role).toContain(
      'Hand over',
    );
    await change(MANAGER, { name: 'Joren Vask', role: 'manager', clients: [] });
    expect(await sees(joren)).toBe(200);
    expect((await setActive(MANAGER, { active: false })).fields.to).toContain('Choose who takes them');
    expect((await setActive(MANAGER, { active: false, to: await idOf(REVIEWER) })).fields.to).toContain(
      'an owner or a manager',
    );
    expect((await setActive(MANAGER, { active: false, to: jorenId })).fields.to).toBeDefined();
    expect((await setActive(MANAGER, { active: false, to: ines })).body).toMatchObject({
      state: 'inactive',
      manages: [],
      clients: [],
    });
    expect((await fixture.owner.ask('GET /api/clients/:client', { params: { client: f.client } })).body.manager).toBe(
      'Ines Tallow',
    );
  });
});

describe('clients in a colleague’s hands', () => {
  let f: Furnished;
  let joren: string;
  let visitor: Visitor;
  beforeEach(async () => {
    f = await furnish(fixture, false);
    joren = await idOf(MANAGER);
    visitor = await visit(fixture.server.url, MANAGER);
  });
  const manager = async () =>
    (await fixture.owner.ask('GET /api/clients/:client', { params: { client: f.client } })).body.manager;
  const give = async (through: string | null) =>
    fixture.owner.ask('POST /api/delegations', {
      body: { from: await idOf(OWNER), to: joren, clients: [f.client], through },
    });

  it('come back by themselves after the last day, by the agency’s clock', async () => {
    expect((await give('2026-11-01')).fields.through).toContain('today or a later day');
    expect((await give('2026-11-04')).status).toBe(200);
    expect(await manager()).toBe('Joren Vask');
    expect((await visitor.ask('GET /api/delegations')).body).toMatchObject([
      { from: { name: 'Ines Tallow' }, to: { name: 'Joren Vask' }, clients: [{ id: f.client }], through: '2026-11-04' },
    ]);
    await fixture.moveTo('2026-11-04T23:59:00Z');
    expect(await manager()).toBe('Joren Vask');
    await fixture.moveTo('2026-11-05T00:00:30Z');
    expect(await manager()).toBe('Ines Tallow');
    visitor = await visit(fixture.server.url, MANAGER);
    expect((await visitor.ask('GET /api/clients')).body.total).toBe(0);
  });

  it('can be taken back before, and given away by whoever has them alone', async () => {
    await give('2026-11-20');
    const [delegation] = (await visitor.ask('GET /api/delegations')).body;
    const analyst = await memberOf(fixture, 'third@fernglass.example', 'manager', [f.client]);
    const params = { delegation: delegation!.id };
    expect((await analyst.ask('DELETE /api/delegations/:delegation', { params })).status).toBe(404);
    const body = { from: await idOf(OWNER), to: joren, clients: [f.client], through: null };
    expect((await visitor.ask('POST /api/delegations', { body })).status).toBe(403);
    expect((await fixture.owner.ask('POST /api/delegations', { body })).fields.clients).toContain(
      'that they manage now',
    );
    expect((await fixture.owner.ask('DELETE /api/delegations/:delegation', { params })).status).toBe(200);
    expect(await manager()).toBe('Ines Tallow');
    expect((await fixture.owner.ask('DELETE /api/delegations/:delegation', { params })).status).toBe(404);
  });

  it('go back to nobody who manages clients no more: the role changes once they are settled', async () => {
    await memberOf(fixture, 'third@fernglass.example', 'manager', [f.client]);
    const from = await idOf('third@fernglass.example');
    const body = { from: await idOf(OWNER), to: from, clients: [f.client], through: null };
    await fixture.owner.ask('POST /api/delegations', { body });
    await fixture.owner.ask('POST /api/delegations', {
      body: { from, to: joren, clients: [f.client], through: '2026-11-04' },
    });
    const refused = await change('third@fernglass.example', { name: 'Third', role: 'analyst', clients: [] });
    expect(refused.fields.role).toContain('has clients of');
    // Changed all the same, as by a copy that was put back: they stay where they are.
    await fixture.server.store.updateTable('member').set({ role: 'analyst' }).where('id', '=', from).execute();
    await fixture.moveTo('2026-11-05T00:00:30Z');
    expect(await manager()).toBe('Joren Vask');
  });

  it('stay where they are if they changed hands meanwhile, or who gave them is gone', async () => {
    await change(MANAGER, { name: 'Joren Vask', role: 'owner', clients: [] });
    await give('2026-11-04');
    await change(OWNER, { name: 'Ines Tallow', role: 'manager', clients: [f.client] });
    visitor = await visit(fixture.server.url, MANAGER);
    const member = (await visitor.ask('GET /api/members')).body.find((m) => m.email === OWNER)!.id;
    await visitor.ask('PUT /api/members/:member/active', { params: { member }, body: { active: false } });
    const { clock, scheduler, store } = fixture.server;
    clock.moveTo?.('2026-11-05T01:00:00Z');
    await scheduler.settle();
    const row = await store.selectFrom('client').select('manager_id').where('id', '=', f.client).executeTakeFirst();
    expect(row).toEqual({ manager_id: joren });
  });
});
