import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CLIENT, type Furnished, furnish, openTestFixture, scheduleFor, type TestFixture } from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;

beforeAll(async () => {
  fixture = await openTestFixture();
  f = await furnish(fixture, false);
});
afterAll(() => fixture.close());

/** Everything that a refused request must leave as it was. */
async function everything(): Promise<string> {
  const { store } = fixture.server;
  const tables = ['client', 'contact', 'feed', 'report', 'schedule', 'edition'] as const;
  return JSON.stringify(await Promise.all(tables.map((t) => store.selectFrom(t).selectAll().execute())));
}

const params = () => ({ client: f.client });

describe('wrong input', () => {
  it.each([
    [
      'Enter a valid email address.',
      { firstName: 'A', lastName: 'B', email: 'not-an-address' },
      'email',
      'Enter a valid email address.',
    ],
    [
      'an address that another contact has',
      { firstName: 'A', lastName: 'B', email: 'PETRA@tarnbeck.example' },
      'email',
      'Petra Lund already has this address',
    ],
    ['no name', { firstName: ' ', lastName: 'B', email: 'a@b.example' }, 'firstName', 'Enter a name'],
  ])('of a contact: %s is told at its field and changes nothing', async (_, body, field, words) => {
    const before = await everything();
    const answer = await fixture.owner.ask('POST /api/clients/:client/contacts', { params: params(), body });
    expect(answer.status).toBe(422);
    expect(answer.fields[field]).toContain(words);
    expect(await everything()).toBe(before);
  });

  it.each([
    ['no readers', { readers: [] }, 'readers', 'Add a reader'],
    ['a reader of nobody', { readers: [{ contact: 'co_unknown' }] }, 'readers', 'this client’s contacts'],
    [
      'a period that runs backwards',
      { period: { kind: 'fixed' as const, from: '2026-10-31', to: '2026-10-01' } },
      'period.to',
      'before the start date',
    ],
    ['an unknown merge field', { subject: 'For {{client.nickname}}' }, 'subject', '{{client.nickname}}'],
    [
      'braces that do not pair',
      { message: 'Hello {{contact.firstName' },
      'message',
      '. Write fields like {{client.name}}.',
    ],
    [
      'a field that can never be filled',
      { comparison: { kind: 'none' as const }, message: 'Against {{comparison.label}}' },
      'message',
      'has no value',
    ],
    ['a rule that never comes round', { lastDate: '2026-01-02' }, 'rule', 'has no date between the first and the last'],
    ['an end before the beginning', { lastDate: '2025-12-31' }, 'lastDate', 'before the start date'],
    ['a report of another client', { reportId: 'rp_other' }, 'reportId', 'report of this client'],
  ])('of a schedule: %s is told at its field and changes nothing', async (_, change, field, words) => {
    const before = await everything();
    const answer = await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params: params(),
      body: scheduleFor(f, change),
    });
    expect([answer.status, Object.keys(answer.fields)]).toEqual([422, [field]]);
    expect(answer.fields[field]).toContain(words);
    expect(await everything()).toBe(before);
  });

  it('of a client: zone, currency, language and date are told at their fields, all at once', async () => {
    const body = { ...CLIENT, zone: 'Mars/Olympus', currency: 'XXQ', language: 'xx', startDate: '2026-13-01' };
    const answer = await fixture.owner.ask('POST /api/clients', { body });
    expect(Object.keys(answer.fields).sort()).toEqual(['currency', 'language', 'startDate', 'zone']);
  });

  const svg = (inside: string) => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">${inside}</svg>`;
  it.each([
    ['Unsupported image', 'plain words', 422, 'Unsupported image'],
    ['an SVG with a script', svg('<script>alert(1)</script>'), 422, 'script'],
    ['a damaged PNG', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3]), 422, 'damaged'],
    ['more than 5 MB', Buffer.alloc(5 * 1024 * 1024 + 10, 0x89), 422, '5 MB'],
    ['far more than 5 MB', Buffer.alloc(9 * 1024 * 1024, 0x89), 413, '5 MB'],
  ])('as a logo: %s is refused with the reason and changes nothing', async (_, body, status, words) => {
    const before = await everything();
    const response = await fixture.owner.raw(`/api/clients/${f.client}/logo`, {
      method: 'PUT',
      body: new Uint8Array(Buffer.from(body as string)),
    });
    expect(response.status).toBe(status);
    expect(((await response.json()) as { fields: { logo: string } }).fields.logo).toContain(words);
    expect(await everything()).toBe(before);
  });

  it('as a logo: a good SVG is taken and drawn', async () => {
    const response = await fixture.owner.raw(`/api/clients/${f.client}/logo`, {
      method: 'PUT',
      body: svg('<rect width="9" height="9" fill="#123456"/>'),
    });
    expect(response.status).toBe(200);
    const preview = await fixture.owner.ask('POST /api/reports/:report/preview', { params: { report: f.report } });
    expect(JSON.stringify(preview.body.pages[0]!.page!.ops)).toContain('#123456');
  });

  it('of a report: nobody’s work is written over', async () => {
    const { body: report } = await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } });
    const save = (title: string) =>
      fixture.owner.ask('PUT /api/reports/:report', {
        params: { report: f.report },
        body: { title, document: report.document, version: report.version },
      });
    expect((await save('First')).status).toBe(200);
    const second = await save('Second');
    expect(second.status).toBe(409);
    expect((await fixture.owner.ask('GET /api/reports/:report', { params: { report: f.report } })).body.title).toBe(
      'First',
    );
  });

  it('keeps a contact that schedules address, and names them', async () => {
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params: params(), body: scheduleFor(f) });
    const answer = await fixture.owner.ask('DELETE /api/clients/:client/contacts/:contact', {
      params: { ...params(), contact: f.contact },
    });
    expect(answer.status).toBe(422);
    expect(answer.fields.contact).toMatch(/^Still receives “.+” at 08:00.* Choose other readers there first\.$/);
  });
});
