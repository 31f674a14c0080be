import { addDays } from '@chronicon/core/calendar';
import { DEMO_SEED, DEMO_TOKEN, type Fault, SERVICES } from '@chronicon/simulators';
import { sql } from 'kysely';
import { afterEach, describe, expect, it } from 'vitest';
import {
  ACCOUNT,
  editionsOf,
  type Furnished,
  furnish,
  openFurnishedFixture,
  openTestFixture,
  scheduleFor,
  sendSeen,
  type TestFixture,
} from '../test/harness.ts';
import { slicesToFetch } from './slices.ts';

let fixture: TestFixture;
let f: Furnished;

const MORNING = '2026-11-01T12:00:00Z';
/** An agency with a client whose feed is loaded. */
const fed = async () => {
  ({ fixture, f } = await openFurnishedFixture(MORNING));
};
/** An agency with a client that has no feed. */
const unfed = async () => {
  fixture = await openTestFixture(MORNING);
  f = await furnish(fixture, false);
};
afterEach(() => fixture?.close());

const feed = async () =>
  (await fixture.owner.ask('GET /api/clients/:client/feeds', { params: { client: f.client } })).body[0]!;
const rows = async () =>
  fixture.server.facts
    .selectFrom('chunk')
    .select(['dataset_id', 'month', 'rows'])
    .orderBy('dataset_id')
    .orderBy('month')
    .execute();

const connect = (client: string, change: object) =>
  fixture.owner.ask('POST /api/clients/:client/feeds', {
    params: { client },
    body: { kind: 'web-analytics', account: ACCOUNT, token: DEMO_TOKEN, ...change },
  });

describe('slices', () => {
  it('are the days that lack and the last ones again, newest first, none over a month’s end', () => {
    const day = (d: string) => Date.parse(d) / 86_400_000;
    const covered = new Set<number>();
    for (let d = day('2026-01-30'); d <= day('2026-02-10'); d++) if (d !== day('2026-02-04')) covered.add(d);
    expect(slicesToFetch('2026-01-29', '2026-02-12', covered, 3)).toEqual([
      { from: '2026-02-10', to: '2026-02-12' },
      { from: '2026-02-04', to: '2026-02-04' },
      { from: '2026-01-29', to: '2026-01-29' },
    ]);
    expect(slicesToFetch('2026-02-01', '2026-01-31', new Set(), 3)).toEqual([]);
  });
});

describe('connecting', () => {
  it('tells a wrong account and a wrong token at their fields, and keeps neither', async () => {
    await unfed();
    expect((await connect(f.client, { account: 'wa-0000' })).fields.account).toContain('know this account');
    expect((await connect(f.client, { token: 'nonsense' })).fields.token).toContain(
      'The service rejected the access token.',
    );
    // Another currency than the client's: this is how one client's figures would get into another's report.
    expect((await connect(f.client, { account: 'wa-2233' })).fields.account).toContain('EUR');
    expect(await fixture.server.store.selectFrom('feed').selectAll().execute()).toEqual([]);
  });

  it('loads the whole history, exactly as the service tells it, and never shows the token again', async () => {
    fixture = await openTestFixture(MORNING);
    f = await furnish(fixture);
    const loaded = await feed();
    expect(loaded).toMatchObject({ state: 'fresh', trouble: null, progress: null });
    expect(loaded.datasets.map((d) => [d.name, d.firstDay, d.coveredThrough])).toEqual([
      ['Visits', '2025-03-03', '2026-10-31'],
      ['Landing pages', '2025-03-03', '2026-10-31'],
      ['Hours of the day', '2025-03-03', '2026-10-31'],
    ]);
    const account = SERVICES[0]!.accounts.find((a) => a.id === ACCOUNT)!;
    let expected = 0;
    for (let d = Date.parse('2025-03-03'); d <= Date.parse('2026-10-31'); d += 86_400_000) {
      expected += SERVICES[0]!.rows(account, 'visits', new Date(d).toISOString().slice(0, 10), DEMO_SEED).length;
    }
    expect(loaded.datasets[0]!.rows).toBe(expected);
    expect(JSON.stringify(loaded)).not.toContain(DEMO_TOKEN);
    const stored = await fixture.server.store.selectFrom('connection').select('secret').executeTakeFirstOrThrow();
    expect(stored.secret).not.toContain(DEMO_TOKEN);
  });

  it('fetches only what is new or may have been restated the next time', async () => {
    await fed();
    await fixture.moveTo('2026-11-02T12:00:00Z');
    const { progress_of } = await fixture.server.store
      .selectFrom('feed')
      .select('progress_of')
      .executeTakeFirstOrThrow();
    expect(progress_of).toBeLessThanOrEqual(12);
    expect((await feed()).datasets[0]!.coveredThrough).toBe('2026-11-01');
  });
});

