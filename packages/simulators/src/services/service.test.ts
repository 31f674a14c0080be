import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { DEMO_SEED, DEMO_TOKEN, type Fault, SERVICES, type Simulators, startSimulators } from '../index.ts';
import { completeThrough } from './service.ts';

let simulators: Simulators;
const webAnalytics = SERVICES.find((k) => k.kind === 'web-analytics')!;
const account = webAnalytics.accounts.find((a) => a.id === 'wa-2187')!;

beforeAll(async () => {
  simulators = await startSimulators({ smtpPort: 4471, offset: Date.parse('2026-11-02T08:42:00Z') - Date.now() });
});
afterAll(() => simulators.close());

const ask = (path: string, token = DEMO_TOKEN) =>
  fetch(`${simulators.url}/services/web-analytics/v1/accounts/${path}`, {
    headers: { authorization: `Bearer ${token}` },
  });

interface RowsPage {
  columns: string[];
  rows: (string | number)[][];
  next: number | null;
}

async function allRows(
  dataset: string,
  from: string,
  to: string,
): Promise<{ columns: string[]; rows: (string | number)[][] }> {
  const rows: (string | number)[][] = [];
  let columns: string[] = [];
  for (let cursor: number | null = 0; cursor !== null; ) {
    const page = (await (
      await ask(`wa-2187/datasets/${dataset}/rows?from=${from}&to=${to}&cursor=${cursor}`)
    ).json()) as RowsPage;
    rows.push(...page.rows);
    columns = page.columns;
    cursor = page.next;
  }
  return { columns, rows };
}

const sumOf = (found: { columns: string[]; rows: (string | number)[][] }, measure: string) =>
  Math.round(found.rows.reduce((n, r) => n + (r[found.columns.indexOf(measure)] as number), 0) * 100) / 100;

describe('the history', () => {
  it('is a function of seed, account and day: a later day only adds', () => {
    const day = () => JSON.stringify(webAnalytics.rows(account, 'visits', '2026-03-14', DEMO_SEED));
    const before = day();
    for (let i = 1; i < 28; i++)
      webAnalytics.rows(account, 'landing', `2026-02-${String(i).padStart(2, '0')}`, DEMO_SEED);
    expect(day()).toBe(before);
    expect(webAnalytics.rows(account, 'visits', '2026-03-14', 'another')).not.toEqual(JSON.parse(before));
    expect(webAnalytics.rows(account, 'visits', '2023-10-15', DEMO_SEED)).toEqual([]);
  });

  it('tells the same story in both datasets, to the penny', async () => {
    const visits = await allRows('visits', '2026-09-01', '2026-10-31');
    const landing = await allRows('landing', '2026-09-01', '2026-10-31');
    for (const measure of ['visits', 'pageViews', 'bounces', 'orders', 'revenue', 'leads']) {
      expect([measure, sumOf(landing, measure)]).toEqual([measure, sumOf(visits, measure)]);
    }
  });

  it('is plausible: growth over the years, seasons, weekends, a campaign, and parts within their whole', () => {
    const visitsOn = (from: string, days: number) => {
      let n = 0;
      for (let i = 0; i < days; i++) {
        const date = new Date(Date.parse(from) + i * 86_400_000).toISOString().slice(0, 10);
        for (const row of webAnalytics.rows(account, 'visits', date, DEMO_SEED)) {
          n += row.m[0]!;
          expect(row.m[3]).toBeLessThanOrEqual(row.m[0]!);
          expect(row.m[5]).toBeLessThanOrEqual(row.m[0]!);
          expect(row.m.every((v) => Number.isFinite(v) && v >= 0)).toBe(true);
        }
      }
      return n;
    };
    expect(visitsOn('2026-06-01', 28)).toBeGreaterThan(visitsOn('2025-06-01', 28) * 1.05);
    expect(visitsOn('2026-06-01', 28)).toBeGreaterThan(visitsOn('2026-01-05', 28) * 1.2);
    const paid = (date: string) =>
      webAnalytics
        .rows(account, 'visits', date, DEMO_SEED)
        .filter((r) => r.dims[0] === 'Paid search')
        .reduce((n, r) => n + r.m[0]!, 0);
    expect(paid('2026-10-20')).toBeGreaterThan(paid('2026-10-06') * 1.5);
  });
});

