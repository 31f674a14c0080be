import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { removeContact, saveContact } from '../store/clients.ts';
import { moveDelivery } from '../store/messages.ts';
import { openStore } from '../store/store.ts';
import {
  ACCOUNT,
  editionsOf,
  type Furnished,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const start = async (change = {}) =>
  (
    await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: f.client },
      body: scheduleFor(f, change),
    })
  ).body.id;
const addContact = async (firstName: string) =>
  (
    await fixture.owner.ask('POST /api/clients/:client/contacts', {
      params: { client: f.client },
      body: { firstName, lastName: 'Kell', email: `${firstName.toLowerCase()}@tarnbeck.example` },
    })
  ).body.id;
const mails = () => fixture.simulators.mails.list();
const sentTo = () =>
  mails()
    .map((m) => [m.to.split('@')[0], m.times])
    .sort();
const edition = async () => (await editionsOf(fixture, f.client))[0]!;
const stops = async () => (await fixture.owner.ask('GET /api/sending')).body.stops;
const DUE = '2026-11-03T08:00:30Z';

describe('a mail server that takes nothing from anybody', () => {
  it.each([
    ['refuse-sender', 'The mail server rejected the sender:'],
    ['closed', 'The mail server accepts nothing at the moment:'],
    ['silent', 'The mail server isn’t responding.'],
  ] as const)('(%s) stops the outbox, says once what to do, and goes on by itself', async (fault, words) => {
    await start({
      readers: [f.contact, await addContact('Uwe'), await addContact('Olga')].map((contact) => ({ contact })),
    });
    await fixture.simulators.smtp.setFault(fault);
    await fixture.moveTo(DUE);
    expect(await stops()).toMatchObject([{ cause: 'mail-server', reason: expect.stringContaining(words) }]);
    expect((await stops())[0]!.mend).not.toBe('');
    const held = await edition();
    expect(held.deliveries.map((d) => [d.state, d.tries])).toEqual(Array(3).fill(['queued', 0]));
    const wrong = (await fixture.owner.ask('GET /api/desk')).body.needs.filter((n) => n.tone === 'wrong');
    expect(wrong).toMatchObject([{ title: 'Emails aren’t being sent', editions: [{ id: held.id }] }]);
    const health = (await (await fixture.owner.raw('/api/health')).json()) as { ok: boolean; stopped: string[] };
    expect(health).toMatchObject({ ok: false, stopped: ['mail-server'] });
    // While it is not known whether the server is back, one mail at a time is tried, after pauses.
    fixture.simulators.smtp.most = 0;
    await fixture.moveTo('2026-11-03T08:02:00Z');
    expect(fixture.simulators.smtp.most).toBeLessThanOrEqual(1);
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:20:00Z');
    expect(await stops()).toEqual([]);
    expect((await edition()).state).toBe('sent');
    expect(sentTo()).toEqual([
      ['olga', 1],
      ['petra', 1],
      ['uwe', 1],
    ]);
  });
});

describe('a line that breaks after the last dot', () => {
  it('is uncertain: tried again sparingly, the same mail, and never called refused', async () => {
    await start();
    await fixture.simulators.smtp.setFault('drop-after-data');
    await fixture.moveTo(DUE);
    expect((await edition()).deliveries).toMatchObject([{ state: 'uncertain', tries: 1 }]);
    for (const at of ['09:00', '10:00', '12:00', '13:00', '18:00', '23:00'])
      await fixture.moveTo(`2026-11-03T${at}:00Z`);
    const done = await edition();
    // Three copies in all, one mail to the reader: the same Message-ID, the same bytes.
    expect(sentTo()).toEqual([['petra', 3]]);
    expect(done).toMatchObject({ state: 'part-sent', deliveries: [{ state: 'uncertain', tries: 3, nextTry: null }] });
    expect(done.reason).toMatch(/Delivery to petra@tarnbeck\.example.* is unconfirmed/);
    await fixture.simulators.smtp.setFault('none');
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: done.id } });
    await fixture.server.scheduler.settle();
    expect((await edition()).state).toBe('sent');
    expect((await edition()).dueAt).toBe(done.dueAt);
  });

  it('is the same bytes, whatever is changed between the tries: the agency, who answers, how it is signed', async () => {
    const { agency } = (await fixture.owner.ask('GET /api/agency')).body;
    const dkim = (selector: string) =>
      fixture.owner.ask('POST /api/agency/dkim', { body: { domain: 'fernglass.example', selector } });
    await dkim('first');
    await start();
    await fixture.simulators.smtp.setFault('drop-after-data');
    await fixture.moveTo(DUE);
    const { store } = fixture.server;
    await dkim('second');
    await store.updateTable('agency').set({ name: 'Another name' }).execute();
    await store.updateTable('member').set({ name: 'Another manager' }).execute();
    const rules = { bounces: 'back@fernglass.example', perMinute: null, quiet: null };
    expect((await fixture.owner.ask('PUT /api/agency/mail-rules', { body: rules })).status).toBe(200);
    for (const at of ['09:00', '10:00', '12:00']) await fixture.moveTo(`2026-11-03T${at}:00Z`);
    await fixture.owner.ask('DELETE /api/agency/dkim');
    for (const at of ['13:00', '18:00']) await fixture.moveTo(`2026-11-03T${at}:00Z`);
    const [mail] = fixture.simulators.mails.list();
    expect([mail!.times, new Set(mail!.hashes).size]).toEqual([3, 1]);
    const parsed = (await fixture.simulators.mails.read(mail!.id))!.parsed;
    expect(parsed.from!.value[0]!.name).toBe(agency.name);
    expect(parsed.headerLines.find((h) => h.key === 'dkim-signature')!.line).toContain('s=first');
  });

  it('before the mail has come is tried again as any other', async () => {
    await start();
    await fixture.simulators.smtp.setFault('drop-at-data');
    await fixture.moveTo(DUE);
    expect((await edition()).deliveries).toMatchObject([{ state: 'deferred', tries: 1 }]);
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:10:00Z');
    expect(sentTo()).toEqual([['petra', 1]]);
  });
});

