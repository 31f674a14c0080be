import type { Account } from './accounts.ts';
import { hashText, randomFrom } from './random.ts';

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

/** The datasets of every account: the same visits, at two grains. */
export const DATASETS = [
  { key: 'visits', name: 'Visits', dimensions: ['channel', 'device', 'country'] },
  { key: 'landing', name: 'Landing pages', dimensions: ['landingPage', 'device'] },
] as const;

export type DatasetKey = (typeof DATASETS)[number]['key'];

/** Dimension values, then measures in the order of {@link MEASURES}. */
export type Row = { dims: string[]; m: number[] };

const DAY = 86_400_000;
const dayNumber = (date: string) => Date.parse(date) / DAY;
const shares = (parts: readonly (readonly [string, number])[]) => {
  const all = parts.reduce((n, [, w]) => n + w, 0);
  return parts.map(([label, w]) => [label, w / all] as const);
};

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
  const total = level(account, date) * (0.92 + random() * 0.16);
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

/** The same day by landing page: every measure is shared out so that both datasets have the same totals. */
function landingOf(account: Account, date: string, seed: string): Row[] {
  const byDevice = new Map<string, number[]>();
  for (const row of visitsOf(account, date, seed)) {
    const sum = byDevice.get(row.dims[1]!) ?? MEASURES.map(() => 0);
    byDevice.set(
      row.dims[1]!,
      sum.map((n, i) => n + row.m[i]!),
    );
  }
  const random = randomFrom(hashText(`${seed}|${account.id}|${date}|landing`));
  const rows: Row[] = [];
  for (const [device, sums] of byDevice) {
    const pages = shares(account.pages.map(([p, w]) => [p, w * (0.8 + random() * 0.4)] as const));
    let share = 0;
    let given = MEASURES.map(() => 0);
    for (const [page, part] of pages) {
      share += part;
      const last = page === pages.at(-1)![0];
      // Running totals are rounded, so the parts add up exactly; money is shared out in hundredths.
      const upTo = sums.map((n, i) =>
        MEASURES[i] === 'revenue' ? Math.round(n * 100 * (last ? 1 : share)) : Math.round(n * (last ? 1 : share)),
      );
      const m = upTo.map((n, i) => (MEASURES[i] === 'revenue' ? (n - given[i]!) / 100 : n - given[i]!));
      given = upTo;
      if (m.some((n) => n !== 0)) rows.push({ dims: [page, device], m });
    }
  }
  return rows;
}

/** What an account's dataset holds for one day. Later days only add; a day never changes. */
export function rowsOfDay(account: Account, dataset: DatasetKey, date: string, seed: string): Row[] {
  if (date < account.firstDay) return [];
  return dataset === 'visits' ? visitsOf(account, date, seed) : landingOf(account, date, seed);
}
