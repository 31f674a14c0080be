import ICAL from 'ical.js';
import { describe, expect, it } from 'vitest';
import { editionById } from '../store/editions.ts';
import { scheduleFor, visit } from '../test/harness.ts';
import { planningFixture } from '../test/planning.ts';

const t = planningFixture();

describe('one run of a schedule', () => {
  it('goes where it was moved to, covers what was said, and is as before once that is taken back', async () => {
    const id = await t.start();
    expect((await t.setRun(id, '2026-11-03', { moved: { date: '2026-11-07', time: '10:30' } })).status).toBe(200);
    await t.fixture.moveTo('2026-11-03T12:00:00Z');
    expect(await t.editions()).toEqual([]);
    const covers = { from: '2026-10-01', to: '2026-10-15' };
    await t.setRun(id, '2026-11-03', { moved: { date: '2026-11-07', time: '10:30' }, covers });
    await t.fixture.moveTo('2026-11-07T10:30:30Z');
    expect(await t.edition()).toMatchObject({ state: 'sent', dueAt: '2026-11-07T10:30:00.000Z', period: covers });
    // It went: nothing of it can be changed any more.
    const late = await t.setRun(id, '2026-11-03', {});
    expect(late.fields.exceptions).toContain('was sent');
    expect((await t.setRun(id, '2026-12-03', { skipped: true })).body.input.exceptions['2026-12-03']).toEqual({
      skipped: true,
    });
    expect(Object.keys((await t.setRun(id, '2026-12-03', {})).body.input.exceptions)).toEqual(['2026-11-03']);
  });

  it('is left out with what is drawn already, and is made all the same when that is taken back in time', async () => {
    const id = await t.start();
    await t.fixture.moveTo('2026-11-03T06:00:00Z');
    expect((await t.edition()).state).toBe('ready');
    await t.setRun(id, '2026-11-03', { skipped: true });
    expect(await t.edition()).toMatchObject({ state: 'skipped' });
    await t.setRun(id, '2026-11-03', {});
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect((await t.edition()).state).toBe('sent');
    expect(t.mails()).toHaveLength(1);
  });

  it.each([
    ['a date without a run', '2026-11-04', { skipped: true }, 'has no run on 4 November 2026'],
    ['can’t be moved to the past.', '2026-11-03', { moved: { date: '2026-11-01', time: '08:00' } }, 'to the past'],
    ['half a year', '2026-11-03', { moved: { date: '2027-05-03', time: '08:00' } }, 'at most 100 days'],
  ])('is not moved to, or left out on, %s', async (_, nominal, body, words) => {
    const id = await t.start();
    const refused = await t.setRun(id, nominal, body);
    expect(refused.status).toBe(422);
    expect(refused.fields.exceptions).toContain(words);
  });

  it('says what a change acts on before it is saved, and who changed what after', async () => {
    const id = await t.start();
    await t.fixture.moveTo('2026-11-03T06:00:00Z');
    const { input } = await t.schedule(id);
    const params = { schedule: id };
    const later = { ...input, time: '11:00' };
    const effects = (await t.ask('POST /api/schedules/:schedule/effects', { params, body: later })).body;
    expect(effects.editions).toMatchObject([
      { label: 'Monthly overview, 3 November 2026', becomes: 'is sent at 11:00 on 3 November 2026' },
    ]);
    expect((await t.edition()).dueAt).toBe('2026-11-03T08:00:00.000Z');
    await t.ask('PUT /api/schedules/:schedule', { params, body: later });
    expect((await t.edition()).dueAt).toBe('2026-11-03T11:00:00.000Z');
    const [last] = (await t.ask('GET /api/schedules/:schedule/history', { params })).body;
    expect(last).toMatchObject({
      who: 'Ines Tallow',
      action: 'schedule.changed',
      changed: [{ part: 'time', before: '08:00', after: '11:00' }],
    });
  });
});