describe('the protocol', () => {
  it('wants its token, knows its accounts, and refuses what makes no sense', async () => {
    expect((await ask('wa-2187', 'wrong')).status).toBe(401);
    expect((await ask('wa-9999')).status).toBe(404);
    expect((await ask('wa-2187/datasets/visits/rows?from=2026-10-02&to=2026-10-01')).status).toBe(400);
    expect((await ask('wa-2187/datasets/nothing/rows?from=2026-10-01&to=2026-10-02')).status).toBe(400);
    expect(await (await ask('wa-2187')).json()).toEqual({
      id: 'wa-2187',
      name: 'Mosswick Botanic Garden',
      site: 'mosswick.example',
      zone: 'Europe/London',
      currency: 'GBP',
    });
  });

  it('gives pages that do not overlap, and no day that is not complete', async () => {
    const { rows } = await allRows('visits', '2026-05-01', '2026-11-30');
    const keys = rows.map((r) => r.slice(0, 4).join('|'));
    expect(new Set(keys).size).toBe(keys.length);
    expect(keys.length).toBeGreaterThan(5_000);
    expect(rows.at(-1)![0]).toBe('2026-11-01');
  });

  it('counts people once over a range: fewer than the daily ones together, and fewer for a filter', async () => {
    const people = async (query: string) =>
      (
        (await (
          await ask(`wa-2187/datasets/visits/totals?from=2026-10-01&to=2026-10-31&measure=visitors${query}`)
        ).json()) as { value: number }
      ).value;
    const daily = sumOf(await allRows('visits', '2026-10-01', '2026-10-31'), 'visitors');
    expect(await people('')).toBeLessThan(daily);
    expect(await people('&device=Mobile')).toBeLessThan(await people(''));
  });

  it('finishes a day at two in the morning of the account’s own zone', () => {
    const toronto = webAnalytics.accounts.find((a) => a.zone === 'America/Toronto')!;
    expect(completeThrough(toronto, new Date('2026-11-02T06:59:00Z'), 0)).toBe('2026-10-31');
    expect(completeThrough(toronto, new Date('2026-11-02T07:01:00Z'), 0)).toBe('2026-11-01');
    expect(completeThrough(account, new Date('2026-11-02T07:01:00Z'), 3)).toBe('2026-10-29');
  });
});

