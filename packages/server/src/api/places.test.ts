import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  ACCOUNT,
  CLIENT,
  editionsOf,
  type Furnished,
  openFurnishedFixture,
  scheduleFor,
  type TestFixture,
} from '../test/harness.ts';

let fixture: TestFixture;
let f: Furnished;
let weekly: string;

/** A client with a weekly schedule whose runs of 2 and 9 November went out, and one whose feed stopped. */
beforeAll(async () => {
  ({ fixture, f } = await openFurnishedFixture('2026-11-01T12:00:00Z'));
  const body = scheduleFor(f, {
    rule: { freq: 'weekly', every: 1, weekdays: [1] },
    period: { kind: 'unit', unit: 'week', offset: -1 },
    comparison: { kind: 'lastYear' },
  });
  weekly = (await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body })).body
    .id;
  await fixture.moveTo('2026-11-02T08:01:00Z');
  await fixture.moveTo('2026-11-09T08:01:00Z');
});
afterAll(() => fixture.close());

describe('the Desk', () => {
  it('shows yesterday to next week, what is done and what is to come, each with its dates', async () => {
    const { body: desk } = await fixture.owner.ask('GET /api/desk');
    expect([desk.today, desk.time]).toEqual(['2026-11-09', '08:01']);
    expect(desk.days.map((d) => d.date)).toEqual(
      Array.from({ length: 9 }, (_, i) =>
        new Date(Date.parse('2026-11-08') + i * 86_400_000).toISOString().slice(0, 10),
      ),
    );
    const lines = desk.days.flatMap((d) => d.lines.map((l) => [d.date, l.local.time, l.state, l.title, l.readers]));
    expect(lines).toEqual([
      ['2026-11-09', '08:00', 'sent', 'Monthly overview', 1],
      ['2026-11-16', '08:00', 'planned', 'Monthly overview', 1],
    ]);
    expect(desk.needs.map((n) => n.title)).toEqual([
      expect.stringMatching(/^Tarnbeck Pottery: commentary for 9.*15 Nov/),
    ]);
    expect(desk.zone).toBe('Europe/London');
  });

  it('says which client has nothing planned, and which feed is in trouble', async () => {
    const { body: other } = await fixture.owner.ask('POST /api/clients', { body: { ...CLIENT, name: 'Quiet & Co' } });
    fixture.simulators.faults.set(ACCOUNT, 'refused');
    const [feed] = (await fixture.owner.ask('GET /api/clients/:client/feeds', { params: { client: f.client } })).body;
    const params = { client: f.client, feed: feed!.id };
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/sync', { params });
    await fixture.server.syncs.idle();
    const { body: desk } = await fixture.owner.ask('GET /api/desk');
    expect(desk.needs.map((n) => [n.tone, n.title])).toEqual([
      ['attention', expect.stringContaining('commentary for')],
      ['wrong', expect.stringContaining('tarnbeck.example')],
      ['calm', 'Quiet & Co has nothing scheduled'],
    ]);
    expect(desk.needs[1]!.action).toEqual({ label: 'Enter token', to: `/clients/${f.client}/feeds#${feed!.id}` });
    const { body: scoped } = await fixture.owner.ask('GET /api/desk', { query: { client: other.id } });
    expect(scoped.needs).toHaveLength(1);
    expect(scoped.days.flatMap((d) => d.lines)).toEqual([]);
    fixture.simulators.faults.set(ACCOUNT, 'none');
  });
});

describe('the list of clients', () => {
  it('answers: is the data good, what is next, what went out', async () => {
    const { clients } = (await fixture.owner.ask('GET /api/clients')).body;
    expect(clients.find((c) => c.id === f.client)).toMatchObject({
      manager: 'Ines Tallow',
      next: { at: '2026-11-16T08:00:00.000Z', title: 'Monthly overview' },
      feeds: { count: 1, coveredThrough: '2026-11-08' },
      schedules: 1,
      lastSent: expect.stringMatching(/^2026-11-09T08:0/),
    });
  });
});

