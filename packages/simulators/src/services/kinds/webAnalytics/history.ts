import { hashText, randomFrom } from '../../random.ts';
import type { Row } from '../../serviceKind.ts';
import { sharedOut, shares } from '../../shareOut.ts';
import type { Account } from './accounts.ts';

const CHANNELS: readonly (readonly [string, number])[] = [
  ['Organic search', 36],
  ['Paid search', 20],
  ['Direct', 17],
  ['Social', 11],
  ['Email', 9],
  ['Referral', 7],
];
const DEVICES: readonly (readonly [string, number])[] = [
  ['Mobile', 58],
  ['Desktop', 35],
  ['Tablet', 7],
];

export const MEASURES = [
  'visits',
  'visitors',
  'pageViews',
  'bounces',
  'engagedSeconds',
  'orders',
  'revenue',
  'leads',
] as const;

/** The datasets of every account: the same visits, at three grains. */
export const DATASETS = [
  { key: 'visits', name: 'Visits', dimensions: ['channel', 'device', 'country'] },
  { key: 'landing', name: 'Landing pages', dimensions: ['landingPage', 'device'] },
  { key: 'hours', name: 'Hours of the day', dimensions: ['hour'] },
] as const;

export type DatasetKey = (typeof DATASETS)[number]['key'];

const DAY = 86_400_000;
const dayNumber = (date: string) => Date.parse(date) / DAY;

const CHANNEL_SHARES = shares(CHANNELS);
const DEVICE_SHARES = shares(DEVICES);

const dayOfYear = (date: string) => dayNumber(date) - dayNumber(`${date.slice(0, 4)}-01-01`) + 1;

/** Visits that the whole site has on a day, before chance by channel. */
function level(account: Account, date: string): number {
  const years = (dayNumber(date) - dayNumber(account.firstDay)) / 365.25;
  const season = 1 + account.swing * Math.cos(((dayOfYear(date) - account.peak) / 365.25) * 2 * Math.PI);
  const weekday = account.week[(dayNumber(date) + 3) % 7]!;
  return account.base * (1 + account.growth) ** years * season * weekday;
}

/** Rows of the finer dataset for one day: a pure function of seed, account and day. */
function makeVisits(account: Account, date: string, seed: string): Row[] {
  const random = randomFrom(hashText(`${seed}|${account.id}|${date}`));
  const total = level(account, date) * (0.92 + random() * 0.16) * (account.incidents?.[date] ?? 1);
  const day = dayOfYear(date);
  const whole = (x: number) => Math.floor(x + random());
  const rows: Row[] = [];
  const countries = shares(account.countries);
  for (const [channel, share] of CHANNEL_SHARES) {
    const lift = account.campaigns
      .filter((c) => c.channel === channel && day >= c.from && day <= c.to)
      .reduce((n, c) => n + c.lift, 0);
    const channelVisits = total * share * (0.85 + random() * 0.3) * (1 + lift);
    for (const [device, d] of DEVICE_SHARES) {
      for (const [country, c] of countries) {
        const visits = whole(channelVisits * d * c * (0.9 + random() * 0.2));
        if (visits === 0) continue;
        const buys = device === 'Desktop' ? 1.4 : 0.8;
        const orders = Math.min(visits, whole(visits * account.orders * buys * (channel === 'Email' ? 1.6 : 1)));
        const bounceRate = device === 'Mobile' ? 0.46 : 0.34;
        rows.push({
          dims: [channel, device, country],
          m: [
            visits,
            Math.max(1, Math.round(visits * 0.82)),
            visits + whole(visits * (1.4 + random())),
            Math.min(visits, whole(visits * bounceRate)),
            whole(visits * (62 + random() * 40)),
            orders,
            Math.round(orders * account.basket * (0.8 + random() * 0.4) * 100) / 100,
            whole(visits * account.leads * (channel === 'Paid search' ? 1.5 : 0.9)),
          ],
        });
      }
    }
  }
  return rows;
}

/** Days made lately: both datasets of a day are asked for one after the other. */
const made = new Map<string, Row[]>();
const KEPT = 2_000;

function visitsOf(account: Account, date: string, seed: string): Row[] {
  const key = `${seed}|${account.id}|${date}`;
  const found = made.get(key);
  if (found) return found;
  const rows = makeVisits(account, date, seed);
  if (made.size >= KEPT) made.delete(made.keys().next().value as string);
  made.set(key, rows);
  return rows;
}

const MONEY = MEASURES.map((m) => m === 'revenue');

/** The measures of several rows added up. */
const sumOf = (rows: readonly Row[]): number[] =>
  rows.reduce(
    (sum, row) => sum.map((n, i) => n + row.m[i]!),
    MEASURES.map(() => 0),
  );

/** The same day by landing page: every measure is shared out so that both datasets have the same totals. */
function landingOf(account: Account, date: string, seed: string): Row[] {
  const all = visitsOf(account, date, seed);
  const random = randomFrom(hashText(`${seed}|${account.id}|${date}|landing`));
  return [...new Set(all.map((r) => r.dims[1]!))].flatMap((device) => {
    const sums = sumOf(all.filter((r) => r.dims[1] === device));
    const pages = shares(account.pages.map(([p, w]) => [p, w * (0.8 + random() * 0.4)] as const));
    return sharedOut(sums, pages, MONEY).map(([page, m]): Row => ({ dims: [page, device], m }));
  });
}

/** How much of a day's visits begin in each hour, from midnight. */
const HOURS = [9, 5, 3, 2, 2, 4, 11, 24, 38, 46, 51, 53, 50, 47, 48, 49, 50, 52, 55, 61, 66, 58, 38, 19];
const WEEKEND_HOURS = [14, 9, 5, 3, 2, 3, 6, 12, 25, 43, 58, 64, 62, 59, 60, 61, 60, 57, 54, 55, 56, 49, 35, 22];

/** The same day by the hour of the account's own clock. */
function hoursOf(account: Account, date: string, seed: string): Row[] {
  const random = randomFrom(hashText(`${seed}|${account.id}|${date}|hours`));
  const weekday = (dayNumber(date) + 3) % 7;
  const curve = weekday >= 5 ? WEEKEND_HOURS : HOURS;
  const parts = shares(curve.map((w, hour) => [String(hour), w * (0.8 + random() * 0.4)] as const));
  return sharedOut(sumOf(visitsOf(account, date, seed)), parts, MONEY).map(([hour, m]): Row => ({ dims: [hour], m }));
}

const MAKERS = { visits: visitsOf, landing: landingOf, hours: hoursOf };

/** What an account's dataset holds for one day. Later days only add; a day never changes. */
export function rowsOfDay(account: Account, dataset: DatasetKey, date: string, seed: string): Row[] {
  if (date < account.firstDay) return [];
  return MAKERS[dataset](account, date, seed);
}
