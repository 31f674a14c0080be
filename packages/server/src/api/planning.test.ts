import ICAL from 'ical.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  editionsOf,
  type Furnished,
  memberOf,
  openFurnishedBed,
  scheduleFor,
  sendSeen,
  type TestBed,
  visit,
} from '../test/harness.ts';

let bed: TestBed;
let f: Furnished;
beforeEach(async () => {
  ({ bed, f } = await openFurnishedBed());
});
afterEach(() => bed.close());

const ask: TestBed['owner']['ask'] = (...args) => bed.owner.ask(...args);
const start = async (change: object = {}) => {
  const params = { client: f.client };
  const made = await ask('POST /api/clients/:client/schedules', { params, body: { ...scheduleFor(f), ...change } });
  expect(made.status, JSON.stringify(made.body)).toBe(200);
  return made.body.id;
};
const schedule = async (id: string) => (await ask('GET /api/schedules/:schedule', { params: { schedule: id } })).body;
const setRun = (id: string, nominal: string, body: object) =>
  ask('PUT /api/schedules/:schedule/runs/:nominal', { params: { schedule: id, nominal }, body });
const edition = async () => (await editionsOf(bed, f.client))[0]!;
const mails = () => bed.standins.mails.list();
const addContact = async (firstName: string, more: object = {}) => {
  const email = `${firstName.toLowerCase()}@tarnbeck.example`;
  const body = { firstName, lastName: 'Kell', email, ...more };
  return ask('POST /api/clients/:client/contacts', { params: { client: f.client }, body });
};

describe('one run of a schedule', () => {
  it('goes where it was moved to, covers what was said, and is as before once that is taken back', async () => {
    const id = await start();
    expect((await setRun(id, '2026-11-03', { moved: { date: '2026-11-07', time: '10:30' } })).status).toBe(200);
    await bed.moveTo('2026-11-03T12:00:00Z');
    expect(await editionsOf(bed, f.client)).toEqual([]);
    const covers = { from: '2026-10-01', to: '2026-10-15' };
    await setRun(id, '2026-11-03', { moved: { date: '2026-11-07', time: '10:30' }, covers });
    await bed.moveTo('2026-11-07T10:30:30Z');
    expect(await edition()).toMatchObject({ state: 'sent', dueAt: '2026-11-07T10:30:00.000Z', period: covers });
    // It went: nothing of it can be changed any more.
    const late = await setRun(id, '2026-11-03', {});
    expect(late.fields.exceptions).toContain('was sent');
    expect((await setRun(id, '2026-12-03', { skipped: true })).body.input.exceptions['2026-12-03']).toEqual({
      skipped: true,
    });
    expect(Object.keys((await setRun(id, '2026-12-03', {})).body.input.exceptions)).toEqual(['2026-11-03']);
  });

  it('is left out with what is drawn already, and is made all the same when that is taken back in time', async () => {
    const id = await start();
    await bed.moveTo('2026-11-03T06:00:00Z');
    expect((await edition()).state).toBe('cleared');
    await setRun(id, '2026-11-03', { skipped: true });
    expect(await edition()).toMatchObject({ state: 'skipped' });
    await setRun(id, '2026-11-03', {});
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect((await edition()).state).toBe('sent');
    expect(mails()).toHaveLength(1);
  });

  it.each([
    ['a date without a run', '2026-11-04', { skipped: true }, 'has no run on 4 November 2026'],
    ['a time that has passed', '2026-11-03', { moved: { date: '2026-11-01', time: '08:00' } }, 'time that has passed'],
    ['half a year', '2026-11-03', { moved: { date: '2027-05-03', time: '08:00' } }, '100 days at most'],
  ])('is not moved to, or left out on, %s', async (_, nominal, body, words) => {
    const id = await start();
    const refused = await setRun(id, nominal, body);
    expect(refused.status).toBe(422);
    expect(refused.fields.exceptions).toContain(words);
  });

  it('says what a change acts on before it is saved, and who changed what after', async () => {
    const id = await start();
    await bed.moveTo('2026-11-03T06:00:00Z');
    const { input } = await schedule(id);
    const params = { schedule: id };
    const later = { ...input, time: '11:00' };
    const effects = (await ask('POST /api/schedules/:schedule/effects', { params, body: later })).body;
    expect(effects.editions).toMatchObject([
      { label: 'Monthly overview, 3 November 2026', becomes: 'goes at 11:00 on 3 November 2026' },
    ]);
    expect((await edition()).dueAt).toBe('2026-11-03T08:00:00.000Z');
    await ask('PUT /api/schedules/:schedule', { params, body: later });
    expect((await edition()).dueAt).toBe('2026-11-03T11:00:00.000Z');
    const [last] = (await ask('GET /api/schedules/:schedule/history', { params })).body;
    expect(last).toMatchObject({
      who: 'Ines Tallow',
      action: 'schedule.changed',
      changed: [{ part: 'time', before: '08:00', after: '11:00' }],
    });
  });
});

