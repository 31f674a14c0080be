import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  CLIENT,
  editionsOf,
  type Furnished,
  furnish,
  MANAGER,
  memberOf,
  openFurnishedFixture,
  openTestFixture,
  scheduleFor,
  type TestFixture,
  type Visitor,
  visit,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let params: { client: string };
afterEach(() => fixture.close());

const describeClient = async () => (await fixture.owner.ask('GET /api/clients/:client', { params })).body;
const ids = async (who: Visitor, scope: string) =>
  (await who.ask('GET /api/clients', { query: { scope } })).body.clients.map((c) => c.id);

describe('a client', () => {
  beforeEach(async () => {
    fixture = await openTestFixture();
    f = await furnish(fixture, false);
    params = { client: f.client };
  });

  it('has tags, by which clients are chosen wherever they are listed', async () => {
    const second = (await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Skerry Boats' } })).body
      .id;
    const tag = (client: string, tags: string[]) =>
      fixture.owner.ask('PUT /api/clients/:client/tags', { params: { client }, body: { tags } });
    expect((await tag(f.client, ['Shops', 'North', 'shops'])).body.tags).toEqual(['North', 'Shops']);
    await tag(second, ['north']);
    expect((await fixture.owner.ask('GET /api/clients/scopes')).body).toEqual({ tags: ['North', 'Shops'], mine: 2 });
    expect(await ids(fixture.owner, 'tag:Shops')).toEqual([f.client]);
    expect((await ids(fixture.owner, 'tag:NORTH')).sort()).toEqual([f.client, second].sort());
    expect(await ids(fixture.owner, 'tag:none')).toEqual([]);
    expect((await fixture.owner.ask('GET /api/clients', { query: { scope: 'all; drop' } })).status).toBe(422);
    expect(
      (
        await tag(
          f.client,
          Array.from({ length: 21 }, (_, i) => `t${i}`),
        )
      ).status,
    ).toBe(422);
    expect((await tag(f.client, ['  '])).status).toBe(422);
    // A tag opens no client that one is not assigned to, and is not told of.
    const manager = await memberOf(fixture, 'sanne@fernglass.example', 'manager', [second]);
    expect(await ids(manager, 'tag:Shops')).toEqual([]);
    expect((await manager.ask('GET /api/clients/scopes')).body).toEqual({ tags: ['north'], mine: 0 });
    expect(await ids(manager, 'mine')).toEqual([]);
    for (const route of ['GET /api/desk', 'GET /api/editions'] as const) {
      expect((await fixture.owner.ask(route, { query: { scope: 'tag:Shops' } })).status).toBe(200);
    }
  });

  it('has contacts with what is noted of them, one by one or pasted', async () => {
    const person = {
      firstName: 'Uwe',
      lastName: 'Brandt',
      email: 'uwe@tarnbeck.example',
      role: 'Head of sales',
      language: 'German',
      phone: '+49 30 5550 123',
      notes: 'Rings back',
    };
    expect(
      (await fixture.owner.ask('POST /api/clients/:client/contacts', { params, body: person })).body,
    ).toMatchObject(person);
    const text = [
      'Lotte Harrow <Lotte@Tarnbeck.example>, "Sorel, Anouk" <anouk@tarnbeck.example>',
      'petra@tarnbeck.example',
      'Odd\tSkarre\todd@tarnbeck.example',
      'not an address',
      'lotte@tarnbeck.example',
    ].join('\n');
    const many = (seen: string | null, pasted = text) =>
      fixture.owner.ask('POST /api/clients/:client/contacts/many', { params, body: { text: pasted, seen } });
    const seen = (await many(null)).body;
    expect(seen.rows.map((r) => [r.firstName, r.lastName, r.email, r.problem])).toEqual([
      ['Lotte', 'Harrow', 'lotte@tarnbeck.example', null],
      ['Anouk', 'Sorel', 'anouk@tarnbeck.example', null],
      ['petra', '', 'petra@tarnbeck.example', 'Already a contact.'],
      ['Odd', 'Skarre', 'odd@tarnbeck.example', null],
      ['not', 'an address', 'not an address', expect.stringContaining('Enter a valid email address.')],
      ['lotte', '', 'lotte@tarnbeck.example', 'Already a contact.'],
    ]);
    expect((await describeClient()).contacts).toHaveLength(2);
    // What was looked at is what is added, or nothing.
    expect((await many(seen.seen, `${text}\nlate@tarnbeck.example`)).status).toBe(409);
    expect((await many(seen.seen)).body.done).toBe(true);
    expect((await describeClient()).contacts.map((c) => c.email).sort()).toEqual(
      ['anouk', 'lotte', 'odd', 'petra', 'uwe'].map((n) => `${n}@tarnbeck.example`),
    );
    expect((await many(seen.seen)).status).toBe(409);
  });

  it('is duplicated as a plan: drafts without words, schedules that wait for readers, no figures and nobody', async () => {
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f) });
    await fixture.owner.ask('PUT /api/clients/:client/tags', { params, body: { tags: ['Shops'] } });
    await fixture.owner.ask('PUT /api/clients/:client/brand', {
      params,
      body: { main: '#123456', second: '#654321', footer: 'x' },
    });
    const ratio = {
      key: 'per',
      label: 'Per visit',
      unit: 'decimal',
      polarity: 'higher',
      definition: '',
      formula: 'orders / visits',
    };
    await fixture.owner.ask('POST /api/clients/:client/own-metrics', { params, body: ratio });
    const made = await fixture.owner.ask('POST /api/clients/:client/duplicate', {
      params,
      body: { name: 'Skerry Boats' },
    });
    expect(made.body).toMatchObject({
      name: 'Skerry Boats',
      contacts: [],
      tags: ['Shops'],
      zone: CLIENT.zone,
      brand: { main: '#123456' },
    });
    const copy = { client: made.body.id };
    const reports = (await fixture.owner.ask('GET /api/clients/:client/reports', { params: copy })).body;
    expect(reports).toMatchObject([{ title: 'Monthly overview' }]);
    const schedules = (await fixture.owner.ask('GET /api/clients/:client/schedules', { params: copy })).body;
    expect(schedules).toMatchObject([{ active: false, input: { readers: [] } }]);
    const resumed = await fixture.owner.ask('PUT /api/schedules/:schedule/active', {
      params: { schedule: schedules[0]!.id },
      body: { active: true },
    });
    expect(resumed.fields.readers).toContain('Add at least one reader first.');
    const metrics = JSON.stringify(
      (await fixture.owner.ask('GET /api/clients/:client/metrics', { params: copy })).body,
    );
    expect(metrics).toContain('Per visit');
    expect((await fixture.owner.ask('GET /api/clients/:client/feeds', { params: copy })).body).toEqual([]);
    expect(
      (await fixture.owner.ask('POST /api/clients/:client/duplicate', { params, body: { name: '' } })).fields.name,
    ).toBeDefined();
  });
});

