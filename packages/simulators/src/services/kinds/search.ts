import { diceFor, levelOn, type Pulse } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';

interface SearchAccount extends ServiceAccount {
  /** Impressions a day. */
  pulse: Pulse;
  keywords: readonly (readonly [keyword: string, brand: boolean, weight: number, position: number])[];
}

const WEEK = [1, 1, 1, 1, 0.95, 1, 1.05];
const ACCOUNTS: readonly SearchAccount[] = [
  {
    id: 'se-9450',
    name: 'Nightjar Rail Holidays',
    site: 'nightjar.example',
    zone: 'Europe/Paris',
    currency: 'EUR',
    firstDay: '2025-06-01',
    pulse: { base: 4_300, growth: 0.15, week: WEEK, swing: 0.2 },
    keywords: [
      ['nightjar voyages', true, 14, 1.2],
      ['trains de nuit', false, 30, 5.4],
      ['lisbonne en train', false, 18, 7.8],
      ['alpes sans voiture', false, 12, 4.1],
      ['escapade en train', false, 26, 9.3],
    ],
  },
  {
    id: 'se-9502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2026-01-01',
    pulse: { base: 420, growth: 0.1, week: WEEK },
    keywords: [
      ['tarnbeck pottery', true, 3, 1.1],
      ['pottery class', false, 5, 6.2],
      ['handmade mugs', false, 4, 11.4],
    ],
  },
];

/** Search positions by keyword, with and without the brand; a mean position weighs by its impressions. */
export const search: ServiceKind = {
  kind: 'search',
  label: 'Search positions',
  accounts: ACCOUNTS,
  datasets: [
    {
      key: 'keywords',
      name: 'Keywords',
      dimensions: ['keyword', 'brandTerm', 'device'],
      measures: ['searchImpressions', 'searchClicks', 'position'],
    },
  ],
  uniques: [],
  rows(found, _dataset, date, seed) {
    const account = found as SearchAccount;
    const dice = diceFor(seed, account.id, date);
    const size = levelOn(account.pulse, account.firstDay, date);
    const all = account.keywords.reduce((n, k) => n + k[2], 0);
    return account.keywords.flatMap(([keyword, brand, weight, usual]) =>
      (['Mobile', 'Desktop'] as const).flatMap((device): Row[] => {
        const impressions = dice.whole(dice.around((size * weight * (device === 'Mobile' ? 0.65 : 0.35)) / all, 0.2));
        if (impressions === 0) return [];
        const position = Math.max(1, Math.round(dice.around(usual, 0.15) * 10) / 10);
        const clicks = Math.min(impressions, dice.whole((impressions * 0.34) / position ** 1.1));
        return [{ dims: [keyword, brand ? 'Brand' : 'Other', device], m: [impressions, clicks, position] }];
      }),
    );
  },
};