describe('slow conversations', () => {
  it('hold up nobody else: many go at once', async () => {
    await fixture.restart({ smtpWaits: { answer: 60_000, content: 60_000, dot: 60_000 } });
    const readers = [{ contact: f.contact }];
    for (const name of ['Uwe', 'Olga', 'Mara', 'Nils', 'Ivo', 'Tess', 'Rolf'])
      readers.push({ contact: await addContact(name) });
    await start({ readers });
    await fixture.simulators.smtp.setFault('slow');
    // Long enough for all to be on their way together, however busy the machine is.
    fixture.simulators.smtp.delay = 4;
    await fixture.moveTo(DUE);
    expect(fixture.simulators.smtp.most).toBeGreaterThanOrEqual(8);
    expect((await edition()).state).toBe('sent');
    expect(sentTo().every(([, times]) => times === 1)).toBe(true);
  });

  it('end when the server is stopped, and the mail goes once it is started again', async () => {
    await start();
    await fixture.simulators.smtp.setFault('silent');
    const began = performance.now();
    const moving = fixture.moveTo(DUE).catch(() => undefined);
    while (fixture.simulators.smtp.open === 0) await new Promise((r) => setTimeout(r, 20));
    await fixture.server.close();
    await moving;
    expect(performance.now() - began).toBeLessThan(30_000);
    await fixture.simulators.smtp.setFault('none');
    await fixture.restart();
    await fixture.moveTo('2026-11-03T08:30:00Z');
    expect(sentTo()).toEqual([['petra', 1]]);
  });
});

describe('feeds that hang', () => {
  it('hold up the editions that wait for them alone: what is drawn goes at its time', async () => {
    await fixture.close();
    ({ fixture, f } = await openFurnishedFixture(undefined, { CHRONICON_TIMEOUT: '15000' }));
    await start();
    await fixture.moveTo('2026-11-03T05:10:00Z');
    await fixture.moveTo('2026-11-03T07:50:00Z');
    fixture.simulators.faults.set(ACCOUNT, 'slow');
    const params = { report: f.report };
    const body = { contacts: [] };
    // More than collect data at once.
    for (let i = 0; i < 17; i++) await fixture.owner.ask('POST /api/reports/:report/make', { params, body });
    fixture.server.clock.moveTo(DUE);
    await expect.poll(sentTo, { timeout: 120_000 }).toEqual([['petra', 1]]);
    const states = (await editionsOf(fixture, f.client)).map((e) => e.state);
    expect(states.filter((s) => s === 'collecting' || s === 'planned')).toHaveLength(17);
    fixture.simulators.faults.set(ACCOUNT, 'none');
    await fixture.server.scheduler.settle();
  });
});