describe('a service told to misbehave', () => {
  const to = (fault: Fault) => simulators.faults.set('wa-2187', fault);
  const json = async (path: string) => (await ask(path)).json() as Promise<never>;
  const october = 'wa-2187/datasets/visits/rows?from=2026-10-28&to=2026-11-01';
  afterEach(() => to('none'));

  it('restates its last days and no others', async () => {
    const byDay = async () => {
      const sums: Record<string, number> = {};
      const { columns, rows } = (await json(october)) as RowsPage;
      for (const r of rows)
        sums[r[0] as string] = (sums[r[0] as string] ?? 0) + (r[columns.indexOf('visits')] as number);
      return sums;
    };
    const before = await byDay();
    to('restated');
    const after = await byDay();
    expect(Object.keys(before).filter((d) => before[d] !== after[d])).toEqual([
      '2026-10-30',
      '2026-10-31',
      '2026-11-01',
    ]);
  });

  it('calls a measure by another name, in its catalogue and its rows', async () => {
    to('schema');
    const { datasets } = (await json('wa-2187/datasets')) as { datasets: { measures: string[] }[] };
    expect(datasets[0]!.measures[0]).toBe('visitsNew');
    expect(((await json(october)) as RowsPage).columns).toContain('visitsNew');
  });

  it('shows another account under the same number', async () => {
    const own = (await json(october)) as RowsPage;
    to('swapped');
    expect(await json('wa-2187')).toMatchObject({ id: 'wa-2187', site: expect.not.stringContaining('mosswick') });
    expect(((await json(october)) as RowsPage).rows).not.toEqual(own.rows);
  });

  it('refuses the token that it revoked over a restart too, and takes the one that takes its place', async () => {
    const data = mkdtempSync(join(tmpdir(), 'chronicon-simulators-'));
    const start = async () =>
      startSimulators({ smtpPort: 4472, data, offset: simulators.clock.now().getTime() - Date.now() });
    const status = async (of: Simulators, token: string) =>
      (
        await fetch(`${of.url}/services/web-analytics/v1/accounts/wa-2187`, {
          headers: { authorization: `Bearer ${token}` },
        })
      ).status;
    const first = await start();
    expect(await status(first, DEMO_TOKEN)).toBe(200);
    first.faults.set('wa-2187', 'refused');
    await first.close();
    const again = await start();
    expect(again.faults.all()).toEqual({ 'wa-2187': 'refused' });
    expect(await status(again, DEMO_TOKEN)).toBe(401);
    expect(await status(again, `${DEMO_TOKEN}-2`)).toBe(200);
    await again.close();
    rmSync(data, { recursive: true });
  });

  it('grants so many requests a day, and says how many are left', async () => {
    const left = async () => Number((await ask('wa-2187')).headers.get('ratelimit-remaining'));
    expect(await left()).toBe((await left()) + 1);
    simulators.requests.setLimit('web-analytics', 1);
    const refused = await ask('wa-2187');
    expect(refused.status).toBe(429);
    expect(Number(refused.headers.get('retry-after'))).toBeGreaterThan(60);
    simulators.requests.setLimit('web-analytics', 50_000);
  });
});

describe('granting access', () => {
  const service = () => `${simulators.url}/services/search/v1`;
  const verifier = 'v'.repeat(43);
  const fields = {
    response_type: 'code',
    client_id: 'chronicon',
    redirect_uri: 'http://127.0.0.1:4300/connect/back',
    state: 'state-of-the-asker',
    code_challenge: createHash('sha256').update(verifier).digest('base64url'),
    code_challenge_method: 'S256',
  };
  const allow = async (change: object = {}) => {
    const body = new URLSearchParams({ ...fields, answer: 'yes', ...change });
    return fetch(`${service()}/oauth/authorize`, { method: 'POST', body, redirect: 'manual' });
  };
  const codeOf = (response: Response) => new URL(response.headers.get('location')!).searchParams.get('code')!;
  const token = (body: Record<string, string>) =>
    fetch(`${service()}/oauth/token`, {
      method: 'POST',
      body: new URLSearchParams({ client_id: 'chronicon', ...body }),
    });
  const exchange = (code: string, change: object = {}) =>
    token({
      grant_type: 'authorization_code',
      code,
      redirect_uri: fields.redirect_uri,
      code_verifier: verifier,
      ...change,
    });
  const reads = async (access: string) =>
    (await fetch(`${service()}/accounts`, { headers: { authorization: `Bearer ${access}` } })).status;

  it('asks the person, then hands out a code that buys tokens once', async () => {
    const shown = await (await fetch(`${service()}/oauth/authorize?${new URLSearchParams(fields)}`)).text();
    expect(shown).toContain('Tarnbeck Pottery');
    const code = codeOf(await allow());
    const tokens = (await (await exchange(code)).json()) as Record<string, string>;
    expect(await reads(tokens.access_token!)).toBe(200);
    // A refresh token is good for one use; the next comes with the answer.
    const refreshed = await token({ grant_type: 'refresh_token', refresh_token: tokens.refresh_token! });
    expect(refreshed.status).toBe(200);
    expect((await token({ grant_type: 'refresh_token', refresh_token: tokens.refresh_token! })).status).toBe(400);
    // A code that comes a second time was stolen: what it bought is taken back.
    expect((await exchange(code)).status).toBe(400);
    expect(await reads(tokens.access_token!)).toBe(401);
  });

  it('refuses a wrong verifier, another place to return to, and a place nobody registered', async () => {
    expect((await exchange(codeOf(await allow()), { code_verifier: 'w'.repeat(43) })).status).toBe(400);
    expect((await exchange(codeOf(await allow()), { redirect_uri: 'http://127.0.0.1:9/connect/back' })).status).toBe(
      400,
    );
    expect((await allow({ redirect_uri: 'https://elsewhere.invalid/connect/back' })).status).toBe(400);
    expect((await allow({ answer: 'no' })).headers.get('location')).toContain('error=access_denied');
  });
});