describe('a schedule that is paused until a day', () => {
  it('shows the runs after it, sends none before it, and goes on by itself', async () => {
    const id = await t.start({
      rule: { freq: 'weekly', every: 1, weekdays: [2] },
      period: { kind: 'rolling', days: 7 },
    });
    const params = { schedule: id };
    const body = { active: false, resumesOn: '2026-11-17' };
    expect((await t.ask('PUT /api/schedules/:schedule/active', { params, body })).body.resumesOn).toBe('2026-11-17');
    const shown = (await t.ask('GET /api/almanac', { query: { client: t.f.client } })).body.clients[0]!.marks;
    expect(shown.map((m) => m.date)).toEqual(['2026-11-17', '2026-11-24', '2026-12-01']);
    await t.fixture.moveTo('2026-11-12T12:00:00Z');
    expect(t.mails()).toEqual([]);
    await t.fixture.moveTo('2026-11-17T08:00:30Z');
    expect((await t.schedule(id)).active).toBe(true);
    expect((await t.editions()).map((e) => [e.dueAt.slice(0, 10), e.state])).toEqual([['2026-11-17', 'sent']]);
    const past = await t.ask('PUT /api/schedules/:schedule/active', { params, body });
    expect(past.fields.resumesOn).toContain('Choose a future date.');
  });
});

describe('an edition that somebody is asked about', () => {
  it('waits for them past its time, goes once it is signed off, and that can be taken back before', async () => {
    await t.start({ signOff: { rule: 'first', asks: null } });
    await t.fixture.moveTo('2026-11-02T18:00:00Z');
    const waiting = await t.edition();
    expect(waiting).toMatchObject({ state: 'review', asks: { who: 'Ines Tallow', until: null } });
    const needs = (await t.ask('GET /api/desk')).body.needs;
    expect(needs.find((n) => n.title.includes(': awaiting approval'))?.action.label).toBe('Review and approve');
    await t.sendSeen(waiting.id);
    expect(await t.edition()).toMatchObject({ state: 'ready', may: { takeBack: true } });
    expect(t.mails()).toEqual([]);
    await t.ask('POST /api/editions/:edition/take-back', { params: { edition: waiting.id } });
    await t.fixture.server.scheduler.settle();
    expect((await t.edition()).state).toBe('review');
    await t.fixture.moveTo('2026-11-03T12:00:00Z');
    expect(t.mails()).toEqual([]);
    await t.sendSeen(waiting.id);
    expect((await t.edition()).state).toBe('sent');
    expect(t.mails()).toHaveLength(1);
    // Each approval stays: who gave it, when, for which pages and mails, and whether it was taken back.
    const { store } = t.fixture.server;
    const approvals = await store.selectFrom('approval').selectAll().orderBy('at').execute();
    const { approval_id, pdf } = (await editionById(store, waiting.id))!;
    expect(approvals.map((a) => [a.edition_id, a.taken_back_at !== null])).toEqual([
      [waiting.id, true],
      [waiting.id, false],
    ]);
    expect(approvals[1]!.id).toBe(approval_id);
    expect(approvals[1]!.at).toMatch(/^2026-11-03T12:00/);
    expect(new Set(approvals.map((a) => a.member_id)).size).toBe(1);
    expect(approvals[1]!.hashes).toContain(pdf);
  });

  it('goes as it was signed off, whatever the figures say since; but not to who was taken out', async () => {
    const uwe = (await t.addContact('Uwe')).body.id;
    const readers = [{ contact: t.f.contact }, { contact: uwe }];
    const id = await t.start({ signOff: { rule: 'first', asks: null }, readers });
    await t.fixture.moveTo('2026-11-02T18:00:00Z');
    const { id: edition1 } = await t.edition();
    await t.sendSeen(edition1);
    const note = { from: '2026-10-12', to: '2026-10-12', text: 'The kiln was being mended', inReports: true };
    await t.ask('POST /api/clients/:client/notes', { params: { client: t.f.client }, body: note });
    const { input } = await t.schedule(id);
    await t.ask('PUT /api/schedules/:schedule', {
      params: { schedule: id },
      body: { ...input, readers: [{ contact: t.f.contact }] },
    });
    await t.fixture.server.scheduler.settle();
    expect((await t.edition()).state).toBe('ready');
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect((await t.edition()).state).toBe('sent');
    expect(t.mails().map((m) => m.to)).toEqual(['petra@tarnbeck.example']);
  });

  it('goes by itself once nobody has held it by the time until which they were asked', async () => {
    await t.start({ signOff: { rule: 'until', until: '10:00', asks: null } });
    await t.fixture.moveTo('2026-11-03T08:30:00Z');
    expect(await t.edition()).toMatchObject({ state: 'review', asks: { until: '2026-11-03T10:00:00.000Z' } });
    await t.fixture.moveTo('2026-11-03T10:00:30Z');
    expect((await t.edition()).state).toBe('sent');
    const early = { ...scheduleFor(t.f), signOff: { rule: 'until', until: '07:00', asks: null } };
    const refused = await t.ask('POST /api/clients/:client/schedules', { params: { client: t.f.client }, body: early });
    expect(refused.fields['signOff.until']).toContain('The approval deadline can’t be before the send time.');
  });
});

