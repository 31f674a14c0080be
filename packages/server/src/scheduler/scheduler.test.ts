import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { startServer } from '../server.ts';
import {
  ACCOUNT,
  editionsOf,
  type Furnished,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
  visit,
} from '../test/harness.ts';
import { moveClock } from './moveClock.ts';

let fixture: TestFixture;
let f: Furnished;

beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const schedule = (change = {}) =>
  fixture.owner.ask('POST /api/clients/:client/schedules', {
    params: { client: f.client },
    body: scheduleFor(f, change),
  });
const mails = () => fixture.simulators.mails.list();

async function textOf(pdf: Uint8Array): Promise<string> {
  const document = await getDocument({ data: new Uint8Array(pdf) }).promise;
  const pages = await Promise.all(
    Array.from({ length: document.numPages }, async (_, i) => (await document.getPage(i + 1)).getTextContent()),
  );
  return pages.map((p) => p.items.map((i) => ('str' in i ? i.str : '')).join(' ')).join('\n');
}

describe('from due to sent', () => {
  it('draws at the lead, waits for the time, then sends mail and PDF to the reader, once', async () => {
    await schedule();
    await fixture.moveTo('2026-11-03T04:50:00Z');
    expect(await editionsOf(fixture, f.client)).toEqual([]);
    await fixture.moveTo('2026-11-03T05:10:00Z');
    expect((await editionsOf(fixture, f.client))[0]).toMatchObject({ state: 'ready', number: 1, hasPdf: true });
    expect(mails()).toEqual([]);
    await fixture.moveTo('2026-11-03T08:00:10Z');
    const [edition] = await editionsOf(fixture, f.client);
    expect(edition).toMatchObject({
      state: 'sent',
      period: { label: 'October 2026' },
      compared: { label: 'September 2026' },
    });
    expect(edition!.deliveries).toMatchObject([{ email: 'petra@tarnbeck.example', state: 'accepted', tries: 1 }]);
    expect(mails()).toHaveLength(1);
    const found = await fixture.simulators.mails.read(mails()[0]!.id);
    expect(found!.mail.subject).toBe('Monthly overview: October 2026');
    expect(found!.parsed.text).toMatch(/^Hello Petra, visits were [\d,]+ \([+−][\d.]+%\)\./);
    expect(found!.parsed.html).toContain('Hello Petra');
    const [attachment] = found!.parsed.attachments;
    expect(attachment).toMatchObject({
      filename: 'Tarnbeck Pottery Monthly overview October 2026.pdf',
      contentType: 'application/pdf',
    });
    const visits = /visits were ([\d,]+)/.exec(found!.parsed.text!)![1]!;
    expect(await textOf(attachment!.content)).toContain(visits);
    await fixture.moveTo('2026-11-04T08:00:00Z');
    expect(mails()).toHaveLength(1);
  });

  it('keeps the figures of an edition as they were, whatever the report becomes', async () => {
    await schedule();
    await fixture.moveTo('2026-11-03T08:01:00Z');
    const [edition] = await editionsOf(fixture, f.client);
    const pdf = async () =>
      Buffer.from(await (await fixture.owner.raw(`/api/editions/${edition!.id}/pdf`)).arrayBuffer());
    const before = await pdf();
    const { body: report } = await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } });
    await fixture.owner.ask('PUT /api/reports/:report', {
      params: { report: f.report },
      body: { ...report, title: 'Another title' },
    });
    expect((await pdf()).equals(before)).toBe(true);
    expect((await editionsOf(fixture, f.client))[0]!.title).toBe('Monthly overview');
  });

  it('draws preview and print from one scene, byte for byte', async () => {
    await fixture.owner.ask('POST /api/reports/:report/make', { params: { report: f.report }, body: { contacts: [] } });
    await fixture.server.scheduler.settle();
    const row = await fixture.server.store.selectFrom('edition').select('frozen').executeTakeFirstOrThrow();
    const frozen = JSON.parse(fixture.server.files.read(row.frozen!).toString()) as { scene: { pages: unknown[] } };
    const preview = await fixture.owner.ask('POST /api/reports/:report/preview', { params: { report: f.report } });
    expect(JSON.stringify(preview.body.pages.map((p) => p.page))).toBe(JSON.stringify(frozen.scene.pages));
    const known = preview.body.pages.map((p) => p.hash);
    const again = await fixture.owner.ask('POST /api/reports/:report/preview', {
      params: { report: f.report },
      body: { have: known },
    });
    expect(again.body.pages.every((p) => p.page === null)).toBe(true);
  });

  it('makes by hand what is asked for: a test to oneself alone, an edition for nobody, one for the readers', async () => {
    const { body: s } = await schedule();
    await fixture.owner.ask('POST /api/schedules/:schedule/test', { params: { schedule: s.id } });
    await fixture.owner.ask('POST /api/reports/:report/make', { params: { report: f.report }, body: { contacts: [] } });
    await fixture.server.scheduler.settle();
    expect(mails().map((m) => m.to)).toEqual(['ines@fernglass.example']);
    const states = (await editionsOf(fixture, f.client)).map((e) => [e.kind, e.state, e.number]);
    expect(states).toEqual([['by-hand', 'ready', 1]]);
    const tests = (await fixture.owner.ask('GET /api/editions', { query: { client: f.client, tests: 'true' } })).body
      .editions;
    expect(tests).toMatchObject([{ kind: 'test', state: 'sent', number: null }]);
    expect(mails()[0]!.subject).toBe('[Test] Monthly overview: October 2026');
    const other = await fixture.owner.ask('POST /api/reports/:report/make', {
      params: { report: f.report },
      body: { contacts: ['co_of_another'] },
    });
    expect(other.fields.contacts).toContain('Choose this client’s contacts only.');
  });
});