describe('until it is handed over', () => {
  it('a corrected address is used, and a reader who was taken out gets nothing', async () => {
    const uwe = await addContact('Uwe');
    const schedule = await start({ readers: [{ contact: f.contact }, { contact: uwe }] });
    await fixture.simulators.smtp.setFault('down');
    await fixture.moveTo(DUE);
    expect((await edition()).state).toBe('sending');
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', {
      params: { client: f.client, contact: f.contact },
      body: { firstName: 'Petra', lastName: 'Lund', email: 'p.lund@tarnbeck.example' },
    });
    const body = scheduleFor(f, { readers: [{ contact: f.contact }] });
    expect((await fixture.owner.ask('PUT /api/schedules/:schedule', { params: { schedule }, body })).status).toBe(200);
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:30:00Z');
    expect(sentTo()).toEqual([['p.lund', 1]]);
    expect((await edition()).state).toBe('sent');
    expect((await edition()).deliveries.map((d) => [d.email.split('@')[0], d.state]).sort()).toEqual([
      ['p.lund', 'accepted'],
      ['uwe', 'withdrawn'],
    ]);
  });

  it('what another server on the folder has written counts, whatever this one remembers', async () => {
    const uwe = await addContact('Uwe');
    await start({ readers: [{ contact: f.contact }, { contact: uwe }] });
    await fixture.simulators.smtp.setFault('down');
    await fixture.moveTo(DUE);
    const other = await openStore(fixture.config.data);
    const at = fixture.server.clock.now();
    const corrected = { id: f.contact, firstName: 'Petra', lastName: 'Lund', email: 'p.lund@tarnbeck.example' };
    await saveContact(other, f.client, corrected, at);
    await removeContact(other, f.client, uwe, at);
    await other.destroy();
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:30:00Z');
    expect(sentTo()).toEqual([['p.lund', 1]]);
  });

  it('a refused address that was corrected is tried again at the new one', async () => {
    await start();
    fixture.simulators.smtp.refused.add('petra@tarnbeck.example');
    await fixture.moveTo(DUE);
    const held = await edition();
    expect(held).toMatchObject({ state: 'held', may: { retry: true } });
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', {
      params: { client: f.client, contact: f.contact },
      body: { firstName: 'Petra', lastName: 'Lund', email: 'right@tarnbeck.example' },
    });
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: held.id } });
    await fixture.server.scheduler.settle();
    expect(sentTo()).toEqual([['right', 1]]);
  });

  it('pausing and ending reach it, whatever was planned', async () => {
    const schedule = await start();
    await fixture.moveTo('2026-11-03T05:10:00Z');
    const pause = (active: boolean) =>
      fixture.owner.ask('PUT /api/schedules/:schedule/active', { params: { schedule }, body: { active } });
    await pause(false);
    expect(await edition()).toMatchObject({ state: 'held', reason: 'Its schedule was paused by Ines Tallow.' });
    await fixture.moveTo(DUE);
    expect(mails()).toEqual([]);
    await pause(true);
    await fixture.server.scheduler.settle();
    // After its time a person looks first.
    expect(await edition()).toMatchObject({ state: 'held', may: { send: true } });
    await fixture.owner.ask('DELETE /api/schedules/:schedule', { params: { schedule } });
    expect(await edition()).toMatchObject({ state: 'skipped', reason: 'Its schedule was ended by Ines Tallow.' });
    await fixture.moveTo('2026-11-03T12:00:00Z');
    expect(mails()).toEqual([]);
  });

  it('another time moves it, once; one that has passed sends nothing by itself', async () => {
    const schedule = await start();
    await fixture.moveTo('2026-11-03T05:10:00Z');
    const put = (time: string) =>
      fixture.owner.ask('PUT /api/schedules/:schedule', { params: { schedule }, body: scheduleFor(f, { time }) });
    await put('09:30');
    await fixture.moveTo(DUE);
    expect(mails()).toEqual([]);
    expect((await edition()).dueAt).toBe('2026-11-03T09:30:00.000Z');
    await put('06:00');
    await fixture.server.scheduler.settle();
    expect(mails()).toEqual([]);
    expect(await edition()).toMatchObject({ state: 'held', may: { send: true } });
    expect(await editionsOf(fixture, f.client)).toHaveLength(1);
  });

  it('a date on which the schedule no longer runs is left out, and the same week is not sent twice', async () => {
    const weekly = {
      rule: { freq: 'weekly' as const, every: 1, weekdays: [2] },
      period: { kind: 'unit' as const, unit: 'week' as const, offset: -1 },
    };
    const schedule = await start(weekly);
    await fixture.moveTo(DUE);
    expect(sentTo()).toEqual([['petra', 1]]);
    const wednesday = scheduleFor(f, { ...weekly, rule: { ...weekly.rule, weekdays: [3] } });
    const ahead = await fixture.owner.ask('POST /api/clients/:client/schedules/look-ahead', {
      params: { client: f.client },
      body: { ...wednesday, schedule },
    });
    expect(ahead.body.runs[0]!.warnings.map((w) => w.text).join(' ')).toContain(
      'It starts as skipped. The edition of 3 November 2026 covered',
    );
    await fixture.owner.ask('PUT /api/schedules/:schedule', { params: { schedule }, body: wednesday });
    await fixture.moveTo('2026-11-04T06:00:00Z');
    const repeat = await edition();
    expect(repeat).toMatchObject({ state: 'skipped', may: { takeUp: true } });
    expect(repeat.reason).toContain('covered the same dates');
    // One press keeps it.
    await fixture.owner.ask('POST /api/editions/take-up', { body: { editions: [repeat.id] } });
    await fixture.moveTo('2026-11-04T08:00:30Z');
    expect(sentTo()).toHaveLength(2);
    await fixture.moveTo('2026-11-11T08:00:30Z');
    expect(sentTo()).toHaveLength(3);
  });
});