describe('a schedule that is paused until a day', () => {
  it('shows the runs after it, sends none before it, and goes on by itself', async () => {
    const id = await start({ rule: { freq: 'weekly', every: 1, weekdays: [2] }, period: { kind: 'rolling', days: 7 } });
    const params = { schedule: id };
    const body = { active: false, resumesOn: '2026-11-17' };
    expect((await ask('PUT /api/schedules/:schedule/active', { params, body })).body.resumesOn).toBe('2026-11-17');
    const shown = (await ask('GET /api/almanac', { query: { client: f.client } })).body.clients[0]!.marks;
    expect(shown.map((m) => m.date)).toEqual(['2026-11-17', '2026-11-24', '2026-12-01']);
    await bed.moveTo('2026-11-12T12:00:00Z');
    expect(mails()).toEqual([]);
    await bed.moveTo('2026-11-17T08:00:30Z');
    expect((await schedule(id)).active).toBe(true);
    expect((await editionsOf(bed, f.client)).map((e) => [e.dueAt.slice(0, 10), e.state])).toEqual([
      ['2026-11-17', 'sent'],
    ]);
    const past = await ask('PUT /api/schedules/:schedule/active', { params, body });
    expect(past.fields.resumesOn).toContain('a day to come');
  });
});

describe('an edition that somebody is asked about', () => {
  it('waits for them past its time, goes once it is signed off, and that can be taken back before', async () => {
    await start({ signOff: { rule: 'first', asks: null } });
    await bed.moveTo('2026-11-02T18:00:00Z');
    const waiting = await edition();
    expect(waiting).toMatchObject({ state: 'proof', asks: { who: 'Ines Tallow', until: null } });
    const needs = (await ask('GET /api/desk')).body.needs;
    expect(needs.find((n) => n.title.includes('waits to be signed off'))?.action.label).toBe('Look and sign off');
    await sendSeen(bed, waiting.id);
    expect(await edition()).toMatchObject({ state: 'cleared', may: { takeBack: true } });
    expect(mails()).toEqual([]);
    await ask('POST /api/editions/:edition/take-back', { params: { edition: waiting.id } });
    await bed.server.clockwork.settle();
    expect((await edition()).state).toBe('proof');
    await bed.moveTo('2026-11-03T12:00:00Z');
    expect(mails()).toEqual([]);
    await sendSeen(bed, waiting.id);
    expect((await edition()).state).toBe('sent');
    expect(mails()).toHaveLength(1);
  });

  it('goes as it was signed off, whatever the figures say since; but not to who was taken out', async () => {
    const uwe = (await addContact('Uwe')).body.id;
    const readers = [{ contact: f.contact }, { contact: uwe }];
    const id = await start({ signOff: { rule: 'first', asks: null }, readers });
    await bed.moveTo('2026-11-02T18:00:00Z');
    const { id: edition1 } = await edition();
    await sendSeen(bed, edition1);
    const note = { from: '2026-10-12', to: '2026-10-12', text: 'The kiln was being mended', inReports: true };
    await ask('POST /api/clients/:client/notes', { params: { client: f.client }, body: note });
    const { input } = await schedule(id);
    await ask('PUT /api/schedules/:schedule', {
      params: { schedule: id },
      body: { ...input, readers: [{ contact: f.contact }] },
    });
    await bed.server.clockwork.settle();
    expect((await edition()).state).toBe('cleared');
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect((await edition()).state).toBe('sent');
    expect(mails().map((m) => m.to)).toEqual(['petra@tarnbeck.example']);
  });

  it('goes by itself once nobody has held it by the time until which they were asked', async () => {
    await start({ signOff: { rule: 'until', until: '10:00', asks: null } });
    await bed.moveTo('2026-11-03T08:30:00Z');
    expect(await edition()).toMatchObject({ state: 'proof', asks: { until: '2026-11-03T10:00:00.000Z' } });
    await bed.moveTo('2026-11-03T10:00:30Z');
    expect((await edition()).state).toBe('sent');
    const early = { ...scheduleFor(f), signOff: { rule: 'until', until: '07:00', asks: null } };
    const refused = await ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body: early });
    expect(refused.fields['signOff.until']).toContain('before its send time');
  });
});