describe('one edition for each run', () => {
  it('whatever becomes of the schedule’s time', async () => {
    const { body: s } = await schedule();
    await fixture.moveTo('2026-11-03T08:01:00Z');
    const later = { ...scheduleFor(f), time: '09:30' };
    expect(
      (await fixture.owner.ask('PUT /api/schedules/:schedule', { params: { schedule: s.id }, body: later })).status,
    ).toBe(200);
    await fixture.moveTo('2026-11-03T12:00:00Z');
    expect(mails()).toHaveLength(1);
    expect(await editionsOf(fixture, f.client)).toHaveLength(1);
  });

  it('moves with the time when it has not been made yet', async () => {
    const { body: s } = await schedule({ time: '18:00' });
    await fixture.moveTo('2026-11-03T12:00:00Z');
    await fixture.owner.ask('PUT /api/schedules/:schedule', {
      params: { schedule: s.id },
      body: { ...scheduleFor(f), time: '13:00' },
    });
    await fixture.moveTo('2026-11-03T13:00:30Z');
    expect(mails()).toHaveLength(1);
  });

  it('with two servers on one data folder', async () => {
    await schedule();
    const second = await startServer({ ...fixture.config, port: 0 });
    try {
      second.clock.moveTo('2026-11-03T08:00:30Z');
      await Promise.all([fixture.moveTo('2026-11-03T08:00:30Z'), second.scheduler.settle()]);
      await second.scheduler.settle();
      await fixture.server.scheduler.settle();
    } finally {
      await second.close();
    }
    expect(await editionsOf(fixture, f.client)).toHaveLength(1);
    expect(mails().map((m) => m.times)).toEqual([1]);
  });
});

describe('a schedule that cannot be planned', () => {
  it('does not keep the others from going out', async () => {
    const { body: broken } = await schedule();
    await schedule();
    await fixture.server.store
      .updateTable('schedule')
      .set({ rule: '{"freq":"monthly"}' })
      .where('id', '=', broken.id)
      .execute();
    await fixture.moveTo('2026-11-03T08:00:30Z');
    expect((await editionsOf(fixture, f.client)).map((e) => e.state)).toEqual(['sent']);
  });
});

describe('missed runs', () => {
  it('runs the newest within a day and says of the others that they were left out', async () => {
    await schedule({ rule: { freq: 'daily' }, period: { kind: 'rolling', days: 7 } });
    await fixture.server.close();
    // The server was away for three days: the runs of 3, 4 and 5 November passed.
    const again = await startServer({ ...fixture.config, port: 0 });
    fixture.server = again;
    await moveClock(again, '2026-11-05T10:00:00Z');
    fixture.owner = await visit(again.url, 'ines@fernglass.example');
    const states = (await editionsOf(fixture, f.client)).map((e) => [e.dueAt.slice(0, 10), e.state]);
    expect(states).toEqual([
      ['2026-11-05', 'sent'],
      ['2026-11-04', 'skipped'],
      ['2026-11-03', 'skipped'],
    ]);
    expect(mails()).toHaveLength(1);
    const desk = await fixture.owner.ask('GET /api/desk');
    expect(desk.body.needs.filter((n) => n.missed)).toMatchObject([{ title: '2 missed runs' }]);
  });
});

