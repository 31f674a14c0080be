import { diceFor, levelOn, type Pulse } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';

interface ListingAccount extends ServiceAccount {
  /** Searches a day, over all locations. */
  pulse: Pulse;
  locations: readonly (readonly [name: string, weight: number, rating: number])[];
}

const WEEK = [0.95, 0.95, 1, 1, 1.1, 1.1, 0.9];
const ACCOUNTS: readonly ListingAccount[] = [
  {
    id: 'li-5310',
    name: 'Brackenhollow Physio',
    site: 'brackenhollow.example',
    zone: 'America/Toronto',
    currency: 'CAD',
    firstDay: '2025-04-01',
    pulse: { base: 310, growth: 0.18, week: WEEK },
    locations: [
      ['Riverside', 5, 4.6],
      ['Old Mill', 3, 4.2],
      ['North Yard', 2, 4.8],
    ],
  },
  {
    id: 'li-5502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2026-02-02',
    pulse: { base: 60, growth: 0.1, week: WEEK },
    locations: [['Workshop', 1, 4.9]],
  },
];

/** Local listings, one for each location: searches, views, actions, and ratings with their number. */
export const listings: ServiceKind = {
  kind: 'listings',
  label: 'Local listings',
  accounts: ACCOUNTS,
  datasets: [
    {
      key: 'locations',
      name: 'Locations',
      dimensions: ['location'],
      measures: [
        'listingSearches',
        'listingViews',
        'directionRequests',
        'listingCalls',
        'listingClicks',
        'rating',
        'ratings',
      ],
    },
  ],
  uniques: [],
  rows(found, _dataset, date, seed) {
    const account = found as ListingAccount;
    const dice = diceFor(seed, account.id, date);
    const size = levelOn(account.pulse, account.firstDay, date);
    const all = account.locations.reduce((n, l) => n + l[1], 0);
    return account.locations.map(([location, weight, rating]): Row => {
      const searches = dice.whole(dice.around((size * weight) / all, 0.15));
      const views = Math.min(searches, dice.whole(searches * 0.62));
      const ratings = dice.whole(searches * 0.004);
      // The mean of the day's ratings, in tenths; a day without ratings has none to weigh.
      const mean = ratings === 0 ? 0 : Math.min(5, Math.round(dice.around(rating, 0.08) * 10) / 10);
      const m = [0.05, 0.03, 0.06].map((part) => dice.whole(views * part));
      return { dims: [location], m: [searches, views, ...m, mean, ratings] };
    });
  },
};