describe('a schedule', () => {
  it('without readers keeps its editions in the archive, where that is what was asked for', async () => {
    await start({ readers: [], archive: true });
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect(await edition()).toMatchObject({ state: 'cleared', hasPdf: true, readers: [] });
    expect(mails()).toEqual([]);
  });

  it('sends chosen pages, in another language, under a name of its own, with the figures beside', async () => {
    const report = (await ask('GET /api/reports/:report', { params: { report: f.report } })).body;
    const [first] = report.released!.pages;
    const chosen = { pages: [first!.id], language: 'de-DE', fileName: '{{client.name}} {{period.from}}' };
    const id = await start({ ...chosen, formats: ['csv', 'xlsx'] });
    await bed.moveTo('2026-11-03T08:00:30Z');
    const mail = (await bed.standins.mails.read(mails()[0]!.id))!.parsed;
    expect(mail.attachments.map((a) => a.filename)).toEqual([
      'Tarnbeck Pottery 1. Oktober 2026.pdf',
      'Tarnbeck Pottery 1. Oktober 2026.csv',
      'Tarnbeck Pottery 1. Oktober 2026.xlsx',
    ]);
    expect(mail.attachments[1]!.content.toString('utf8')).toContain(';');
    const lost = await ask('PUT /api/schedules/:schedule', {
      params: { schedule: id },
      body: { ...(await schedule(id)).input, pages: ['bl_unknown'] },
    });
    expect(lost.fields.pages).toContain('Choose pages');
  });

  it('writes one mail for all of its readers, each in their line, with one copy for each', async () => {
    const uwe = (await addContact('Uwe', { mailLine: 'cc' })).body.id;
    const olga = (await addContact('Olga')).body.id;
    const list = (
      await ask('POST /api/clients/:client/lists', {
        params: { client: f.client },
        body: { name: 'Board', contacts: [olga, f.contact] },
      })
    ).body.id;
    await start({ mailing: 'one', readers: [{ contact: f.contact }, { contact: uwe }, { list, as: 'bcc' }] });
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect(
      mails()
        .map((m) => m.to)
        .sort(),
    ).toEqual(['olga@tarnbeck.example', 'petra@tarnbeck.example', 'uwe@tarnbeck.example']);
    for (const { id } of mails()) {
      const { headers } = (await bed.standins.mails.read(id))!.parsed;
      expect(JSON.stringify(headers.get('to'))).toContain('petra@tarnbeck.example');
      expect(JSON.stringify(headers.get('cc'))).toContain('uwe@tarnbeck.example');
      expect(JSON.stringify([...headers])).not.toContain('olga@tarnbeck.example');
    }
  });
});

describe('the guard', () => {
  it('asks once about an address elsewhere, and remembers the answer', async () => {
    const asked = await addContact('Nils', { email: 'nils@elsewhere.example' });
    expect(asked.status).toBe(422);
    expect(asked.fields.outside).toContain('is not at tarnbeck.example');
    const alone = await addContact('Nils', { email: 'nils@elsewhere.example', outside: 'address' });
    expect(alone.body).toMatchObject({ stopped: null });
    expect((await addContact('Mara', { email: 'mara@elsewhere.example' })).status).toBe(422);
    await addContact('Mara', { email: 'mara@elsewhere.example', outside: 'domain' });
    expect((await addContact('Tess', { email: 'tess@elsewhere.example' })).status).toBe(200);
  });

  it('holds an edition for an address that nobody approved, and lets it go once somebody has', async () => {
    const params = { client: f.client };
    // A list of addresses may hold any: nobody was asked about each.
    const text = 'Nils Holm <nils@elsewhere.example>';
    const { seen } = (await ask('POST /api/clients/:client/contacts/many', { params, body: { text } })).body;
    await ask('POST /api/clients/:client/contacts/many', { params, body: { text, seen } });
    const nils = (await ask('GET /api/clients/:client', { params })).body.contacts.find((c) => c.firstName === 'Nils')!;
    expect(nils.stopped).toContain('nobody has approved');
    await start({ readers: [{ contact: f.contact }, { contact: nils.id }] });
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect(await edition()).toMatchObject({ state: 'held', reason: expect.stringContaining('Approve it') });
    expect(mails()).toEqual([]);
    const { firstName, lastName, email } = nils;
    await ask('PUT /api/clients/:client/contacts/:contact', {
      params: { ...params, contact: nils.id },
      body: { firstName, lastName, email, outside: 'address' },
    });
    await bed.server.clockwork.settle();
    const waits = await edition();
    if (waits.state === 'held') await sendSeen(bed, waits.id);
    expect((await edition()).state).toBe('sent');
    expect(mails()).toHaveLength(2);
  });

  it('passes over who has left, says so, and does not take them anew', async () => {
    const uwe = (await addContact('Uwe')).body.id;
    const readers = [{ contact: f.contact }, { contact: uwe }];
    await start({ readers });
    await ask('PUT /api/clients/:client/contacts/:contact', {
      params: { client: f.client, contact: uwe },
      body: { firstName: 'Uwe', lastName: 'Kell', email: 'uwe@tarnbeck.example', standing: 'left' },
    });
    await bed.moveTo('2026-11-03T08:00:30Z');
    const { state, deliveries } = await edition();
    expect(state).toBe('sent');
    expect(deliveries.find((d) => d.name === 'Uwe Kell')).toMatchObject({
      state: 'withdrawn',
      reply: expect.stringContaining('marked as having left'),
    });
    expect(mails().map((m) => m.to)).toEqual(['petra@tarnbeck.example']);
    const body = { ...scheduleFor(f), readers };
    const refused = await ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
    expect(refused.fields.readers).toContain('Uwe Kell is marked as having left');
  });
});