describe('a file that is missing or damaged', () => {
  const row = () => fixture.server.store.selectFrom('edition').selectAll().executeTakeFirstOrThrow();
  const pathOf = (hash: string) => join(fixture.config.data, 'files', hash.slice(0, 2), hash);

  it('is painted again from the frozen scene: the same bytes', async () => {
    await start();
    await fixture.moveTo('2026-11-03T05:10:00Z');
    const { pdf } = await row();
    rmSync(pathOf(pdf!));
    await fixture.moveTo(DUE);
    expect((await edition()).state).toBe('sent');
    const found = await fixture.simulators.mails.read(mails()[0]!.id);
    expect(fixture.server.files.hashOf(found!.parsed.attachments[0]!.content)).toBe(pdf);
  });

  it('(the mail itself) holds its edition, once, instead of being taken up for ever', async () => {
    await start();
    await fixture.simulators.smtp.setFault('closed');
    await fixture.moveTo(DUE);
    const { store } = fixture.server;
    await store
      .updateTable('message')
      .set({ body: Buffer.from('torn') })
      .execute();
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:20:00Z');
    expect(await edition()).toMatchObject({ state: 'held', reason: expect.stringContaining('couldn’t be created') });
    expect((await store.selectFrom('attempt').select('delivery_id').execute()).length).toBeLessThanOrEqual(3);
    expect(mails()).toEqual([]);
  });

  it('holds its edition with the reason where it cannot be made again; others are not stopped', async () => {
    await start();
    await fixture.simulators.smtp.setFault('down');
    await fixture.moveTo(DUE);
    const { pdf, frozen } = await row();
    writeFileSync(pathOf(pdf!), 'damaged');
    writeFileSync(pathOf(frozen!), 'damaged');
    await start({ rule: { freq: 'monthly', every: 1, on: { day: 4 } } });
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-04T08:00:30Z');
    const [second, first] = await editionsOf(fixture, f.client);
    expect(first).toMatchObject({ state: 'held', may: { retry: true, skip: true } });
    expect(first!.reason).toContain('PDF is missing or damaged');
    expect(second!.state).toBe('sent');
    expect(sentTo()).toEqual([['petra', 1]]);
  });
});

describe('the switch', () => {
  it('stops all mails at one press, and lets go what waited', async () => {
    await start();
    await fixture.owner.ask('PUT /api/sending', { body: { on: false } });
    await fixture.moveTo(DUE);
    expect(mails()).toEqual([]);
    expect(await stops()).toMatchObject([{ cause: 'person', by: 'Ines Tallow' }]);
    // It is not on its way: what is corrected meanwhile still reaches it.
    expect((await edition()).state).toBe('ready');
    await fixture.owner.ask('PUT /api/sending', { body: { on: true } });
    await fixture.server.scheduler.settle();
    expect(sentTo()).toEqual([['petra', 1]]);
  });
});

describe('leases', () => {
  it('lost by one who was taken for dead: what they finish later changes nothing', async () => {
    await start();
    await fixture.simulators.smtp.setFault('down');
    await fixture.moveTo(DUE);
    const { store } = fixture.server;
    const delivery = await store.selectFrom('delivery').selectAll().executeTakeFirstOrThrow();
    await store
      .updateTable('delivery')
      .set({ state: 'sending', lease_owner: 'in_another', lease_fence: delivery.lease_fence + 1 })
      .execute();
    const stale = { ...delivery, state: 'sending' as const };
    expect(await moveDelivery(store, stale, 'accepted', { reply: '250' }, { at: fixture.server.clock.now() })).toBe(
      false,
    );
    // Nobody's heart beats under that name: this server takes it over, and sends it.
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:30:00Z');
    expect(sentTo()).toEqual([['petra', 1]]);
  });
});

describe('more than a day late', () => {
  it('what was ready is a person’s to decide; what had not begun is missed', async () => {
    await start();
    await fixture.owner.ask('PUT /api/sending', { body: { on: false } });
    await fixture.moveTo('2026-11-03T05:10:00Z');
    await fixture.owner.ask('PUT /api/sending', { body: { on: true } });
    await fixture.server.close();
    await fixture.restart({ today: '2026-11-05T09:00:00Z' });
    await fixture.moveTo('2026-11-05T10:00:00Z');
    const late = await edition();
    expect(late).toMatchObject({ state: 'held', may: { send: true } });
    expect(late.reason).toMatch(/more than a day late|its send time has passed/);
    expect(mails()).toEqual([]);
  });
});