describe('a schedule', () => {
  it('without readers keeps its editions in the archive, where that is what was asked for', async () => {
    await t.start({ readers: [], archive: true });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect(await t.edition()).toMatchObject({ state: 'ready', hasPdf: true, readers: [] });
    expect(t.mails()).toEqual([]);
  });

  it('sends chosen pages, in another language, under a name of its own, with the figures beside', async () => {
    const report = (await t.ask('GET /api/reports/:report', { params: { report: t.f.report } })).body;
    const [first] = report.released!.pages;
    const chosen = { pages: [first!.id], language: 'de-DE', fileName: '{{client.name}} {{period.from}}' };
    const id = await t.start({ ...chosen, formats: ['csv', 'xlsx'] });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    const mail = (await t.fixture.simulators.mails.read(t.mails()[0]!.id))!.parsed;
    expect(mail.attachments.map((a) => a.filename)).toEqual([
      'Tarnbeck Pottery 1. Oktober 2026.pdf',
      'Tarnbeck Pottery 1. Oktober 2026.csv',
      'Tarnbeck Pottery 1. Oktober 2026.xlsx',
    ]);
    expect(mail.attachments[1]!.content.toString('utf8')).toContain(';');
    const lost = await t.ask('PUT /api/schedules/:schedule', {
      params: { schedule: id },
      body: { ...(await t.schedule(id)).input, pages: ['bl_unknown'] },
    });
    expect(lost.fields.pages).toContain('Choose pages');
  });

  it('writes one mail for all of its readers, each in their line, with one copy for each', async () => {
    const uwe = (await t.addContact('Uwe', { mailLine: 'cc' })).body.id;
    const olga = (await t.addContact('Olga')).body.id;
    const list = (
      await t.ask('POST /api/clients/:client/lists', {
        params: { client: t.f.client },
        body: { name: 'Board', contacts: [olga, t.f.contact] },
      })
    ).body.id;
    await t.start({ mailing: 'one', readers: [{ contact: t.f.contact }, { contact: uwe }, { list, as: 'bcc' }] });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect(
      t
        .mails()
        .map((m) => m.to)
        .sort(),
    ).toEqual(['olga@tarnbeck.example', 'petra@tarnbeck.example', 'uwe@tarnbeck.example']);
    for (const { id } of t.mails()) {
      const { headers } = (await t.fixture.simulators.mails.read(id))!.parsed;
      expect(JSON.stringify(headers.get('to'))).toContain('petra@tarnbeck.example');
      expect(JSON.stringify(headers.get('cc'))).toContain('uwe@tarnbeck.example');
      expect(JSON.stringify([...headers])).not.toContain('olga@tarnbeck.example');
    }
  });
});

