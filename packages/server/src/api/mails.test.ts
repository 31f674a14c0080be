import { createHash } from 'node:crypto';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import type { ScheduleInput } from '@chronicon/core/contract';
import { FRESH_MAIL, type MailFile } from '@chronicon/core/report';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { messagesOf } from '../store/messages.ts';
import {
  editionsOf,
  type Furnished,
  furnish,
  memberOf,
  openFurnishedFixture,
  scheduleFor,
  sendSeen,
  type TestFixture,
} from '../test/harness.ts';

const DRAWN = '2026-11-03T05:10:00Z';
const SENT = '2026-11-03T08:00:30Z';

let fixture: TestFixture;
let f: Furnished;
beforeEach(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterEach(() => fixture.close());

const params = () => ({ client: f.client });
const designed = (changes: Partial<ScheduleInput> = {}) => scheduleFor(f, { mail: FRESH_MAIL, ...changes });
const plan = (input: ScheduleInput) =>
  fixture.owner.ask('POST /api/clients/:client/schedules', { params: params(), body: input });
const addContact = async (firstName: string, email: string): Promise<string> =>
  (
    await fixture.owner.ask('POST /api/clients/:client/contacts', {
      params: params(),
      body: { firstName, lastName: '', email },
    })
  ).body.id;
const bringFile = async (name: string, data: Uint8Array | string, client = f.client) => {
  const reply = await fixture.owner.raw(`/api/clients/${client}/mail-files?name=${encodeURIComponent(name)}`, {
    method: 'PUT',
    body: Buffer.from(data),
  });
  return { status: reply.status, body: (await reply.json()) as MailFile };
};
const arrived = async (to = 'petra@tarnbeck.example') => {
  const [mail] = fixture.simulators.mails.list(to);
  return { mail: mail!, parsed: (await fixture.simulators.mails.read(mail!.id))!.parsed };
};
async function send(input = designed()) {
  const planned = await plan(input);
  expect(planned.status).toBe(200);
  await fixture.moveTo(DRAWN);
  await fixture.moveTo(SENT);
  return (await editionsOf(fixture, f.client))[0]!;
}
const deliveries = async (edition: string) =>
  (await fixture.owner.ask('GET /api/editions/:edition/deliveries', { params: { edition } })).body;

describe('a designed mail', () => {
  it('brings the answer, figures, a chart as a picture and a table; its text says the same', async () => {
    await send();
    const { parsed } = await arrived();
    const chart = parsed.attachments.find((a) => a.contentType === 'image/png')!;
    expect(chart.related).toBe(true);
    const { width, format } = await sharp(chart.content).metadata();
    expect(format).toBe('png');
    expect(width).toBeGreaterThan(700);
    expect(chart.content.length).toBeLessThan(100_000);
    expect(parsed.attachments.map((a) => a.contentType)).toContain('application/pdf');
    for (const said of ['Hello Petra', 'Revenue by channel', 'Kind regards', 'vs September 2026']) {
      expect(parsed.html).toContain(said);
      expect(parsed.text).toContain(said);
    }
    expect(parsed.html).not.toMatch(/(src|href)="https?:/);
  });

  it('is what was seen before it went, for each reader, by day and by night, and afterwards', async () => {
    const board = await addContact('Ada', 'ada@tarnbeck.example');
    await plan(
      designed({ readers: [{ contact: f.contact }, { contact: board }], signOff: { rule: 'first', asks: null } }),
    );
    await fixture.moveTo(DRAWN);
    const [edition] = await editionsOf(fixture, f.client);
    const look = async (reader: string, scheme?: string) =>
      (
        await fixture.owner.ask('GET /api/editions/:edition/mails/:reader', {
          params: { edition: edition!.id, reader },
          ...(scheme && { query: { scheme } }),
        })
      ).body;
    const before = await look(board);
    expect(before).toMatchObject({ to: { name: 'Ada' }, subject: 'Monthly overview: October 2026' });
    expect(before.html).toContain('Hello Ada');
    expect(before.html).toContain('src="data:image/png;base64,');
    expect(before.html).toContain('@media not all');
    expect((await look(f.contact, 'dark')).html).toContain('@media all');
    await sendSeen(fixture, edition!.id);
    await fixture.moveTo(SENT);
    const { parsed } = await arrived('ada@tarnbeck.example');
    expect(parsed.text!.trim()).toBe(before.text.trim());
    expect((await look(board)).html).toBe(before.html);
    // Somebody of the client who is no reader of it has no mail to look at.
    const other = await addContact('Ole', 'ole@tarnbeck.example');
    const params = { edition: edition!.id, reader: other };
    expect((await fixture.owner.ask('GET /api/editions/:edition/mails/:reader', { params })).status).toBe(404);
  });

  it('has the note that was written for it, and follows nothing once it is signed off', async () => {
    await plan(designed({ signOff: { rule: 'first', asks: null } }));
    await fixture.moveTo(DRAWN);
    const edition = (await editionsOf(fixture, f.client))[0]!.id;
    const review = async () =>
      (await fixture.owner.ask('GET /api/editions/:edition/review', { params: { edition } })).body;
    const seen = await review();
    expect(seen.note).toBe('');
    const note = (text: string) =>
      fixture.owner.ask('PUT /api/editions/:edition/note', { params: { edition }, body: { note: text } });
    expect((await note('The fair was in its second week.')).status).toBe(200);
    // Whoever saw it without the note does not let it go with one.
    expect((await sendSeen(fixture, edition, seen.hash!)).status).toBe(409);
    expect((await review()).mails[0]!.text).toContain('A note from Ines');
    expect((await sendSeen(fixture, edition)).status).toBe(200);
    expect((await note('Another one')).status).toBe(409);
    await fixture.moveTo(SENT);
    expect((await arrived()).parsed.text).toContain('The fair was in its second week.');
  });

  it('is refused where it names what is not there, at the part that does', async () => {
    const at = async (mail: Partial<ScheduleInput['mail']>) => {
      const asked = designed({ mail: { ...FRESH_MAIL, ...mail } });
      return (await plan(asked)).fields;
    };
    const message = { kind: 'message' as const };
    expect(await at({ parts: [message, { kind: 'table', block: 'nowhere' }] })).toEqual({
      'mail.parts.1.block': 'Choose something on the included pages.',
    });
    expect(await at({ parts: [message, { kind: 'text', text: '{{figure.nothing}}' }] })).toHaveProperty(
      'mail.parts.1.text',
    );
    expect(
      await at({ parts: [message, { kind: 'button', label: 'x', link: 'javascript:alert(1)//a.b' }] }),
    ).toHaveProperty('mail.parts.1.link');
    expect(await at({ parts: [] })).toEqual({ 'mail.parts': 'An email has one message.' });
    expect(await at({ preview: '{{nobody}}' })).toHaveProperty('mail.preview');
    expect(await at({ files: [{ file: 'a'.repeat(64), name: 'a.pdf', type: 'application/pdf', size: 1 }] })).toEqual({
      'mail.files.0': 'Upload this file again.',
    });
  });

  it('is held, with the reason, where what it shows has left the report; and goes once another is chosen', async () => {
    const parts = (await fixture.owner.ask('GET /api/reports/:report/mail-parts', { params: { report: f.report } }))
      .body;
    const table = parts.find((p) => p.as === 'table')!;
    const input = designed({
      mail: { ...FRESH_MAIL, parts: [{ kind: 'message' }, { kind: 'table', block: table.block }] },
    });
    const { body: schedule } = await plan(input);
    const report = (await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body;
    const pages = report.document.pages.map((p) => ({
      ...p,
      rows: p.rows.filter((r) => !r.blocks.some((b) => b.id === table.block)),
    }));
    const saved = await fixture.owner.ask('PUT /api/reports/:report', {
      params: { report: f.report },
      body: { title: report.title, document: { ...report.document, pages }, version: report.version } as never,
    });
    await fixture.owner.ask('POST /api/reports/:report/release', {
      params: { report: f.report },
      body: { version: saved.body.version },
    });
    await fixture.moveTo(DRAWN);
    await fixture.moveTo(SENT);
    expect((await editionsOf(fixture, f.client))[0]).toMatchObject({
      state: 'held',
      reason: expect.stringContaining(
        'Its email shows a block that is no longer on the included pages. Choose another one in the schedule, under “Email”.',
      ),
    });
    expect(fixture.simulators.mails.list()).toEqual([]);
    await fixture.owner.ask('PUT /api/schedules/:schedule', {
      params: { schedule: schedule.id },
      body: { ...input, mail: FRESH_MAIL },
    });
    await fixture.server.scheduler.settle();
    const [edition] = await editionsOf(fixture, f.client);
    // Its time has passed meanwhile: somebody looks at it first.
    expect(edition!.reason).toContain('Review it, then send it');
    expect((await sendSeen(fixture, edition!.id)).status).toBe(200);
    expect((await arrived()).parsed.html).toContain('vs September 2026');
  });

  it('whose chart is lost from the disk has it drawn again, to the same bytes', async () => {
    await plan(designed());
    await fixture.moveTo(DRAWN);
    const [row] = await fixture.server.store.selectFrom('edition').selectAll().execute();
    const frozen = JSON.parse(fixture.server.files.read(row!.frozen!).toString('utf8'));
    const { file } = frozen.mail.shown.find((s: { kind: string }) => s.kind === 'chart');
    rmSync(join(fixture.config.data, 'files', file.slice(0, 2), file), { force: true });
    rmSync(join(fixture.config.data, 'files', file), { force: true });
    expect(() => fixture.server.files.read(file)).toThrow();
    await fixture.moveTo(SENT);
    const { parsed } = await arrived();
    const chart = parsed.attachments.find((a) => a.contentType === 'image/png')!;
    expect(createHash('sha256').update(chart.content).digest('hex')).toBe(file);
  });
});

describe('files that go with a mail', () => {
  it('go beside the report, by their names, and are the client’s own', async () => {
    const { body: file } = await bringFile('Preisliste “Herbst”/2026\u202e.pdf', '%PDF-1.7 prices');
    expect(file).toMatchObject({ name: '2026 .pdf', type: 'application/pdf', size: 15 });
    await send(designed({ mail: { ...FRESH_MAIL, files: [file] } }));
    const { parsed } = await arrived();
    const sent = parsed.attachments.find((a) => a.filename === file.name)!;
    expect(sent.content.toString()).toBe('%PDF-1.7 prices');
    const elsewhere = await furnish(fixture, false, { name: 'Kilnhouse' });
    const asked = await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: { client: elsewhere.client },
      body: { ...scheduleFor(elsewhere), mail: { ...FRESH_MAIL, files: [file] } },
    });
    expect(asked.fields).toEqual({ 'mail.files.0': 'Upload this file again.' });
  });

  it.each([
    ['run.exe', 'x', /Unsupported type\. Allowed:/],
    ['empty.pdf', '', /empty/],
    ['noending', 'x', /Unsupported type\. Allowed:/],
  ])('%s is refused in words', async (name, data, words) => {
    const { status, body } = await bringFile(name, data);
    expect(status).toBe(422);
    expect((body as unknown as { fields: { file: string } }).fields.file).toMatch(words);
  });
});

describe('a mail that is being designed', () => {
  const shown = async (changes: Partial<ScheduleInput> & { reader?: string; scheme?: 'dark' } = {}) =>
    (
      await fixture.owner.ask('POST /api/clients/:client/schedules/mail', {
        params: params(),
        body: { ...designed(), ...changes } as never,
      })
    ).body;

  it('in a language that reports do not speak is refused at its field', async () => {
    const asked = await fixture.owner.ask('POST /api/clients/:client/schedules/mail', {
      params: params(),
      body: { ...designed(), language: 'xx-XX' },
    });
    expect([asked.status, Object.keys(asked.fields)]).toEqual([422, ['language']]);
  });

  it('is shown with the figures of the last period, as each reader would get it; nothing is kept', async () => {
    const board = await addContact('Ada', 'ada@tarnbeck.example');
    const readers = [{ contact: f.contact }, { contact: board }];
    const first = await shown({ readers });
    expect(first).toMatchObject({ period: 'October 2026', problem: null, lacks: [] });
    expect(first.readers.map((r) => r.name)).toEqual(['Petra Lund', 'Ada']);
    expect(first.mail!.html).toContain('Hello Petra');
    expect(first.mail!.preview).toContain('Revenue');
    const other = await shown({ readers, reader: board, scheme: 'dark' });
    expect(other.mail!.html).toContain('Hello Ada');
    expect(other.mail!.html).toContain('@media all');
    expect(await editionsOf(fixture, f.client)).toEqual([]);
  });

  it('says what cannot be written, and what its figures lack', async () => {
    expect((await shown({ message: '{{figure.nothing}}' })).problem).toContain(', figure.KEY and change.KEY.');
    const gone = await shown({ mail: { ...FRESH_MAIL, parts: [{ kind: 'message' }, { kind: 'chart', block: 'x' }] } });
    expect(gone).toMatchObject({
      mail: null,
      problem: expect.stringContaining(
        'Part of the email shows a block that isn’t on the included pages. Choose another one.',
      ),
    });
    const ahead = await shown({ period: { kind: 'fixed', from: '2026-12-01', to: '2026-12-31' } });
    expect(ahead.lacks.length).toBeGreaterThan(0);
  });

  it('is a client’s whose report it is, and nobody else’s to see', async () => {
    const other = await furnish(fixture, false, { name: 'Kilnhouse' });
    const asked = await fixture.owner.ask('POST /api/clients/:client/schedules/mail', {
      params: { client: other.client },
      body: designed() as never,
    });
    expect(asked.fields).toHaveProperty('reportId');
    const stranger = await memberOf(fixture, 'sanne@fernglass.example', 'manager', [other.client]);
    const refused = await stranger.ask('POST /api/clients/:client/schedules/mail', {
      params: params(),
      body: designed() as never,
    });
    expect(refused.status).toBe(404);
  });
});

describe('what became of mails', () => {
  it('is told with each attempt, in the mail server’s words; the file is the very mail that went', async () => {
    const { id } = await send();
    const [delivery] = await deliveries(id);
    expect(delivery).toMatchObject({ name: 'Petra Lund', state: 'accepted', round: 0, askedBy: null, mayResend: true });
    expect(delivery!.attempts).toMatchObject([{ outcome: 'accepted', reply: expect.stringMatching(/^250/) }]);
    const file = await fixture.owner.raw(`/api/deliveries/${delivery!.id}/mail`);
    expect(file.headers.get('content-type')).toContain('message/rfc822');
    const { mail } = await arrived();
    const bytes = Buffer.from(await file.arrayBuffer());
    expect(createHash('sha256').update(bytes).digest('base64url')).toBe(mail.hashes[0]);
    const stranger = await memberOf(fixture, 'sanne@fernglass.example', 'manager', []);
    expect((await stranger.raw(`/api/deliveries/${delivery!.id}/mail`)).status).toBe(404);
  });

  it('goes once more to one alone, as it was, under an id of its own; what has changed since changes nothing', async () => {
    const board = await addContact('Ada', 'ada@tarnbeck.example');
    const { id } = await send(designed({ readers: [{ contact: f.contact }, { contact: board }] }));
    const first = await arrived();
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', {
      params: { ...params(), contact: f.contact },
      body: { firstName: 'Petra', lastName: 'Lund', email: 'p.lund@tarnbeck.example' },
    });
    const again = await fixture.owner.ask('POST /api/editions/:edition/resend', {
      params: { edition: id },
      body: { readers: [f.contact] },
    });
    expect(again.body).toEqual({ mails: 1 });
    await fixture.server.scheduler.settle();
    const second = await arrived('p.lund@tarnbeck.example');
    expect(second.parsed.text).toBe(first.parsed.text);
    expect(second.mail.messageId).not.toBe(first.mail.messageId);
    expect(fixture.simulators.mails.list('ada@tarnbeck.example')).toHaveLength(1);
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
    const told = await deliveries(id);
    expect(told.map((d) => [d.email, d.round, d.askedBy])).toEqual([
      ['p.lund@tarnbeck.example', 1, 'Ines Tallow'],
      ['ada@tarnbeck.example', 0, null],
      ['petra@tarnbeck.example', 0, null],
    ]);
  });

  it('reaches somebody else where the guard lets it, and nobody where it does not', async () => {
    const { id } = await send();
    const resend = (readers: string[] | null) =>
      fixture.owner.ask('POST /api/editions/:edition/resend', { params: { edition: id }, body: { readers } });
    const gone = await addContact('Ole', 'ole@tarnbeck.example');
    await fixture.owner.ask('PUT /api/clients/:client/contacts/:contact', {
      params: { ...params(), contact: gone },
      body: { firstName: 'Ole', lastName: '', email: 'ole@tarnbeck.example', standing: 'left' },
    });
    expect((await resend([gone])).fields.readers).toContain('has left. Choose another reader.');
    expect((await resend(['co_nobody'])).fields.readers).toContain('Choose contacts of this client');
    const inside = await addContact('Ada', 'ada@tarnbeck.example');
    expect((await resend([inside])).body).toEqual({ mails: 1 });
    await fixture.server.scheduler.settle();
    // By her own name, with the same figures.
    const [hers, first] = [await arrived('ada@tarnbeck.example'), await arrived()];
    expect(hers.parsed.text!.replace('Hello Ada', 'Hello Petra')).toBe(first.parsed.text);
    // All who had it, and each once.
    expect((await resend(null)).body).toEqual({ mails: 2 });
    await fixture.server.scheduler.settle();
    expect(fixture.simulators.mails.list().map((m) => m.times)).toEqual([1, 1, 1, 1]);
    expect(fixture.simulators.mails.list('ole@tarnbeck.example')).toEqual([]);
  });

  it('cannot go again before it went', async () => {
    await plan(designed());
    await fixture.moveTo(DRAWN);
    const [edition] = await editionsOf(fixture, f.client);
    const asked = await fixture.owner.ask('POST /api/editions/:edition/resend', {
      params: { edition: edition!.id },
      body: { readers: null },
    });
    expect(asked.status).toBe(409);
    expect(await messagesOf(fixture.server.store, edition!.id)).toEqual([]);
  });
});