describe('a service that misbehaves', () => {
  it.each<[Fault, string]>([
    ['down', 'answered 500'],
    ['refused', 'The service rejected the access token.'],
    ['busy', 'The service asked us to retry later.'],
    ['broken', 'The service sent incomplete data or invalid JSON.'],
    ['slow', 'The service didn’t respond within'],
  ])(
    '(%s): the sync says so, keeps what it had, tries again later; no edition goes out without its data',
    async (fault, words) => {
      await fed();
      if (fault === 'slow') await fixture.restart({ timeout: 1_500 });
      const before = await rows();
      const body = scheduleFor(f, {
        rule: { freq: 'monthly', every: 1, on: { day: 2 } },
        period: { kind: 'rolling', days: 7 },
      });
      await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
      fixture.simulators.faults.set(ACCOUNT, fault);
      await fixture.moveTo('2026-11-02T06:00:00Z');
      const troubled = await feed();
      expect(troubled.state).toBe('troubled');
      expect(troubled.trouble).toContain(words);
      expect(troubled.trouble).toContain('Earlier data is kept.');
      expect(Date.parse(troubled.nextSync!)).toBeGreaterThan(Date.parse('2026-11-02T06:00:00Z'));
      expect(await rows()).toEqual(before);
      const [waiting] = await editionsOf(fixture, f.client);
      expect(waiting!.state).toBe('collecting');
      expect(waiting!.reason).toContain('1 November 2026');

      await fixture.moveTo('2026-11-02T08:01:00Z');
      const [held] = await editionsOf(fixture, f.client);
      expect(held!.state).toBe('held');
      expect(held!.reason).toMatch(/1 November 2026.*Nothing was sent/);
      expect(held!.hasPdf).toBe(false);
      expect(fixture.simulators.mails.list()).toEqual([]);

      // Once the feed delivers it is looked at again at once; after its time a person looks before it goes.
      fixture.simulators.faults.set(ACCOUNT, 'none');
      await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: held!.id } });
      await fixture.server.scheduler.settle();
      const [ready] = await editionsOf(fixture, f.client);
      expect(ready).toMatchObject({ state: 'held', hasPdf: true, may: { send: true }, dueAt: held!.dueAt });
      expect(ready!.reason).toContain(
        'All its data is here now, and its send time has passed. Review it, then send it.',
      );
      expect(fixture.simulators.mails.list()).toEqual([]);
      expect((await sendSeen(fixture, held!.id)).status).toBe(200);
      expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
      expect((await feed()).state).toBe('fresh');
      expect(fixture.simulators.mails.list()).toHaveLength(1);
    },
  );

  it('holds an edition whose visitors the service did not count, and sends it once they are', async () => {
    await fed();
    const params = { report: f.report };
    const report = (await fixture.owner.ask('GET /api/reports/:report', { params })).body;
    const document = structuredClone(report.document);
    for (const row of document.pages[0]!.rows) {
      for (const b of row.blocks) if (b.kind === 'kpiRow') b.metrics = ['visitors', 'visits'];
    }
    const { title, version } = report;
    const saved = await fixture.owner.ask('PUT /api/reports/:report', { params, body: { title, document, version } });
    await fixture.owner.ask('POST /api/reports/:report/release', { params, body: { version: saved.body.version } });
    // The month is all there; the service is gone when it is to be counted.
    await fixture.moveTo('2026-11-02T12:00:00Z');
    fixture.simulators.faults.set(ACCOUNT, 'down');
    const made = await fixture.owner.ask('POST /api/reports/:report/make', { params, body: { contacts: [f.contact] } });
    await fixture.server.scheduler.settle();
    const [held] = await editionsOf(fixture, f.client);
    expect(held!.state).toBe('held');
    expect(held!.reason).toContain('no unique-visitor or reach data for 1');
    expect(fixture.simulators.mails.list()).toEqual([]);
    fixture.simulators.faults.set(ACCOUNT, 'none');
    await fixture.owner.ask('POST /api/editions/:edition/retry', { params: { edition: made.body.editionId } });
    await fixture.server.scheduler.settle();
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('review');
    await sendSeen(fixture, made.body.editionId);
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
  });

  it('(429): is asked again when it said, not before', async () => {
    await fed();
    fixture.simulators.faults.set(ACCOUNT, 'busy');
    await fixture.moveTo('2026-11-02T06:00:00Z');
    const { nextSync } = await feed();
    const wait = (Date.parse(nextSync!) - Date.parse(fixture.server.clock.now())) / 60_000;
    // Never before it said; up to a quarter later, so that not everybody comes back at once.
    expect(wait).toBeGreaterThan(14.9);
    expect(wait).toBeLessThan(19);
  });

  it('(late): the edition waits for the day that is missing and goes out when it comes in time', async () => {
    await fed();
    const body = scheduleFor(f, {
      rule: { freq: 'monthly', every: 1, on: { day: 2 } },
      period: { kind: 'rolling', days: 7 },
    });
    await fixture.owner.ask('POST /api/clients/:client/schedules', { params: { client: f.client }, body });
    fixture.simulators.faults.set(ACCOUNT, 'late');
    await fixture.moveTo('2026-11-02T05:30:00Z');
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('collecting');
    fixture.simulators.faults.set(ACCOUNT, 'none');
    await fixture.moveTo('2026-11-02T06:45:00Z');
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('ready');
    expect(fixture.simulators.mails.list()).toEqual([]);
    await fixture.moveTo('2026-11-02T08:00:30Z');
    expect((await editionsOf(fixture, f.client))[0]!.state).toBe('sent');
  });

  it('(swapped): the feed stops and takes nothing until a person looked, and no edition is drawn from another’s figures', async () => {
    await fed();
    const before = await rows();
    fixture.simulators.faults.set(ACCOUNT, 'swapped');
    await fixture.moveTo('2026-11-02T12:00:00Z');
    const stopped = await feed();
    expect(stopped).toMatchObject({ state: 'stopped', action: 'confirm', nextSync: null });
    expect(stopped.trouble).toMatch(/has changed: .*site \w+\.example, not tarnbeck\.example/);
    expect(await rows()).toEqual(before);
    const made = await fixture.owner.ask('POST /api/reports/:report/make', {
      params: { report: f.report },
      body: { contacts: [f.contact], look: { kind: 'dates', from: '2026-10-26', to: '2026-11-01' } },
    });
    expect(made.status).toBe(200);
    // The edition that it holds up is on the same line.
    await fixture.server.scheduler.settle();
    const desk = (await fixture.owner.ask('GET /api/desk')).body.needs;
    expect(desk.find((n) => n.key === stopped.id)).toMatchObject({
      tone: 'wrong',
      action: { label: 'View differences' },
    });
    // Put right at the service, it goes on when somebody has it looked at again.
    fixture.simulators.faults.set(ACCOUNT, 'none');
    const params = { client: f.client, feed: stopped.id };
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/sync', { params });
    await fixture.server.syncs.idle();
    expect(await feed()).toMatchObject({ state: 'fresh', trouble: null, coveredThrough: '2026-11-01' });
  });

  it('(schema): says what is missing, keeps what it had, and goes on when it is there again', async () => {
    await fed();
    const before = await rows();
    fixture.simulators.faults.set(ACCOUNT, 'schema');
    await fixture.moveTo('2026-11-02T12:00:00Z');
    expect((await feed()).trouble).toContain('no longer provides visits in Visits');
    expect(await rows()).toEqual(before);
    fixture.simulators.faults.set(ACCOUNT, 'none');
    await fixture.moveTo('2026-11-03T12:00:00Z');
    expect(await feed()).toMatchObject({ state: 'fresh', trouble: null, coveredThrough: '2026-11-02' });
  });

  it('(restated): the new figures count, and what changed is kept with before and after', async () => {
    await fed();
    const visitsOf = async (day: string) => {
      const query = { metrics: 'visits', period: `${day}..${day}`, compare: 'none' };
      const ask = () => fixture.owner.ask('GET /api/clients/:client/figures', { params: { client: f.client }, query });
      let answer = await ask();
      // A busy machine may take longer than a person is kept waiting: they ask again.
      while (answer.status === 503) answer = await ask();
      return (answer.body.totals[0]!.current as { value: number }).value;
    };
    const before = await visitsOf('2026-10-31');
    fixture.simulators.faults.set(ACCOUNT, 'restated');
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/sync', {
      params: { client: f.client, feed: (await feed()).id },
    });
    await fixture.server.syncs.idle();
    const after = await visitsOf('2026-10-31');
    expect(after).toBeGreaterThan(before);
    const { restated, id } = await feed();
    expect(restated).toMatchObject({ day: '2026-10-31' });
    const params = { client: f.client, feed: id };
    const all = (await fixture.owner.ask('GET /api/clients/:client/feeds/:feed/restatements', { params })).body;
    const visits = all.find((r) => r.dataset === 'Visits' && r.measure === 'visits' && r.day === '2026-10-31')!;
    expect([visits.before, visits.after]).toEqual([before, after]);
    expect(new Set(all.map((r) => r.day))).toEqual(new Set(['2026-10-29', '2026-10-30', '2026-10-31']));
  });

  it('(quota): stops asking before the day’s requests are used up, and keeps the rest for people and editions', async () => {
    await fed();
    const { id } = await feed();
    const made = fixture.simulators.requests.made('web-analytics');
    fixture.simulators.requests.setLimit('web-analytics', made + 3);
    const params = { client: f.client, feed: id };
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/sync', { params });
    await fixture.server.syncs.idle();
    const { quota, trouble, nextSync } = await feed();
    expect(quota).toMatchObject({ limit: made + 3 });
    expect(quota!.used).toBeLessThanOrEqual(quota!.limit);
    expect(trouble).toMatch(/limit reached|retry later/);
    expect(Date.parse(nextSync!)).toBeGreaterThanOrEqual(Date.parse('2026-11-02T00:00:00Z') - 60_000);
    const asked = fixture.simulators.requests.made('web-analytics');
    await fixture.server.scheduler.settle();
    expect(fixture.simulators.requests.made('web-analytics')).toBe(asked);
  });
});