describe('the guard', () => {
  it('asks once about an address elsewhere, and remembers the answer', async () => {
    const asked = await t.addContact('Nils', { email: 'nils@elsewhere.example' });
    expect(asked.status).toBe(422);
    expect(asked.fields.outside).toContain('isn’t at Tarnbeck');
    const alone = await t.addContact('Nils', { email: 'nils@elsewhere.example', outside: 'address' });
    expect(alone.body).toMatchObject({ stopped: null });
    expect((await t.addContact('Mara', { email: 'mara@elsewhere.example' })).status).toBe(422);
    await t.addContact('Mara', { email: 'mara@elsewhere.example', outside: 'domain' });
    expect((await t.addContact('Tess', { email: 'tess@elsewhere.example' })).status).toBe(200);
  });

  it('holds an edition for an address that nobody approved, and lets it go once somebody has', async () => {
    const params = { client: t.f.client };
    // A list of addresses may hold any: nobody was asked about each.
    const text = 'Nils Holm <nils@elsewhere.example>';
    const { seen } = (await t.ask('POST /api/clients/:client/contacts/many', { params, body: { text } })).body;
    await t.ask('POST /api/clients/:client/contacts/many', { params, body: { text, seen } });
    const nils = (await t.ask('GET /api/clients/:client', { params })).body.contacts.find(
      (c) => c.firstName === 'Nils',
    )!;
    expect(nils.stopped).toContain('has an unapproved address outside the client’s domains.');
    await t.start({ readers: [{ contact: t.f.contact }, { contact: nils.id }] });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    expect(await t.edition()).toMatchObject({ state: 'held', reason: expect.stringContaining('Approve it') });
    expect(t.mails()).toEqual([]);
    const { firstName, lastName, email } = nils;
    await t.ask('PUT /api/clients/:client/contacts/:contact', {
      params: { ...params, contact: nils.id },
      body: { firstName, lastName, email, outside: 'address' },
    });
    await t.fixture.server.scheduler.settle();
    const waits = await t.edition();
    if (waits.state === 'held') await t.sendSeen(waits.id);
    expect((await t.edition()).state).toBe('sent');
    expect(t.mails()).toHaveLength(2);
  });

  it('passes over who has left, says so, and does not take them anew', async () => {
    const uwe = (await t.addContact('Uwe')).body.id;
    const readers = [{ contact: t.f.contact }, { contact: uwe }];
    await t.start({ readers });
    await t.ask('PUT /api/clients/:client/contacts/:contact', {
      params: { client: t.f.client, contact: uwe },
      body: { firstName: 'Uwe', lastName: 'Kell', email: 'uwe@tarnbeck.example', standing: 'left' },
    });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    const { state, deliveries } = await t.edition();
    expect(state).toBe('sent');
    expect(deliveries.find((d) => d.name === 'Uwe Kell')).toMatchObject({
      state: 'withdrawn',
      reply: expect.stringContaining('has left. Choose another reader.'),
    });
    expect(t.mails().map((m) => m.to)).toEqual(['petra@tarnbeck.example']);
    const body = { ...scheduleFor(t.f), readers };
    const refused = await t.ask('POST /api/clients/:client/schedules', { params: { client: t.f.client }, body });
    expect(refused.fields.readers).toContain('Uwe Kell has left');
  });
});

