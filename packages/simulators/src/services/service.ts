import { type NextFunction, type Request, type Response, Router } from 'express';
import { z } from 'zod';
import type { SimulatorClock } from '../clock.ts';
import type { Faults } from './faults.ts';
import type { Grants } from './grants.ts';
import type { Requests } from './requests.ts';
import type { Row, ServiceAccount, ServiceDataset, ServiceKind } from './serviceKind.ts';

const PAGE = 5_000;
const DAY = 86_400_000;
const LATE_DAYS = 3;
const RESTATED_DAYS = 3;
/** Hours after midnight, in the account's zone, when a day is complete. */
const READY_HOUR = 2;

const date = z.string().regex(/^\d{4}-\d\d-\d\d$/);
const rowsQuery = z.object({ from: date, to: date, cursor: z.coerce.number().int().min(0).default(0) });
const totalsQuery = z.looseObject({ from: date, to: date, measure: z.string() });

export interface ServiceOptions {
  kind: ServiceKind;
  clock: SimulatorClock;
  faults: Faults;
  grants: Grants;
  requests: Requests;
  seed: string;
  /** Days back that any dataset knows; all of its history when left out. */
  history?: number | undefined;
}

/** Made once for each zone: making one is dear. */
const wallClocks = new Map<string, Intl.DateTimeFormat>();

function wallClock(zone: string): Intl.DateTimeFormat {
  let clock = wallClocks.get(zone);
  if (!clock) {
    clock = new Intl.DateTimeFormat('en-CA', {
      timeZone: zone,
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      hourCycle: 'h23',
    });
    wallClocks.set(zone, clock);
  }
  return clock;
}

/** The last day of the account that is complete at `now`. */
export function completeThrough(account: ServiceAccount, now: Date, lateDays: number): string {
  const parts = wallClock(account.zone).formatToParts(now);
  const part = (type: string) => parts.find((p) => p.type === type)!.value;
  const today = Date.parse(`${part('year')}-${part('month')}-${part('day')}`);
  const back = Number(part('hour')) >= READY_HOUR ? 1 : 2;
  return new Date(today - (back + lateDays) * DAY).toISOString().slice(0, 10);
}

function* days(from: string, to: string): Generator<string> {
  for (let d = Date.parse(from); d <= Date.parse(to); d += DAY) yield new Date(d).toISOString().slice(0, 10);
}

const later = (a: string, b: string) => (a > b ? a : b);
const sooner = (a: string, b: string) => (a < b ? a : b);

/** What a measure that was added by mistake comes to after the service looked again. */
const restated = (value: number): number => Math.round(value * 1.04 * 100) / 100;

const tokenOf = (req: Request): string => /^Bearer (.+)$/.exec(req.get('authorization') ?? '')?.[1] ?? '';