describe('a source that can be read for thirty days only', () => {
  it('builds up its history here from the day of connecting on', async () => {
    await unfed();
    await fixture.owner.ask('POST /api/clients/:client/feeds', {
      params: { client: f.client },
      body: { kind: 'social', account: 'so-4502', token: DEMO_TOKEN },
    });
    await fixture.server.scheduler.settle();
    const competitors = async () => (await feed()).datasets.find((d) => d.name === 'Competitors')!;
    expect(await competitors()).toMatchObject({ firstDay: '2026-10-02', coveredDays: 30 });
    for (const at of ['2026-11-10T12:00:00Z', '2026-11-25T12:00:00Z', '2026-12-05T12:00:00Z']) await fixture.moveTo(at);
    expect(await competitors()).toMatchObject({
      firstDay: '2026-10-02',
      coveredThrough: '2026-12-04',
      coveredDays: 64,
    });
  });
});

describe('two feeds of one kind', () => {
  it('are counted together, with the feed as one more dimension, and covered where both are', async () => {
    await fed();
    await fixture.server.store.updateTable('client').set({ settings: sql`json_set(settings, '$.site', '')` }).execute();
    await connect(f.client, { account: 'wa-2187' });
    const second = (
      await fixture.owner.ask('GET /api/clients/:client/feeds', { params: { client: f.client } })
    ).body.find((x) => x.account === 'wa-2187')!;
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/confirm', {
      params: { client: f.client, feed: second.id },
    });
    await fixture.server.scheduler.settle();
    const october = { metrics: 'visits', period: '2026-10-01..2026-10-31', compare: 'none' };
    const ask = async (query: Record<string, string>) =>
      (
        await fixture.owner.ask('GET /api/clients/:client/figures', {
          params: { client: f.client },
          query: { ...october, ...query },
        })
      ).body;
    const sum = (account: string) => {
      const kind = SERVICES[0]!;
      const a = kind.accounts.find((x) => x.id === account)!;
      let n = 0;
      for (let d = Date.parse('2026-10-01'); d <= Date.parse('2026-10-31'); d += 86_400_000) {
        for (const r of kind.rows(a, 'visits', new Date(d).toISOString().slice(0, 10), DEMO_SEED)) n += r.m[0]!;
      }
      return n;
    };
    const [own, other] = [sum(ACCOUNT), sum('wa-2187')];
    expect((await ask({})).totals[0]!.current).toEqual({ value: own + other });
    const byFeed = (await ask({ by: 'feed' })).breakdown!.rows;
    expect(byFeed.map((r) => (r.cells[0]!.current as { value: number }).value).sort((a, b) => a - b)).toEqual(
      [own, other].sort((a, b) => a - b),
    );
    // What only one service can count is not known over two.
    expect((await ask({ metrics: 'visitors' })).totals[0]!.current).toEqual({
      na: 'not-additive',
    });
    // Of a day that one of them lacks, what the other brought is partly known.
    fixture.simulators.faults.set('wa-2187', 'down');
    await fixture.moveTo('2026-11-02T12:00:00Z');
    const last = { period: '2026-11-01..2026-11-01' };
    expect((await ask(last)).totals[0]!.current).toMatchObject({ partial: true, share: 0.5 });
    // Once it is removed it is no longer read, until somebody says that it ended.
    const params = { client: f.client, feed: second.id };
    await fixture.owner.ask('DELETE /api/clients/:client/feeds/:feed', { params });
    expect((await ask(last)).totals[0]!.current).toMatchObject({
      partial: true,
      feeds: [{ feed: second.name, until: '2026-10-31' }],
    });
    const past = { before: 'ran' as const, continues: null, after: 'ended' as const };
    await fixture.owner.ask('PUT /api/clients/:client/feeds/:feed/past', { params, body: past });
    expect(Object.keys((await ask(last)).totals[0]!.current)).toEqual(['value']);
    expect((await ask({})).totals[0]!.current).toEqual({ value: own + other });
  });

  it('may be of two services with addresses of their own, each named and seen alone, and one figure together', async () => {
    await fed();
    await fixture.server.store.updateTable('client').set({ settings: sql`json_set(settings, '$.site', '')` }).execute();
    const services = async () => (await fixture.owner.ask('GET /api/services')).body;
    const { next } = (await services()).find((s) => s.kind === 'web-analytics')!;
    expect(next).toBe('web-analytics.2');
    const set = (name: string) =>
      fixture.owner.ask('PUT /api/services/:kind', {
        params: { kind: next! },
        body: { address: `${fixture.simulators.url}/services/web-analytics/v1`, clientId: 'chronicon', name },
      });
    expect((await set('')).fields.name).toContain('Enter a name');
    expect((await set('Plover Counts')).status).toBe(200);
    // Where the first ones are found is said by the environment, and changed there.
    expect((await services()).filter((s) => s.kind.startsWith('web-analytics'))).toMatchObject([
      { kind: 'web-analytics', setBy: 'CHRONICON_FEEDS', next: 'web-analytics.3' },
      { kind: 'web-analytics.2', label: 'Web analytics: Plover Counts', setBy: null, next: null },
    ]);
    expect((await fixture.owner.ask('GET /api/feed-kinds')).body.map((k) => k.label)).toContain(
      'Web analytics: Plover Counts',
    );
    await connect(f.client, { kind: next!, account: 'wa-2187' });
    const params = { client: f.client };
    const second = (await fixture.owner.ask('GET /api/clients/:client/feeds', { params })).body.find(
      (x) => x.kind === next,
    )!;
    expect(second.name).toContain('Plover Counts');
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/confirm', {
      params: { ...params, feed: second.id },
    });
    await fixture.server.scheduler.settle();
    const ask = async (more: object) =>
      (
        await fixture.owner.ask('GET /api/clients/:client/figures', {
          params,
          query: { metrics: 'visits,orderRate', period: '2026-10-01..2026-10-31', compare: 'none', ...more },
        })
      ).body;
    const numberIn = (v: object) => (v as { value: number }).value;
    const { rows } = (await ask({ by: 'feed' })).breakdown!;
    expect(rows.map((r) => r.label)).toContain(second.name);
    const [visits, rate] = (await ask({})).totals.map((t) => numberIn(t.current));
    const parts = rows.map((r) => r.cells.map((c) => numberIn(c.current)));
    expect(visits).toBe(parts.reduce((n, [v]) => n + v!, 0));
    // A ratio pools its parts: it is no mean of the two.
    expect(rate).toBeCloseTo(parts.reduce((n, [v, r]) => n + v! * r!, 0) / visits!, 9);
    const labels = await fixture.owner.ask('GET /api/clients/:client/labels', {
      params,
      query: { dimension: 'channel', text: '' },
    });
    expect(labels.body.labels.length).toBeGreaterThan(2);
    const away = await fixture.owner.ask('DELETE /api/services/:kind', { params: { kind: next! } });
    expect(away.status).toBe(409);
  });

  it('are whole before the later one began only once somebody has said what it was', async () => {
    await fed();
    await fixture.server.store.updateTable('client').set({ settings: sql`json_set(settings, '$.site', '')` }).execute();
    await connect(f.client, { account: 'wa-2187' });
    const client = { client: f.client };
    const feeds = async () => (await fixture.owner.ask('GET /api/clients/:client/feeds', { params: client })).body;
    const second = (await feeds()).find((x) => x.account === 'wa-2187');
    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/confirm', {
      params: { ...client, feed: second!.id },
    });
    await fixture.server.scheduler.settle();
    // The feed that began later, whichever that is, and a month before it.
    const found = await feeds();
    const begins = (x: (typeof found)[number]) => x.datasets.map((d) => d.firstDay).sort()[0]!;
    const [later, earlier] = begins(found[0]!) > begins(found[1]!) ? [found[0]!, found[1]!] : [found[1]!, found[0]!];
    const month = addDays(begins(later), -60);
    const ask = async (query: Record<string, string> = {}) =>
      (
        await fixture.owner.ask('GET /api/clients/:client/figures', {
          params: client,
          query: { metrics: 'visits', period: `${month}..${addDays(month, 29)}`, compare: 'none', ...query },
        })
      ).body;
    const total = async (query = {}) => (await ask(query)).totals[0]!.current;
    const params = { ...client, feed: later.id };
    const say = (before: 'ran' | 'began' | 'continues', continues: string | null = null) =>
      fixture.owner.ask('PUT /api/clients/:client/feeds/:feed/past', {
        params,
        body: { before, continues, after: 'unread' },
      });
    expect(await total()).toMatchObject({ partial: true, share: 0.5, feeds: [{ since: begins(later) }] });
    expect((await ask({ by: 'feed' })).breakdown!.rows.map((r) => r.label)).toEqual([earlier.name]);
    const table = await fixture.owner.raw(
      `/api/clients/${f.client}/figures/table?metrics=visits&period=${month}..${addDays(month, 29)}&by=feed&as=csv`,
    );
    expect(await table.text()).toContain(`Visits 50% of days; ${later.name} only since ${begins(later)}`);
    await say('began');
    expect(Object.keys(await total())).toEqual(['value']);
    // One series: from its first day on the earlier one is not counted any more.
    await say('continues', earlier.id);
    const on = { period: `${begins(later)}..${begins(later)}` };
    expect(Object.keys(await total(on))).toEqual(['value']);
    expect((await ask({ ...on, by: 'feed' })).breakdown!.rows.map((r) => r.label)).toEqual([later.name]);
    expect((await say('continues', 'nobody')).fields.continues).toContain('of the same kind');
    const turned = await fixture.owner.ask('PUT /api/clients/:client/feeds/:feed/past', {
      params: { ...client, feed: earlier.id },
      body: { before: 'continues', continues: later.id, after: 'unread' },
    });
    expect(turned.fields.continues).toContain('only one of the two can');
    await say('ran');
    const before = await fixture.owner.ask('PUT /api/clients/:client/feeds/:feed/past', {
      params: { ...client, feed: earlier.id },
      body: { before: 'continues', continues: later.id, after: 'unread' },
    });
    expect(before.fields.continues).toContain(', so it can’t be continued by it.');
    await say('continues', earlier.id);
    expect((await feeds()).find((x) => x.id === later.id)!.past).toMatchObject({
      before: 'continues',
      continues: earlier.id,
    });
  });
});