describe.each(SERVICES.map((k) => [k.kind, k] as const))('the service %s', (_, kind) => {
  const dates = Array.from({ length: 21 }, (_x, i) =>
    new Date(Date.parse('2026-09-20') + i * 86_400_000).toISOString().slice(0, 10),
  );

  it('answers the same for a day, whenever it is asked, in the shape of its catalogue', () => {
    for (const a of kind.accounts.slice(0, 3)) {
      for (const d of kind.datasets) {
        for (const date of dates) {
          const rows = kind.rows(a, d.key, date, DEMO_SEED);
          expect(kind.rows(a, d.key, date, DEMO_SEED)).toEqual(rows);
          for (const row of rows) {
            expect(row.dims).toHaveLength(d.dimensions.length);
            expect(row.m).toHaveLength(d.measures.length);
            for (const n of row.m) expect(Number.isFinite(n) && n >= 0, `${a.id} ${d.key} ${date}`).toBe(true);
          }
          expect(new Set(rows.map((r) => r.dims.join('|'))).size).toBe(rows.length);
        }
      }
    }
  });

  it('tells one story in all of its datasets', () => {
    for (const a of kind.accounts.slice(0, 3)) {
      for (const measure of new Set(kind.datasets.flatMap((d) => [...d.measures]))) {
        if (kind.uniques.includes(measure)) continue;
        const totals = kind.datasets
          .filter((d) => d.measures.includes(measure))
          .map((d) => {
            const at = d.measures.indexOf(measure);
            const sum = dates.flatMap((date) => kind.rows(a, d.key, date, DEMO_SEED)).reduce((n, r) => n + r.m[at]!, 0);
            return Math.round(sum * 100) / 100;
          });
        expect(new Set(totals).size, `${a.id} ${measure}: ${totals}`).toBe(1);
      }
    }
  });

  it('is served at its own address and says from when on it knows something', async () => {
    const [a] = kind.accounts;
    const service = (path: string) =>
      fetch(`${simulators.url}/services/${kind.kind}/v1/accounts/${a!.id}${path}`, {
        headers: { authorization: `Bearer ${DEMO_TOKEN}` },
      });
    expect(await (await service('')).json()).toMatchObject({ id: a!.id, site: a!.site, zone: a!.zone });
    const { datasets } = (await (await service('/datasets')).json()) as {
      datasets: { key: string; firstDay: string }[];
    };
    // What can only be read for some days back begins those days before the last complete one.
    expect(datasets.map((d) => d.firstDay)).toEqual(kind.datasets.map((d) => (d.window ? '2026-10-03' : a!.firstDay)));
    const { rows } = (await (
      await service(`/datasets/${datasets[0]!.key}/rows?from=2026-10-01&to=2026-10-07`)
    ).json()) as { rows: unknown[] };
    expect(rows.length).toBeGreaterThan(0);
    expect((await service('/datasets/nothing/rows?from=2026-10-01&to=2026-10-07')).status).toBe(400);
  });
});
