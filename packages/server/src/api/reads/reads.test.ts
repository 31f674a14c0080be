import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BudgetError } from '../../platform/budget.ts';
import { Refusal } from '../../platform/refusal.ts';
import { CLIENT, type Furnished, openFurnishedFixture, scheduleFor, type TestFixture } from '../../test/harness.ts';
import { createReadThreads } from './readThreads.ts';

let fixture: TestFixture;
let f: Furnished;
beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture());
});
afterAll(() => fixture.close());

const member = async () => (await fixture.owner.ask('GET /api/session')).body.member!;
const job = async (query: object = {}) => ({
  name: 'GET /api/look-ahead' as const,
  query: { scope: '', from: '2026-11-02', to: '2026-11-09', page: 1, ...query },
  member: await member(),
  now: fixture.server.clock.now(),
});
const parsed = (bytes: Uint8Array) => JSON.parse(Buffer.from(bytes).toString('utf8'));

describe('what is read of many clients at once', () => {
  it('sees what was written a moment before, by this server', async () => {
    const before = (await fixture.owner.ask('GET /api/schedules')).body.total;
    const params = { client: f.client };
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: scheduleFor(f) });
    const after = (await fixture.owner.ask('GET /api/schedules')).body;
    expect(after.total).toBe(before + 1);
    await fixture.owner.ask('PUT /api/sending', { body: { on: false } });
    expect((await fixture.owner.ask('GET /api/desk')).body.needs.map((n) => n.title)).toContain(
      'Sending is turned off',
    );
    await fixture.owner.ask('PUT /api/sending', { body: { on: true } });
    expect((await fixture.owner.ask('GET /api/desk')).body.needs.map((n) => n.title)).not.toContain(
      'Sending is turned off',
    );
  });

  it('refuses in words, at the field', async () => {
    const query = { from: '2026-11-09', to: '2026-11-02' };
    const asked = await fixture.owner.ask('GET /api/look-ahead', { query });
    expect([asked.status, asked.fields.to]).toEqual([422, 'The end date is before the start date.']);
    const threads = createReadThreads(fixture.config.data, fixture.server.health, true);
    await expect(threads.run(await job(query))).rejects.toThrow(Refusal);
    expect(parsed(await threads.run(await job())).rows).toBeInstanceOf(Array);
  });

  it('ends with its thread where it takes too long, says so, and the next one is answered', async () => {
    const threads = createReadThreads(fixture.config.data, fixture.server.health, false, {
      screen: 1,
      file: 1,
      upload: 1,
    });
    await expect(threads.run(await job())).rejects.toThrow(BudgetError);
    await threads.close();
    const others = createReadThreads(fixture.config.data, fixture.server.health, false);
    expect(parsed(await others.run(await job())).pageSize).toBeGreaterThan(0);
    await others.close();
  });

  it('of one person take turns: the other thread is for somebody else', async () => {
    const threads = createReadThreads(fixture.config.data, fixture.server.health, true);
    const one = await job();
    const all = await Promise.all(Array.from({ length: 8 }, () => threads.run(one)));
    expect(new Set(all.map((b) => Buffer.from(b).toString('utf8'))).size).toBe(1);
  });
});

const calendar = (...rules: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0']
    .concat(
      ...rules.map((rule, i) => [
        'BEGIN:VEVENT',
        `UID:${i}`,
        'SUMMARY:Day',
        'DTSTART;VALUE=DATE:20260101',
        `RRULE:${rule}`,
        'END:VEVENT',
      ]),
      'END:VCALENDAR',
    )
    .join('\r\n');
const NEVER = 'FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30';

describe('files that take their time', () => {
  it('keep nobody from a screen, their own reader neither', async () => {
    const long = { screen: 60_000, file: 60_000, upload: 60_000 };
    const threads = createReadThreads(fixture.config.data, fixture.server.health, false, long);
    const one = await job();
    const query = { text: calendar(NEVER), from: '2026-01-01' };
    const hanging = [1, 2, 3].map(() =>
      threads.run({ ...one, name: 'calendar.read', query }).then(
        () => 'read',
        () => 'ended',
      ),
    );
    expect(parsed(await threads.run(one)).pageSize).toBeGreaterThan(0);
    await threads.close();
    expect(await Promise.all(hanging)).toEqual(['ended', 'ended', 'ended']);
  });
});

describe('a calendar that somebody brings', () => {
  const read = (text: string) => fixture.owner.ask('POST /api/calendars/read', { body: { text } });

  it('whose rule never has a date is refused, and keeps nobody waiting meanwhile', async () => {
    const never = read(calendar(NEVER));
    // The server answers others while it is read.
    const others = await Promise.all(Array.from({ length: 5 }, () => fixture.owner.ask('GET /api/session')));
    expect(others.map((o) => o.status)).toEqual([200, 200, 200, 200, 200]);
    expect(await never).toMatchObject({ status: 422, fields: { text: expect.stringContaining('takes too long') } });
    expect((await read(calendar('FREQ=YEARLY'))).body.days.length).toBeGreaterThan(5);
  });

  it('that is none is refused in words', async () => {
    expect((await read('hello')).fields.text).toContain('no iCalendar file');
  });
});

describe('names of clients to choose from', () => {
  it('are the first by name, those in which a text is found, and those that are chosen; never all of an agency', async () => {
    const ids: string[] = [];
    for (let i = 0; i < 65; i++) {
      const body = { ...CLIENT, name: `Zinnia ${String(i).padStart(2, '0')}` };
      ids.push((await fixture.owner.ask('POST /api/clients', { body })).body.id);
    }
    const names = async (query: Record<string, string>) =>
      (await fixture.owner.ask('GET /api/clients/names', { query })).body.map((c) => c.name);
    expect(await names({})).toHaveLength(60);
    expect(await names({ text: 'nnia 6' })).toEqual(['Zinnia 60', 'Zinnia 61', 'Zinnia 62', 'Zinnia 63', 'Zinnia 64']);
    expect(await names({ text: 'nowhere', ids: ids[64]! })).toEqual(['Zinnia 64']);
    expect(await names({ text: 'nowhere', ids: 'cl_made_up' })).toEqual([]);
  });
});