describe('a client that is put aside', () => {
  beforeEach(async () => {
    ({ fixture, f } = await openFurnishedFixture());
    params = { client: f.client };
  });
  const inactive = (yes: boolean) =>
    fixture.owner.ask('PUT /api/clients/:client/inactive', { params, body: { inactive: yes } });

  it('has nothing run for it, and goes on from where it is taken up', async () => {
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f) });
    expect((await inactive(true)).body.inactiveSince).not.toBeNull();
    const asked = fixture.simulators.requests.made('web-analytics');
    await fixture.moveTo('2026-11-04T09:00:00Z');
    expect(fixture.simulators.requests.made('web-analytics')).toBe(asked);
    expect(fixture.simulators.mails.list()).toEqual([]);
    const desk = (await fixture.owner.ask('GET /api/desk')).body;
    expect([desk.needs, desk.days.flatMap((d) => d.lines)]).toEqual([[], []]);
    // Nothing is made or started for it meanwhile, and it is still found.
    const report = { report: f.report };
    expect(
      (await fixture.owner.ask('POST /api/reports/:report/make', { params: report, body: { contacts: [f.contact] } }))
        .status,
    ).toBe(409);
    expect(
      (await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f) })).status,
    ).toBe(409);
    expect((await fixture.owner.ask('GET /api/clients')).body.clients.map((c) => c.id)).toEqual([f.client]);
    await inactive(false);
    await fixture.server.scheduler.settle();
    expect(fixture.simulators.requests.made('web-analytics')).toBeGreaterThan(asked);
    const schedules = (await fixture.owner.ask('GET /api/clients/:client/schedules', { params })).body;
    expect(schedules).toMatchObject([{ active: true, stopped: null }]);
    // What fell due meanwhile is not sent late by itself.
    expect(fixture.simulators.mails.list()).toEqual([]);
    await fixture.moveTo('2026-12-03T08:01:00Z');
    expect(fixture.simulators.mails.list().map((m) => m.to)).toEqual(['petra@tarnbeck.example']);
  });

  it('keeps what is on its way until a person has looked at it', async () => {
    await fixture.simulators.smtp.setFault('busy');
    await fixture.owner.ask('POST /api/reports/:report/make', {
      params: { report: f.report },
      body: { contacts: [f.contact] },
    });
    await fixture.server.scheduler.settle();
    await inactive(true);
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-02T14:00:00Z');
    expect(fixture.simulators.mails.list()).toEqual([]);
    const [edition] = await editionsOf(fixture, f.client);
    expect(edition).toMatchObject({ state: 'held', reason: expect.stringContaining('deactivated by Ines Tallow') });
    await inactive(false);
    await fixture.server.scheduler.settle();
    expect(fixture.simulators.mails.list()).toEqual([]);
  });
});

