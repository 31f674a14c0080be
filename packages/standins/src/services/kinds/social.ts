import { dayNumber, diceFor, levelOn, type Pulse } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';

interface SocialAccount extends ServiceAccount {
  /** Impressions a day, over all profiles. */
  pulse: Pulse;
  profiles: readonly (readonly [name: string, weight: number, followers: number, joins: number])[];
}

const WEEK = [0.95, 0.95, 1, 1, 1, 1.1, 1];
const ACCOUNTS: readonly SocialAccount[] = [
  {
    id: 'so-4187',
    name: 'Mosswick Botanic Garden',
    site: 'mosswick.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2025-05-01',
    pulse: { base: 3_600, growth: 0.25, week: WEEK, swing: 0.3 },
    profiles: [
      ['Photographs', 6, 8_400, 7.5],
      ['Short films', 4, 2_150, 4.2],
    ],
  },
  {
    id: 'so-4377',
    name: 'Oatmere Dairy Co-op',
    site: 'oatmere.example',
    zone: 'Europe/Dublin',
    currency: 'EUR',
    firstDay: '2025-06-02',
    pulse: { base: 1_900, growth: 0.2, week: WEEK },
    profiles: [['Photographs', 1, 3_900, 3.1]],
  },
  {
    id: 'so-4502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2026-04-01',
    pulse: { base: 240, growth: 0.3, week: WEEK },
    profiles: [['Photographs', 1, 610, 0.8]],
  },
];

/** Profiles: followers as a level, reach as a unique, posts and what people did with them. */
export const social: ServiceKind = {
  kind: 'social',
  label: 'Social profiles',
  accounts: ACCOUNTS,
  datasets: [
    {
      key: 'profiles',
      name: 'Profiles',
      dimensions: ['profile'],
      measures: ['followers', 'reach', 'postImpressions', 'posts', 'engagements', 'socialClicks', 'videoViews'],
    },
  ],
  uniques: ['reach'],
  rows(found, _dataset, date, seed) {
    const account = found as SocialAccount;
    const dice = diceFor(seed, account.id, date);
    const all = account.profiles.reduce((n, p) => n + p[1], 0);
    const age = dayNumber(date) - dayNumber(account.firstDay);
    return account.profiles.map(([profile, weight, followers, joins]): Row => {
      const posts = dice.whole(0.6);
      const size = (levelOn(account.pulse, account.firstDay, date) * weight) / all;
      const impressions = dice.whole(dice.around(size * (1 + 0.5 * posts), 0.2));
      const rest = [0.62, 0.045, 0.008, 0.21].map((part) => dice.whole(impressions * dice.around(part, 0.15)));
      const [reach, engagements, clicks, plays] = rest as [number, number, number, number];
      const level = Math.round(followers + joins * age + 6 * Math.sin(age / 9));
      return { dims: [profile], m: [level, reach, impressions, posts, engagements, clicks, plays] };
    });
  },
};