describe('groups of readers', () => {
  const groups = (olga: string) => ({
    by: 'device',
    without: [],
    groups: [
      { id: 'g1', value: 'Mobile', readers: [{ contact: f.contact }], greeting: 'Dear friends of phones,' },
      { id: 'g2', value: 'Desktop', readers: [{ contact: olga }], fileName: 'Desktop {{period.label}}' },
    ],
  });

  it('have an edition each, of their value alone, with readers, greeting and file of their own', async () => {
    const olga = (await addContact('Olga')).body.id;
    const id = await start({ readers: [], groups: groups(olga), message: 'Visits were {{figure.visits}}.' });
    await bed.moveTo('2026-11-03T08:00:30Z');
    const made = await editionsOf(bed, f.client);
    expect(made.map((e) => [e.group, e.state]).sort()).toEqual([
      ['Desktop', 'sent'],
      ['Mobile', 'sent'],
    ]);
    const read = await Promise.all(mails().map((m) => bed.standins.mails.read(m.id)));
    const by = Object.fromEntries(read.map((m) => [m!.mail.to, m!.parsed]));
    expect(by['petra@tarnbeck.example']!.text).toContain('Dear friends of phones,');
    expect(by['olga@tarnbeck.example']!.attachments[0]!.filename).toBe('Desktop October 2026.pdf');
    const visits = (to: string) => /Visits were ([\d,]+)/.exec(by[to]!.text ?? '')![1];
    expect(visits('petra@tarnbeck.example')).not.toBe(visits('olga@tarnbeck.example'));
    // A group that is taken out gets nothing more; the others go on.
    const { input } = await schedule(id);
    const { groups: both } = input.groups!;
    await ask('PUT /api/schedules/:schedule', {
      params: { schedule: id },
      body: { ...input, groups: { ...input.groups!, groups: both.slice(0, 1), without: ['Desktop'] } },
    });
    await bed.moveTo('2026-12-03T08:00:30Z');
    expect(
      mails()
        .map((m) => m.to)
        .filter((to) => to.startsWith('olga')),
    ).toHaveLength(1);
  });

  it('are warned of before a run: a value without readers, a value that is new, a dimension that cannot be counted', async () => {
    const olga = (await addContact('Olga')).body.id;
    const body = { ...scheduleFor(f), readers: [], groups: groups(olga) };
    body.groups.groups[1]!.readers = [];
    const params = { client: f.client };
    const { runs } = (await ask('POST /api/clients/:client/schedules/look-ahead', { params, body })).body;
    const said = runs[0]!.warnings.map((w) => w.text).join(' ');
    expect(said).toContain('Nobody reads the edition of Desktop.');
    expect(said).toContain('in no group: nobody is told');
    const odd = { ...body, groups: { ...body.groups, by: 'location' } };
    const refused = await ask('POST /api/clients/:client/schedules', { params, body: odd });
    expect(refused.fields['groups.by']).toContain('by all of Location');
  });

  it('are read out of CSV: values as the data writes them, people by address, lists by name', async () => {
    const params = { client: f.client };
    await ask('POST /api/clients/:client/lists', { params, body: { name: 'Board', contacts: [f.contact] } });
    const text =
      'Value,Email,Greeting\nemail,petra@tarnbeck.example,Dear all\nDirect,board,\nDirect,who@nowhere.example,\n,x@y.example,\nPigeon,board,';
    const read = (await ask('POST /api/clients/:client/groups', { params, body: { by: 'channel', text } })).body;
    expect(read.groups).toMatchObject([
      { value: 'Email', greeting: 'Dear all', readers: [{ contact: f.contact }] },
      { value: 'Direct', readers: [{ list: expect.any(String) }] },
      { value: 'Pigeon' },
    ]);
    expect(read.problems.map((p) => p.line)).toEqual([4, 5, 6]);
    const blind = await ask('POST /api/clients/:client/groups', { params, body: { by: 'channel', text: 'a,b\n1,2' } });
    expect(blind.fields.text).toContain('value');
  });
});