describe('groups of readers', () => {
  const groups = (olga: string) => ({
    by: 'device',
    without: [],
    groups: [
      { id: 'g1', value: 'Mobile', readers: [{ contact: t.f.contact }], greeting: 'Dear friends of phones,' },
      { id: 'g2', value: 'Desktop', readers: [{ contact: olga }], fileName: 'Desktop {{period.label}}' },
    ],
  });

  it('have an edition each, of their value alone, with readers, greeting and file of their own', async () => {
    const olga = (await t.addContact('Olga')).body.id;
    const id = await t.start({ readers: [], groups: groups(olga), message: 'Visits were {{figure.visits}}.' });
    await t.fixture.moveTo('2026-11-03T08:00:30Z');
    const made = await t.editions();
    expect(made.map((e) => [e.group, e.state]).sort()).toEqual([
      ['Desktop', 'sent'],
      ['Mobile', 'sent'],
    ]);
    const read = await Promise.all(t.mails().map((m) => t.fixture.simulators.mails.read(m.id)));
    const by = Object.fromEntries(read.map((m) => [m!.mail.to, m!.parsed]));
    expect(by['petra@tarnbeck.example']!.text).toContain('Dear friends of phones,');
    expect(by['olga@tarnbeck.example']!.attachments[0]!.filename).toBe('Desktop October 2026.pdf');
    const visits = (to: string) => /Visits were ([\d,]+)/.exec(by[to]!.text ?? '')![1];
    expect(visits('petra@tarnbeck.example')).not.toBe(visits('olga@tarnbeck.example'));
    // A group that is taken out gets nothing more; the others go on.
    const { input } = await t.schedule(id);
    const { groups: both } = input.groups!;
    await t.ask('PUT /api/schedules/:schedule', {
      params: { schedule: id },
      body: { ...input, groups: { ...input.groups!, groups: both.slice(0, 1), without: ['Desktop'] } },
    });
    await t.fixture.moveTo('2026-12-03T08:00:30Z');
    expect(
      t
        .mails()
        .map((m) => m.to)
        .filter((to) => to.startsWith('olga')),
    ).toHaveLength(1);
  });

  it('are warned of before a run: a value without readers, a value that is new, a dimension that cannot be counted', async () => {
    const olga = (await t.addContact('Olga')).body.id;
    const body = { ...scheduleFor(t.f), readers: [], groups: groups(olga) };
    body.groups.groups[1]!.readers = [];
    const params = { client: t.f.client };
    const { runs } = (await t.ask('POST /api/clients/:client/schedules/look-ahead', { params, body })).body;
    const said = runs[0]!.warnings.map((w) => w.text).join(' ');
    expect(said).toContain('No reader for Desktop.');
    expect(said).toContain('no group, so nobody receives');
    const odd = { ...body, groups: { ...body.groups, by: 'location' } };
    const refused = await t.ask('POST /api/clients/:client/schedules', { params, body: odd });
    expect(refused.fields.leftOut).toMatch(/The filter can’t apply to .* by .*Location/);
  });

  it('are read out of CSV: values as the data writes them, people by address, lists by name', async () => {
    const params = { client: t.f.client };
    await t.ask('POST /api/clients/:client/lists', { params, body: { name: 'Board', contacts: [t.f.contact] } });
    const text =
      'Value,Email,Greeting\nemail,petra@tarnbeck.example,Dear all\nDirect,board,\nDirect,who@nowhere.example,\n,x@y.example,\nPigeon,board,';
    const read = (await t.ask('POST /api/clients/:client/groups', { params, body: { by: 'channel', text } })).body;
    expect(read.groups).toMatchObject([
      { value: 'Email', greeting: 'Dear all', readers: [{ contact: t.f.contact }] },
      { value: 'Direct', readers: [{ list: expect.any(String) }] },
      { value: 'Pigeon' },
    ]);
    expect(read.problems.map((p) => p.line)).toEqual([4, 5, 6]);
    const blind = await t.ask('POST /api/clients/:client/groups', {
      params,
      body: { by: 'channel', text: 'a,b\n1,2' },
    });
    expect(blind.fields.text).toContain('value');
  });
});