describe('clients out of CSV', () => {
  beforeEach(async () => {
    fixture = await openTestFixture();
    f = await furnish(fixture, false);
    params = { client: f.client };
  });
  const bring = (text: string, seen: string | null = null, who: Visitor = fixture.owner) =>
    who.ask('POST /api/clients/import', { body: { text, seen } });
  const TEXT = [
    'Client;Website;Time zone;Currency;Language;Tags;Manager;First name;Last name;Email;Role;Colour of the door',
    'Skerry Boats;skerry.example;europe/london;gbp;en-GB;North, Shops;joren@fernglass.example;Odd;Skarre;odd@skerry.example;Owner;red',
    'skerry boats;;;;;;;Una;Skarre;una@skerry.example;;',
    'Tarnbeck Pottery;;;;;North;;Petra;Lund;PETRA@tarnbeck.example;;',
    ';;;;;;;;;x@y.example;;',
    'Bad Zone;;Mars/Olympus;;;;;;;;;',
    'Bad Mail;;;;;;;Nil;;nil at skerry;;',
    'Bad Manager;;;;;;Nobody Here;;;;;',
  ].join('\r\n');

  it('are looked at row by row first, and brought as they were looked at', async () => {
    const seen = (await bring(TEXT)).body;
    expect(seen).toMatchObject({ done: false, unread: ['Colour of the door'], clients: 1, contacts: 2, leftOut: 4 });
    expect(seen.rows.map((r) => [r.line, r.problem ?? r.does.join(' ')])).toEqual([
      [
        2,
        'Creates the client: Europe/London, GBP, en-GB. Adds the contact Odd Skarre, odd@skerry.example. Tags it North, Shops. Assigns it to Joren Vask.',
      ],
      [3, 'Adds the contact Una Skarre, una@skerry.example.'],
      [4, 'petra@tarnbeck.example is already a contact: no change. Tags it North.'],
      [5, 'Client name missing.'],
      [6, expect.stringMatching(/^zone: /)],
      [7, expect.stringMatching(/^email: .*valid email address/)],
      [8, 'Nobody Here isn’t an owner or manager.'],
    ]);
    expect((await fixture.owner.ask('GET /api/clients')).body.total).toBe(1);
    expect((await bring(`${TEXT}\r\nLate;;;;;;;;;;;`, seen.seen)).status).toBe(409);
    expect((await bring(TEXT, seen.seen)).body.done).toBe(true);
    const { clients } = (await fixture.owner.ask('GET /api/clients')).body;
    expect(clients.map((c) => [c.name, c.manager, c.tags])).toEqual([
      ['Skerry Boats', 'Joren Vask', ['North', 'Shops']],
      ['Tarnbeck Pottery', 'Ines Tallow', ['North']],
    ]);
    // Brought once more, nothing is there twice.
    const again = (await bring(TEXT)).body;
    expect(again).toMatchObject({ clients: 0, contacts: 0 });
    expect((await bring(TEXT, seen.seen)).status).toBe(409);
  });

  it('are there once, though two people bring the same file at once: what the other one made meanwhile is left', async () => {
    const text = ['client,email', ...Array.from({ length: 12 }, (_, i) => `Hut ${i},h${i}@huts.example`)].join('\n');
    const { seen } = (await bring(text)).body;
    const answers = await Promise.all([bring(text, seen), bring(text, seen)]);
    const { clients } = (await fixture.owner.ask('GET /api/clients')).body;
    expect(clients.map((c) => c.name).filter((name) => name.startsWith('Hut'))).toHaveLength(12);
    for (const { status, body } of answers) {
      if (status === 409) continue;
      for (const row of body.rows) expect(row.problem ?? '').toMatch(/^$|^Someone changed this client in the meantime/);
    }
    expect(answers.reduce((n, { body }) => n + (body.clients ?? 0), 0)).toBe(12);
  });

  it('let others write while a long file is brought', async () => {
    const text = ['client,tags', ...Array.from({ length: 120 }, (_, i) => `Hut ${i},North`)].join('\n');
    const { seen } = (await bring(text)).body;
    let isBrought = false;
    const bringing = bring(text, seen).finally(() => {
      isBrought = true;
    });
    const between = await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Skerry Boats' } });
    expect([between.status, isBrought]).toEqual([200, false]);
    expect((await bringing).body).toMatchObject({ done: true, clients: 120, leftOut: 0 });
  });

  it('are found by their id, whatever they are called by now, and changed by it', async () => {
    const rows = (...more: string[]) => ['Id,Client,Website,Language,Email', ...more].join('\n');
    const take = async (text: string) => {
      const { seen, rows: said } = (await bring(text)).body;
      return { said: said.map((r) => r.problem ?? r.does.join(' ')), ...(await bring(text, seen)).body };
    };
    const made = await take(rows('K-7,Skerry Boats,skerry.example,French,odd@skerry.example'));
    expect(made).toMatchObject({ clients: 1, changed: 0, contacts: 1 });
    const again = await take(rows('K-7,Skerry Ferries,boats.example,deutsch,odd@skerry.example'));
    expect(again.said).toEqual([
      'Renames Skerry Boats. Changes its website to boats.example. Changes its language to de-DE. odd@skerry.example is already a contact: no change.',
    ]);
    expect(again).toMatchObject({ clients: 0, changed: 1, contacts: 0 });
    const { clients } = (await fixture.owner.ask('GET /api/clients')).body;
    expect(clients.map((c) => c.name)).toEqual(['Skerry Ferries', 'Tarnbeck Pottery']);
    // A name finds one that has no id yet, and notes it; the time zone is no row's to change.
    expect((await take(rows('K-8,Tarnbeck Pottery,,,'))).said).toEqual(['Adds its id, K-8.']);
    const zone = (await bring('Id,Client,Time zone\nK-8,Tarnbeck Pottery,Europe/Berlin')).body;
    expect(zone.rows[0]!.problem).toContain('Its time zone is Europe/London');
    const { reference } = (await fixture.owner.ask('GET /api/clients/:client', { params })).body;
    expect(reference).toBe('K-8');
  });

  it('of one name are never guessed at: a person says which is meant', async () => {
    const two = (await bring('Client,Website,Email\nQuay,a.example,a@a.example\nQuay,b.example,b@b.example')).body;
    expect(two.rows.map((r) => r.problem)).toEqual([
      expect.stringContaining('Rows 2 and 3 give Quay a different website.'),
      expect.stringContaining('add an Id column'),
    ]);
    const apart = (await bring('Id,Client,Website\n1,Quay,a.example\n2,Quay,b.example')).body;
    expect(apart).toMatchObject({ clients: 2, leftOut: 0 });
    await bring('Id,Client,Website\n1,Quay,a.example\n2,Quay,b.example', apart.seen);
    expect((await bring('Client,Email\nQuay,c@c.example')).body.rows[0]!.problem).toContain(
      '2 clients are called Quay',
    );
    expect((await bring('Id,Client,Email\n2,Quay,c@c.example')).body).toMatchObject({ contacts: 1, leftOut: 0 });
  });

  it('come in any encoding: a file is read by its letters', async () => {
    const text = 'Client;Tags\nCafé Größe;Süd\nŻuraw;\n';
    const of = (data: Buffer) =>
      fixture.owner.ask('POST /api/clients/import', { body: { bytes: data.toString('base64') } });
    expect((await of(Buffer.from(text))).body).toMatchObject({ text, encoding: 'UTF-8', clients: 2 });
    const western = 'Client;Tags\nCafé Größe;Süd\nFür Übermorgen;\n';
    expect((await of(Buffer.from(western, 'latin1'))).body).toMatchObject({ text: western, clients: 2 });
    expect((await of(Buffer.from(`\ufeff${text}`, 'utf16le'))).body.rows[0]!.client).toBe('Café Größe');
    expect((await bring('  ')).fields.text).toContain('Choose a file');
  });

  it('are the member’s own: a manager changes none that they do not see, and gives away none of another’s', async () => {
    const manager = await visit(fixture.server.url, MANAGER);
    const mine = (await bring('client,manager\nTarnbeck Pottery,\nNew One,ines@fernglass.example', null, manager)).body;
    // Of a client that they do not see, they learn nothing: to them it is a new one.
    expect(mine.rows[0]!.does[0]).toContain('Creates the client:');
    const sees = await memberOf(fixture, 'sanne@fernglass.example', 'manager', [f.client]);
    const taken = (await bring('client,manager\nTarnbeck Pottery,sanne@fernglass.example', null, sees)).body;
    expect(taken.rows[0]!.problem).toContain('Only an owner or the manager of');
  });

  it('are refused where no row says what the columns are', async () => {
    expect((await bring('a,b\n1,2')).fields.text).toContain(
      'The first row must be column headings and include “Client”. Optional: Id, Website, Time zone, Currency, Language, Tags, Manager, First name, Last name, Email, Role, Phone, Notes.',
    );
    expect((await bring(`client\n${'x\n'.repeat(5_001)}`)).fields.text).toContain('5000 rows');
  });
});