describe('the Almanac', () => {
  it('shows what went and what will, with whom it reaches; and clients of which nothing is planned', async () => {
    await start({ rule: { freq: 'monthly', every: 1, on: { day: 2 } }, time: '12:00' });
    await bed.moveTo('2026-11-02T12:00:30Z');
    const bare = { ...scheduleFor(f), name: 'Bare Hill' };
    const made = await ask('POST /api/clients', {
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
    const { body } = await ask('GET /api/almanac');
    expect(body).toMatchObject({ from: '2026-11-02', to: '2026-12-06', today: '2026-11-02', total: 2, empty: 1 });
    const marks = body.clients.find((c) => c.name === 'Tarnbeck Pottery')!.marks;
    expect(marks.map((m) => [m.date, m.state, m.period, m.readers, m.movable])).toEqual([
      ['2026-11-02', 'sent', 'October 2026', ['Petra Lund'], false],
      ['2026-12-02', 'planned', 'November 2026', ['Petra Lund'], true],
    ]);
    const empty = (await ask('GET /api/almanac', { query: { empty: 'true' } })).body;
    expect(empty.clients.map((c) => c.name)).toEqual(['Bare Hill']);
    const quarter = (await ask('GET /api/almanac', { query: { weeks: '13', from: '2027-09-06' } })).body;
    expect(quarter.clients.find((c) => c.id === f.client)!.marks.map((m) => m.date)).toEqual([
      '2027-10-02',
      '2027-11-02',
      '2027-12-02',
    ]);
  });

  it('looks ahead over any span, with warnings, as rows and as CSV', async () => {
    await start({ rule: { freq: 'weekly', every: 1, weekdays: [6] } });
    const query = { from: '2026-11-02', to: '2026-11-30' };
    const { rows, total } = (await ask('GET /api/look-ahead', { query })).body;
    expect(total).toBe(4);
    expect(rows[0]).toMatchObject({ date: '2026-11-07', title: 'Monthly overview', readers: ['Petra Lund'] });
    expect(rows[0]!.warnings.join(' ')).toContain('It is not noted that Petra Lund wants reports.');
    const file = await bed.owner.raw(`/api/look-ahead/table?${new URLSearchParams(query)}`);
    const lines = (await file.text()).trim().split('\n');
    expect(lines).toHaveLength(5);
    expect(lines[1]).toContain('Tarnbeck Pottery');
    const long = await ask('GET /api/look-ahead', { query: { from: '2026-01-01', to: '2029-01-01' } });
    expect(long.fields.to).toContain('400 days at most');
  });

  it('is a calendar under a private address, which can be taken away', async () => {
    await start();
    const { url } = (await ask('POST /api/calendar-link')).body;
    const path = new URL(url).pathname;
    const anybody = await visit(bed.server.url);
    const first = await anybody.raw(path);
    expect(first.headers.get('content-type')).toContain('text/calendar');
    const events = new ICAL.Component(ICAL.parse(await first.text())).getAllSubcomponents('vevent');
    const [event] = events.map((e) => new ICAL.Event(e));
    expect(event!.summary).toBe('Tarnbeck Pottery: Monthly overview');
    expect(event!.startDate.toJSDate().toISOString()).toBe('2026-11-03T08:00:00.000Z');
    expect(event!.description).toContain('Covers October 2026');
    await ask('POST /api/calendar-link');
    expect((await anybody.raw(path)).status).toBe(401);
    await ask('DELETE /api/calendar-link');
    expect((await ask('GET /api/calendar-link')).body.since).toBeNull();
  });
});

describe('all schedules', () => {
  it('are found by client, report, rhythm, reader, manager, state, and what ends soon', async () => {
    const weekly = await start({ rule: { freq: 'weekly', every: 1, weekdays: [2] }, lastDate: '2026-12-01' });
    const monthly = await start();
    await ask('PUT /api/schedules/:schedule/active', { params: { schedule: weekly }, body: { active: false } });
    const found = async (query: Record<string, string>) => (await ask('GET /api/schedules', { query })).body.all.sort();
    expect(await found({})).toEqual([weekly, monthly].sort());
    expect(await found({ rhythm: 'weekly' })).toEqual([weekly]);
    expect(await found({ state: 'paused' })).toEqual([weekly]);
    expect(await found({ ending: 'true' })).toEqual([weekly]);
    expect(await found({ reader: 'petra@' })).toHaveLength(2);
    expect(await found({ reader: 'nobody' })).toEqual([]);
    expect(await found({ text: 'overview' })).toHaveLength(2);
    const [row] = (await ask('GET /api/schedules', { query: { state: 'runs' } })).body.schedules;
    expect(row).toMatchObject({ next: '2026-11-03T08:00:00.000Z', readers: ['Petra Lund'], last: null });
  });

  it('are changed at once: seen first, done as seen, undone but for what was changed since', async () => {
    const [one, two] = [await start(), await start({ time: '09:00' })];
    const body = { schedules: [one, two], act: { do: 'retime', time: '07:30', zone: null } };
    const seen = (await ask('POST /api/schedules/many', { body })).body;
    expect(seen.rows.map((r) => [r.before, r.after, r.problem])).toEqual([
      ['08:00 Europe/London', '07:30 Europe/London', null],
      ['09:00 Europe/London', '07:30 Europe/London', null],
    ]);
    expect((await schedule(one)).input.time).toBe('08:00');
    // Changed between looking and doing: nothing is done.
    const { input } = await schedule(two);
    await ask('PUT /api/schedules/:schedule', { params: { schedule: two }, body: { ...input, time: '09:30' } });
    expect((await ask('POST /api/schedules/many', { body: { ...body, seen: seen.seen } })).status).toBe(409);
    const again = (await ask('POST /api/schedules/many', { body })).body;
    const { done } = (await ask('POST /api/schedules/many', { body: { ...body, seen: again.seen } })).body;
    expect((await schedule(one)).input.time).toBe('07:30');
    const now = (await schedule(two)).input;
    await ask('PUT /api/schedules/:schedule', { params: { schedule: two }, body: { ...now, subject: 'Another' } });
    const undone = (await ask('POST /api/schedules/many/:act/undo', { params: { act: done! } })).body;
    expect(undone).toEqual({ undone: 1, kept: ['“Monthly overview” of Tarnbeck Pottery'] });
    expect((await schedule(one)).input.time).toBe('08:00');
    expect((await schedule(two)).input).toMatchObject({ time: '07:30', subject: 'Another' });
    expect((await ask('POST /api/schedules/many/:act/undo', { params: { act: done! } })).status).toBe(409);
  });

  it.each([
    ['pause', { resumesOn: '2026-12-01' }, { active: false, resumesOn: '2026-12-01' }, { active: true }],
    ['extend', { lastDate: '2027-12-31' }, { input: { lastDate: '2027-12-31' } }, { input: { lastDate: null } }],
    [
      'signOff',
      { signOff: { rule: 'first', asks: null } },
      { input: { signOff: { rule: 'first' } } },
      { input: { signOff: { rule: 'none' } } },
    ],
    ['end', {}, { ended: 'It was ended.' }, { ended: null, active: true }],
  ])('%s, and that is undone', async (what, more, then, before) => {
    const id = await start();
    const body = { schedules: [id], act: { do: what, ...more } };
    const { seen } = (await ask('POST /api/schedules/many', { body })).body;
    const { done } = (await ask('POST /api/schedules/many', { body: { ...body, seen } })).body;
    expect(await schedule(id)).toMatchObject(then);
    await ask('POST /api/schedules/many/:act/undo', { params: { act: done! } });
    expect(await schedule(id)).toMatchObject(before);
    await bed.moveTo('2026-11-03T08:00:30Z');
    expect(mails()).toHaveLength(1);
  });

  it('leave as it is what would not be well formed, and say why', async () => {
    const id = await start({ signOff: { rule: 'until', until: '09:00', asks: null } });
    const problem = async (act: object) =>
      (await ask('POST /api/schedules/many', { body: { schedules: [id], act } })).body.rows[0]!.problem;
    expect(await problem({ do: 'retime', time: '10:00', zone: null })).toContain('before its send time');
    expect(await problem({ do: 'extend', lastDate: '2020-01-01' })).toContain('ends before it begins');
    expect(await problem({ do: 'pause', resumesOn: '2020-01-01' })).toContain('a day to come');
  });

  it('replaces a person everywhere: schedules, groups, lists; and puts all back', async () => {
    const params = { client: f.client };
    const list = { name: 'Board', contacts: [f.contact] };
    const listId = (await ask('POST /api/clients/:client/lists', { params, body: list })).body.id;
    const [one, two] = [await start(), await start({ readers: [{ list: listId }] })];
    const groups = {
      by: 'device',
      without: [],
      groups: [{ id: 'g1', value: 'Mobile', readers: [{ contact: f.contact }] }],
    };
    const three = await start({ readers: [], groups });
    const who = { email: 'Olga@tarnbeck.example', firstName: 'Olga', lastName: 'Kell' };
    const act = { do: 'replace', from: 'petra@tarnbeck.example', who, left: true };
    const body = { schedules: null, act };
    const seen = (await ask('POST /api/schedules/many', { body })).body;
    expect(seen.rows.map((r) => [r.title, r.before, r.after]).sort()).toEqual([
      ['List “Board”', 'Petra Lund', 'Olga Kell'],
      ['Monthly overview', 'Petra Lund', 'Olga Kell'],
      ['Monthly overview', 'Petra Lund', 'Olga Kell'],
    ]);
    const { done, changes } = (await ask('POST /api/schedules/many', { body: { ...body, seen: seen.seen } })).body;
    expect(changes).toBe(3);
    const people = async () => (await ask('GET /api/who-gets-what')).body.people.map((p) => [p.email, p.gets.length]);
    expect(await people()).toEqual([['olga@tarnbeck.example', 3]]);
    const petra = (await ask('GET /api/clients/:client', { params })).body.contacts.find((c) => c.id === f.contact)!;
    expect(petra.standing).toBe('left');
    const entries = await bed.server.store
      .selectFrom('ledger')
      .select('detail')
      .where('action', '=', 'schedules.many')
      .execute();
    expect(entries.map((e) => JSON.parse(e.detail))).toEqual([
      { what: 'petra@tarnbeck.example replaced by Olga Kell in 3 places', count: 3 },
    ]);
    await ask('POST /api/schedules/many/:act/undo', { params: { act: done! } });
    expect(await people()).toEqual([['petra@tarnbeck.example', 3]]);
    expect((await ask('GET /api/clients/:client', { params })).body.contacts.map((c) => c.firstName)).toEqual([
      'Petra',
    ]);
    expect([one, two, three]).toHaveLength(3);
  });

  it('asks before a person at another domain reads, and leaves out what nobody would read', async () => {
    await start();
    const who = { email: 'olga@elsewhere.example', firstName: 'Olga' };
    const act = { do: 'replace', from: 'petra@tarnbeck.example', who };
    const asked = (await ask('POST /api/schedules/many', { body: { schedules: null, act } })).body;
    expect(asked.rows[0]!.problem).toContain('outside the usual domains');
    const right = (await ask('POST /api/schedules/many', { body: { schedules: null, act: { ...act, outside: true } } }))
      .body;
    expect(right.rows[0]!.problem).toBeNull();
    const drop = { do: 'drop', from: 'petra@tarnbeck.example' };
    const dropped = (await ask('POST /api/schedules/many', { body: { schedules: null, act: drop } })).body;
    expect(dropped.rows[0]!.problem).toContain('Nobody would read it any more');
    expect(dropped.changes).toBe(0);
  });

  it('are put back by nobody who does not see their client any more, and not named to them', async () => {
    const id = await start();
    const manager = await memberOf(bed, 'gone@fernglass.example', 'manager', [f.client]);
    const body = { schedules: [id], act: { do: 'pause', resumesOn: null } };
    const { seen } = (await manager.ask('POST /api/schedules/many', { body })).body;
    const { done } = (await manager.ask('POST /api/schedules/many', { body: { ...body, seen } })).body;
    await bed.server.store.deleteFrom('assignment').where('client_id', '=', f.client).execute();
    const undone = (await manager.ask('POST /api/schedules/many/:act/undo', { params: { act: done! } })).body;
    expect(undone).toEqual({ undone: 0, kept: ['A schedule of a client that you do not see any more'] });
    expect((await schedule(id)).active).toBe(false);
  });

  it('reach no client that one does not see', async () => {
    const id = await start();
    const stranger = await memberOf(bed, 'stranger@fernglass.example', 'manager', []);
    const body = { schedules: [id], act: { do: 'end' } };
    expect((await stranger.ask('POST /api/schedules/many', { body })).status).toBe(404);
    const everywhere = { schedules: null, act: { do: 'drop', from: 'petra@tarnbeck.example' } };
    expect((await stranger.ask('POST /api/schedules/many', { body: everywhere })).body.rows).toEqual([]);
    for (const door of ['GET /api/schedules', 'GET /api/who-gets-what', 'GET /api/almanac'] as const) {
      expect(JSON.stringify((await stranger.ask(door)).body)).not.toContain('Tarnbeck');
    }
  });
});

describe('the same for each client of a tag', () => {
  const second = async () => {
    const body = {
      name: 'Bare Hill',
      zone: 'Europe/Berlin',
      currency: 'EUR',
      language: 'en-GB',
      weekStart: 1,
      fiscalStart: 1,
      startDate: '2025-01-01',
    };
    const client = (await ask('POST /api/clients', { body })).body.id;
    const params = { client };
    const person = { firstName: 'Mara', lastName: 'Holt', email: 'mara@barehill.example' };
    const contact = (await ask('POST /api/clients/:client/contacts', { params, body: person })).body.id;
    const like = { title: 'Monthly overview', starter: 'shop' };
    const report = (await ask('POST /api/clients/:client/reports', { params, body: like })).body;
    const release = { params: { report: report.id }, body: { version: report.version } };
    await ask('POST /api/reports/:report/release', release);
    return { client, contact };
  };

  it('has its own report, clock and readers; who comes later stands on the Desk; and it is undone at once', async () => {
    const id = await start();
    const params = { schedule: id };
    const { client, contact } = await second();
    for (const c of [client, f.client]) {
      await ask('PUT /api/clients/:client/tags', { params: { client: c }, body: { tags: ['Crafts'] } });
    }
    const shown = (await ask('GET /api/schedules/:schedule/series', { params })).body;
    expect(shown).toMatchObject({
      tag: 'Crafts',
      clients: [
        { id: client, report: { title: 'Monthly overview' }, schedule: null, contacts: [{ name: 'Mara Holt' }] },
      ],
    });
    const chosen = [{ client, readers: [{ contact }], greeting: 'Dear all at the hill,' }];
    const made = await ask('POST /api/schedules/:schedule/series', {
      params,
      body: { tag: 'Crafts', clients: chosen },
    });
    expect(made.body).toEqual({ made: 1, problems: [] });
    const [theirs] = (await ask('GET /api/clients/:client/schedules', { params: { client } })).body;
    expect(theirs!.input).toMatchObject({ zone: 'Europe/Berlin', time: '08:00', readers: [{ contact }] });
    expect(theirs!.input.message).toMatch(/^Dear all at the hill,/);
    // Twice is once.
    await ask('POST /api/schedules/:schedule/series', { params, body: { tag: 'Crafts', clients: chosen } });
    expect((await ask('GET /api/clients/:client/schedules', { params: { client } })).body).toHaveLength(1);
    const need = async () => (await ask('GET /api/desk')).body.needs.find((n) => n.key === `series-${id}`);
    expect(await need()).toBeUndefined();
    const [act] = (await ask('GET /api/schedules/many')).body;
    expect(act!.what).toBe('Scheduled for 1 client of Crafts');
    await ask('POST /api/schedules/many/:act/undo', { params: { act: act!.id } });
    expect((await ask('GET /api/clients/:client/schedules', { params: { client } })).body).toEqual([]);
    expect((await need())?.title).toContain('is not scheduled for Bare Hill');
  });

  it('takes no reader of another client, and says where a report like it lacks', async () => {
    const id = await start();
    const { client } = await second();
    const clients = [{ client, readers: [{ contact: f.contact }] }];
    const params = { schedule: id };
    const strange = await ask('POST /api/schedules/:schedule/series', { params, body: { tag: 'Crafts', clients } });
    expect(strange.body).toMatchObject({ made: 0, problems: [{ client: 'Bare Hill' }] });
    await bed.server.store
      .updateTable('report')
      .set({ released_title: 'Another' })
      .where('client_id', '=', client)
      .execute();
    const none = await ask('POST /api/schedules/:schedule/series', { params, body: { tag: 'Crafts', clients } });
    expect(none.body.problems[0]!.text).toContain('no released report');
  });
});