describe('the Almanac', () => {
  it('shows what went and what will, with whom it reaches; and clients of which nothing is planned', async () => {
    await t.start({ rule: { freq: 'monthly', every: 1, on: { day: 2 } }, time: '12:00' });
    await t.fixture.moveTo('2026-11-02T12:00:30Z');
    const bare = { ...scheduleFor(t.f), name: 'Bare Hill' };
    const made = await t.ask('POST /api/clients', {
      body: {
        name: bare.name,
        zone: 'Europe/London',
        currency: 'GBP',
        language: 'en-GB',
        weekStart: 1,
        fiscalStart: 1,
        startDate: '2025-01-01',
      },
    });
    expect(made.status).toBe(200);
    const { body } = await t.ask('GET /api/almanac');
    expect(body).toMatchObject({ from: '2026-11-02', to: '2026-12-06', today: '2026-11-02', total: 2, empty: 1 });
    const marks = body.clients.find((c) => c.name === 'Tarnbeck Pottery')!.marks;
    expect(marks.map((m) => [m.date, m.state, m.period, m.readers, m.movable])).toEqual([
      ['2026-11-02', 'sent', 'October 2026', ['Petra Lund'], false],
      ['2026-12-02', 'planned', 'November 2026', ['Petra Lund'], true],
    ]);
    const empty = (await t.ask('GET /api/almanac', { query: { empty: 'true' } })).body;
    expect(empty.clients.map((c) => c.name)).toEqual(['Bare Hill']);
    const quarter = (await t.ask('GET /api/almanac', { query: { weeks: '13', from: '2027-09-06' } })).body;
    expect(quarter.clients.find((c) => c.id === t.f.client)!.marks.map((m) => m.date)).toEqual([
      '2027-10-02',
      '2027-11-02',
      '2027-12-02',
    ]);
  });

  it('looks ahead over any span, with warnings, as rows and as CSV', async () => {
    await t.start({ rule: { freq: 'weekly', every: 1, weekdays: [6] } });
    const query = { from: '2026-11-02', to: '2026-11-30' };
    const { rows, total } = (await t.ask('GET /api/look-ahead', { query })).body;
    expect(total).toBe(4);
    expect(rows[0]).toMatchObject({ date: '2026-11-07', title: 'Monthly overview', readers: ['Petra Lund'] });
    expect(rows[0]!.warnings.join(' ')).toContain('No consent recorded for Petra Lund.');
    const file = await t.fixture.owner.raw(`/api/look-ahead/table?${new URLSearchParams(query)}`);
    const lines = (await file.text()).trim().split('\n');
    expect(lines).toHaveLength(5);
    expect(lines[1]).toContain('Tarnbeck Pottery');
    const long = await t.ask('GET /api/look-ahead', { query: { from: '2026-01-01', to: '2029-01-01' } });
    expect(long.fields.to).toContain('400 days at most');
  });

  it('is a calendar under a private address, which can be taken away', async () => {
    await t.start();
    const { url } = (await t.ask('POST /api/calendar-link')).body;
    const path = new URL(url).pathname;
    const anybody = await visit(t.fixture.server.url);
    const first = await anybody.raw(path);
    expect(first.headers.get('content-type')).toContain('text/calendar');
    const events = new ICAL.Component(ICAL.parse(await first.text())).getAllSubcomponents('vevent');
    const [event] = events.map((e) => new ICAL.Event(e));
    expect(event!.summary).toBe('Tarnbeck Pottery: Monthly overview');
    expect(event!.startDate.toJSDate().toISOString()).toBe('2026-11-03T08:00:00.000Z');
    expect(event!.description).toContain('Covers October 2026');
    // The same answer until something changes, however often it is asked for: its stamps are those of the first.
    const text = () => anybody.raw(path).then((r) => r.text());
    const one = await text();
    t.fixture.server.clock.moveTo('2026-11-02T08:43:30Z');
    expect(await text()).toBe(one);
    await t.start({ time: '11:45' });
    expect(await text()).not.toBe(one);
    await t.ask('POST /api/calendar-link');
    expect((await anybody.raw(path)).status).toBe(401);
    await t.ask('DELETE /api/calendar-link');
    expect((await t.ask('GET /api/calendar-link')).body.since).toBeNull();
  });
});