describe('the mail server', () => {
  it('is down at the time: nothing is lost, all is sent once when it is back', async () => {
    await schedule();
    await fixture.simulators.smtp.setFault('down');
    await fixture.moveTo('2026-11-03T08:00:30Z');
    const [waiting] = await editionsOf(fixture, f.client);
    expect(waiting!.state).toBe('sending');
    // No reader is to blame, and no try of theirs is used up.
    expect(waiting!.deliveries[0]).toMatchObject({ state: 'queued', tries: 0 });
    const { stops } = (await fixture.owner.ask('GET /api/sending')).body;
    expect(stops).toMatchObject([{ cause: 'mail-server', reason: 'No response on the mail server’s port.' }]);
    const desk = (await fixture.owner.ask('GET /api/desk')).body.needs;
    expect(desk.filter((n) => n.tone === 'wrong').map((n) => [n.title, n.editions.length])).toEqual([
      ['Emails aren’t being sent', 1],
    ]);
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:30:00Z');
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
    await fixture.moveTo('2026-11-03T20:00:00Z');
    expect(mails().map((m) => m.times)).toEqual([1]);
  });

  it('takes a mail but drops the line before saying so: the reader has it once all the same', async () => {
    await schedule();
    await fixture.simulators.smtp.setFault('drop-after-data');
    await fixture.moveTo('2026-11-03T08:00:30Z');
    await fixture.simulators.smtp.setFault('none');
    await fixture.moveTo('2026-11-03T08:10:00Z');
    expect(mails()[0]!.times).toBe(1);
    await fixture.moveTo('2026-11-03T08:40:00Z');
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
    expect(mails()).toHaveLength(1);
    expect(mails()[0]!.times).toBe(2);
  });

  it('refuses one reader: the others have theirs, and the manager is told who has not', async () => {
    const second = { firstName: 'Uwe', lastName: 'Kell', email: 'uwe@tarnbeck.example' };
    const { body } = await fixture.owner.ask('POST /api/clients/:client/contacts', {
      params: { client: f.client },
      body: second,
    });
    await schedule({ readers: [{ contact: f.contact }, { contact: body.id }] });
    fixture.simulators.smtp.refused.add('uwe@tarnbeck.example');
    await fixture.moveTo('2026-11-03T08:00:30Z');
    const [edition] = await editionsOf(fixture, f.client);
    expect(edition!.state).toBe('part-sent');
    expect(edition!.reason).toContain('uwe@tarnbeck.example (550');
    expect(mails().map((m) => m.to)).toEqual(['petra@tarnbeck.example']);
    fixture.simulators.smtp.refused.clear();
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: edition!.id } });
    await fixture.server.scheduler.settle();
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
    expect(
      mails()
        .map((m) => [m.to, m.times])
        .sort(),
    ).toEqual([
      ['petra@tarnbeck.example', 1],
      ['uwe@tarnbeck.example', 1],
    ]);
  });
});

describe('readers', () => {
  it('gets a hold, not a gap, when a figure that the mail names is not known', async () => {
    const text = 'Orders: {{figure.averageOrder}} against {{change.averageOrder}}';
    await schedule({ message: text, comparison: { kind: 'fixed', from: '2024-01-01', to: '2024-01-31' } });
    await fixture.moveTo('2026-11-03T08:00:30Z');
    const [edition] = await editionsOf(fixture, f.client);
    expect(edition!.state).toBe('held');
    expect(edition!.reason).toContain('{{change.averageOrder}} has no value here');
    expect(mails()).toEqual([]);
  });

  it('never get anything when the account stops before the period is over', async () => {
    fixture.simulators.faults.set(ACCOUNT, 'refused');
    await schedule();
    await fixture.moveTo('2026-11-03T08:00:30Z');
    // October was delivered before: a report of it needs no more than that.
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
    await schedule({
      rule: { freq: 'monthly', every: 1, on: { day: 4 } },
      period: { kind: 'unit', unit: 'month', offset: 0 },
    });
    await fixture.moveTo('2026-11-04T08:00:30Z');
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('held');
    expect(mails()).toHaveLength(1);
  });
});