describe('removing a feed', () => {
  it('keeps what it brought, stops the schedules that read it with the reason; reconnecting resumes both', async () => {
    await fed();
    const schedule = { params: { client: f.client }, body: scheduleFor(f) };
    await fixture.owner.ask('POST /api/clients/:client/schedules', schedule);
    await fixture.owner.ask('POST /api/reports/:report/make', { params: { report: f.report }, body: { contacts: [] } });
    await fixture.server.scheduler.settle();
    const editions = await editionsOf(fixture, f.client);
    const kept = await rows();
    const params = { client: f.client, feed: (await feed()).id };
    expect(
      (await fixture.owner.ask('GET /api/clients/:client/feeds/:feed/removal', { params })).body.schedules,
    ).toHaveLength(1);
    await fixture.owner.ask('DELETE /api/clients/:client/feeds/:feed', { params });
    expect(await feed()).toMatchObject({ state: 'removed', action: 'reconnect', nextSync: null });
    expect(await rows()).toEqual(kept);
    expect(await editionsOf(fixture, f.client)).toEqual(editions);
    const schedules = async () =>
      (await fixture.owner.ask('GET /api/clients/:client/schedules', { params: { client: f.client } })).body;
    expect(await schedules()).toMatchObject([{ active: false, stopped: expect.stringContaining('was removed') }]);
    await fixture.moveTo('2026-11-03T12:00:00Z');
    expect(await rows()).toEqual(kept);

    await fixture.owner.ask('POST /api/clients/:client/feeds/:feed/reconnect', { params });
    await fixture.server.scheduler.settle();
    expect(await feed()).toMatchObject({ state: 'fresh', coveredThrough: '2026-11-02' });
    expect(await schedules()).toMatchObject([{ active: true, stopped: null }]);
  });
});