/** One simulated service, as docs/feeds.md describes it. */
export function feedService({ kind, clock, faults, grants, requests, seed, history }: ServiceOptions): Router {
  const router = Router();
  const accountOf = (req: Request) => kind.accounts.find((a) => a.id === req.params.account);
  /** Whose figures stand behind a number: another's, when the account was swapped. */
  const shownFor = (account: ServiceAccount): ServiceAccount =>
    faults.of(account.id) === 'swapped' ? kind.accounts.find((a) => a.id !== account.id)! : account;
  const throughOf = (account: ServiceAccount) =>
    completeThrough(account, clock.now(), faults.of(account.id) === 'late' ? LATE_DAYS : 0);
  const firstDayOf = (account: ServiceAccount, dataset: ServiceDataset): string => {
    const window = Math.min(dataset.window ?? Number.POSITIVE_INFINITY, history ?? Number.POSITIVE_INFINITY);
    if (window === Number.POSITIVE_INFINITY) return account.firstDay;
    const edge = Date.parse(completeThrough(account, clock.now(), 0)) - (window - 1) * DAY;
    return later(account.firstDay, new Date(edge).toISOString().slice(0, 10));
  };
  const measuresOf = (account: ServiceAccount, { measures: [first, ...rest] }: ServiceDataset) =>
    faults.of(account.id) === 'schema' ? [`${first}New`, ...rest] : [first!, ...rest];
  const rowsOn = (account: ServiceAccount, dataset: ServiceDataset, day: string): Row[] => {
    const rows = kind.rows(shownFor(account), dataset.key, day, seed);
    const since = Date.parse(throughOf(account)) - RESTATED_DAYS * DAY;
    if (faults.of(account.id) !== 'restated' || Date.parse(day) <= since) return rows;
    return rows.map((r) => ({ ...r, m: r.m.map(restated) }));
  };

  router.use((req, res, next) => {
    if (grants.allows(kind.kind, tokenOf(req))) next();
    else res.status(401).json({ error: 'The token is not known.' });
  });
  router.use((_req, res, next) => {
    const { limit, remaining, resetSeconds } = requests.count(kind.kind);
    res.set({
      'RateLimit-Limit': String(limit),
      'RateLimit-Remaining': String(Math.max(0, remaining)),
      'RateLimit-Reset': String(resetSeconds),
    });
    if (remaining >= 0) next();
    else res.status(429).set('Retry-After', String(resetSeconds)).json({ error: 'The day’s requests are used up.' });
  });

  router.get('/accounts', (_req, res) => {
    res.json({
      accounts: kind.accounts.map(({ id, name, site, zone, currency }) => ({ id, name, site, zone, currency })),
    });
  });

  const misbehave = (req: Request, res: Response, next: NextFunction): void => {
    const account = accountOf(req);
    if (!account) {
      res.status(404).json({ error: 'There is no such account.' });
      return;
    }
    switch (faults.of(account.id)) {
      case 'down':
        res.status(500).json({ error: 'Something broke.' });
        return;
      case 'refused':
        // One that somebody gave since is another one.
        if (grants.begun(tokenOf(req)) > faults.since(account.id)) next();
        else res.status(401).json({ error: 'The token was revoked.' });
        return;
      case 'busy':
        res.status(429).set('Retry-After', '900').json({ error: 'Too many requests.' });
        return;
      case 'broken':
        res.type('json').send('{"columns":["day","chan');
        return;
      case 'slow': {
        const timer = setTimeout(next, 60_000);
        res.on('close', () => clearTimeout(timer));
        return;
      }
      default:
        next();
    }
  };

  router.get('/accounts/:account', misbehave, (req, res) => {
    const { name, site, zone, currency } = shownFor(accountOf(req)!);
    res.json({ id: req.params.account, name, site, zone, currency });
  });

  router.get('/accounts/:account/datasets', misbehave, (req, res) => {
    const account = accountOf(req)!;
    res.json({
      completeThrough: throughOf(account),
      datasets: kind.datasets.map((d) => ({
        key: d.key,
        name: d.name,
        dimensions: d.dimensions,
        measures: measuresOf(account, d),
        firstDay: firstDayOf(account, d),
      })),
    });
  });

  router.get('/accounts/:account/datasets/:dataset/rows', misbehave, (req, res) => {
    const account = accountOf(req)!;
    const dataset = kind.datasets.find((d) => d.key === req.params.dataset);
    const query = rowsQuery.safeParse(req.query);
    if (!dataset || !query.success || query.data.from > query.data.to) {
      res.status(400).json({ error: 'Ask for a known dataset with from and to as dates, from not after to.' });
      return;
    }
    const { from, to, cursor } = query.data;
    const through = throughOf(account);
    const rows: (string | number)[][] = [];
    for (const day of days(later(from, firstDayOf(account, dataset)), sooner(to, through))) {
      for (const row of rowsOn(account, dataset, day)) rows.push([day, ...row.dims, ...row.m]);
    }
    const next = cursor + PAGE < rows.length ? cursor + PAGE : null;
    res.json({
      columns: ['day', ...dataset.dimensions, ...measuresOf(account, dataset)],
      rows: rows.slice(cursor, cursor + PAGE),
      next,
      completeThrough: through,
    });
  });

  // Uniques cannot be added up: the service counts people over the whole range and filter that is asked for.
  router.get('/accounts/:account/datasets/:dataset/totals', misbehave, (req, res) => {
    const account = accountOf(req)!;
    const dataset = kind.datasets.find((d) => d.key === req.params.dataset);
    const query = totalsQuery.safeParse(req.query);
    if (!dataset || !query.success || query.data.from > query.data.to) {
      res.status(400).json({ error: 'Ask for a known dataset and measure with from and to as dates.' });
      return;
    }
    const { from, to, measure, ...filter } = query.data;
    const at = dataset.measures.indexOf(measure);
    if (at < 0) {
      res.status(400).json({ error: 'There is no such measure.' });
      return;
    }
    const wanted = dataset.dimensions.map((d) => (filter[d] === undefined ? null : [filter[d]].flat()));
    let sum = 0;
    let length = 0;
    for (const day of days(
      later(from, firstDayOf(account, dataset)),
      sooner(to, completeThrough(account, clock.now(), 0)),
    )) {
      length++;
      for (const row of rowsOn(account, dataset, day)) {
        const kept = dataset.dimensions.every((_, i) => wanted[i] === null || wanted[i]!.includes(row.dims[i]!));
        if (kept) sum += row.m[at]!;
      }
    }
    // Some people come on several days: the longer the range, the fewer of its daily visitors are new.
    const value = kind.uniques.includes(measure) ? Math.round(sum * (0.55 + 0.45 / Math.max(1, length) ** 0.5)) : sum;
    res.json({ measure, from, to, value: Math.round(value * 100) / 100 });
  });

  return router;
}