describe('the archive', () => {
  it('is found by client, report and state, newest first', async () => {
    const find = async (query: Record<string, string>) =>
      (await fixture.owner.ask('GET /api/editions', { query })).body;
    const all = await find({ client: f.client });
    expect(all.editions.map((e) => [e.number, e.period?.label])).toEqual([
      [2, '2–8 November 2026'],
      [1, '26 October – 1 November 2026'],
    ]);
    expect((await find({ text: 'tarnbeck' })).total).toBe(2);
    expect((await find({ text: 'MONTHLY' })).total).toBe(2);
    expect((await find({ text: '100%' })).total).toBe(0);
    expect((await find({ text: '_' })).total).toBe(0);
    expect((await find({ state: 'held' })).total).toBe(0);
    expect((await fixture.owner.ask('GET /api/editions', { query: { state: 'nonsense' } })).status).toBe(422);
  });

  it('hands out the PDF under a name that says what it is', async () => {
    const [edition] = await editionsOf(fixture, f.client);
    const response = await fixture.owner.raw(`/api/editions/${edition!.id}/pdf`);
    expect(response.headers.get('content-type')).toBe('application/pdf');
    expect(decodeURIComponent(response.headers.get('content-disposition')!)).toContain(
      'Tarnbeck Pottery Monthly overview 2',
    );
    expect(
      Buffer.from(await response.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
  });

  it('says of each edition whom it is for and what became of it', async () => {
    const [edition] = await editionsOf(fixture, f.client);
    expect(edition!.readers).toEqual(['Petra Lund']);
    expect(edition!.deliveries.map((d) => [d.name, d.state])).toEqual([['Petra Lund', 'accepted']]);
  });

  it('does not take up what is done, nor leave out what was sent', async () => {
    const [edition] = await editionsOf(fixture, f.client);
    const params = { edition: edition!.id };
    expect((await fixture.owner.ask('POST /api/editions/:edition/retry', { params })).status).toBe(409);
    expect((await fixture.owner.ask('POST /api/editions/:edition/skip', { params })).status).toBe(409);
  });
});

describe('the look ahead', () => {
  const ahead = async (change: object) => {
    const { reportId: _, readers: __, subject: ___, message: ____, ...plan } = scheduleFor(f, change);
    return (
      await fixture.owner.ask('POST /api/clients/:client/schedules/look-ahead', {
        params: { client: f.client },
        body: plan,
      })
    ).body.runs;
  };

  it('says when, covering what, against what, before anything is saved', async () => {
    const [first, second] = await ahead({});
    expect(first).toMatchObject({
      nominal: '2026-12-03',
      local: { date: '2026-12-03', time: '08:00' },
      period: { from: '2026-11-01', to: '2026-11-30', label: 'November 2026' },
      compared: { label: 'October 2026' },
      notes: [],
    });
    expect(second!.nominal).toBe('2027-01-03');
  });

  it('warns of a period that is not over by then, and of ranges of very different length', async () => {
    const [open] = await ahead({ period: { kind: 'unit', unit: 'month', offset: 0 } });
    expect(open!.warnings).toContainEqual({
      kind: 'unfinished',
      text: 'The period isn’t over by then: the edition would be held.',
    });
    const [unequal] = await ahead({ comparison: { kind: 'fixed', from: '2026-01-01', to: '2026-01-07' } });
    expect(unequal!.warnings).toContainEqual({ kind: 'length', text: 'Compares 30 days with 7 days.' });
  });

  it('warns of a send before the last day’s figures usually arrive', async () => {
    const [early] = await ahead({ time: '02:00', rule: { freq: 'monthly', every: 1, on: { day: 1 } } });
    const late = early!.warnings.find((w) => w.kind === 'late-data');
    expect(late?.text).toMatch(/Data for 30 Nov usually arrives by 05:20/);
    const [safe] = await ahead({ time: '06:30', rule: { freq: 'monthly', every: 1, on: { day: 1 } } });
    expect(safe!.warnings.filter((w) => w.kind === 'late-data')).toEqual([]);
  });

  it('shows where a run goes that falls on no working day, covering what it covers anyway, and the dates as a rule', async () => {
    const asked = async (change: object) => {
      const { reportId: _, readers: __, subject: ___, message: ____, ...plan } = scheduleFor(f, change);
      const params = { client: f.client };
      return (await fixture.owner.ask('POST /api/clients/:client/schedules/look-ahead', { params, body: plan })).body;
    };
    // 3 January 2027 is a Sunday.
    const stays = await asked({});
    expect(stays.runs).toHaveLength(12);
    expect(stays.calendarRule).toBe(
      'DTSTART;TZID=Europe/London:20260103T080000\nRRULE:FREQ=MONTHLY;INTERVAL=1;BYMONTHDAY=3',
    );
    const moved = await asked({ workingDayRule: 'next' });
    expect(moved.calendarRule).toBeNull();
    expect(moved.runs[1]).toMatchObject({
      nominal: '2027-01-03',
      local: { date: '2027-01-04' },
      period: { label: 'December 2026' },
      notes: ['Moved from 3 January 2027, which isn’t a working day.'],
    });
    expect((await asked({ workingDayRule: 'previous' })).runs[1]!.local.date).toBe('2027-01-01');
  });

  it('is as the schedule that was saved; a run of every day is never moved', async () => {
    const params = { client: f.client };
    const made = await fixture.owner.ask('POST /api/clients/:client/schedules', {
      params,
      body: scheduleFor(f, { workingDayRule: 'next', rule: { freq: 'quarterly', month: 2, on: { workday: -2 } } }),
    });
    expect(made.body.input).toMatchObject({
      workingDayRule: 'next',
      rule: { freq: 'quarterly', month: 2, on: { workday: -2 } },
    });
    await fixture.owner.ask('DELETE /api/schedules/:schedule', { params: { schedule: made.body.id } });
    const daily = scheduleFor(f, { workingDayRule: 'next', rule: { freq: 'daily' } });
    const refused = await fixture.owner.ask('POST /api/clients/:client/schedules', { params, body: daily });
    expect(refused.fields.workingDayRule).toContain('every working day instead');
  });

  it('keeps wall-clock time over a change of the clocks', async () => {
    const runs = await ahead({ rule: { freq: 'monthly', every: 1, on: { last: true } }, firstDate: '2027-03-01' });
    expect(runs.slice(0, 2).map((r) => [r.local.time, r.at])).toEqual([
      ['08:00', '2027-03-31T07:00:00.000Z'],
      ['08:00', '2027-04-30T07:00:00.000Z'],
    ]);
  });
});

describe('pausing and ending', () => {
  it('sends nothing while paused, and does not catch up on what passed meanwhile', async () => {
    const pause = (active: boolean) =>
      fixture.owner.ask('PUT /api/schedules/:schedule/active', { params: { schedule: weekly }, body: { active } });
    await pause(false);
    await fixture.moveTo('2026-11-16T08:05:00Z');
    await pause(true);
    await fixture.moveTo('2026-11-16T09:00:00Z');
    expect((await editionsOf(fixture, f.client)).map((e) => e.dueAt.slice(0, 10))).toEqual([
      '2026-11-09',
      '2026-11-02',
    ]);
    await fixture.moveTo('2026-11-23T08:01:00Z');
    expect((await editionsOf(fixture, f.client))[0]).toMatchObject({ state: 'sent', number: 3 });
    await fixture.owner.ask('DELETE /api/schedules/:schedule', { params: { schedule: weekly } });
    await fixture.moveTo('2026-11-30T08:01:00Z');
    expect(await editionsOf(fixture, f.client)).toHaveLength(3);
    expect(
      (await fixture.owner.ask('GET /api/clients/:client/schedules', { params: { client: f.client } })).body,
    ).toEqual([]);
  });
});
