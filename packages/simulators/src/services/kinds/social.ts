import { dayNumber, diceFor, levelOn, type Pulse } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';

interface SocialAccount extends ServiceAccount {
  /** Impressions a day, over all profiles. */
  pulse: Pulse;
  profiles: readonly (readonly [name: string, weight: number, followers: number, joins: number])[];
  /** Words under which posts are found, with how many people write under them a day. */
  hashtags: readonly (readonly [tag: string, postsADay: number])[];
  /** What is told of others: their followers, and how many join them a day. */
  competitors: readonly (readonly [name: string, followers: number, joins: number])[];
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
    hashtags: [
      ['#orchidhouse', 41],
      ['#winterglasshouse', 12],
    ],
    competitors: [
      ['Thornholt Arboretum', 12_400, 6.1],
      ['Penwick Gardens', 5_900, 3.4],
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
    hashtags: [['#summerbutter', 23]],
    competitors: [['Harrow Mill Dairy', 4_700, 2.2]],
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
    hashtags: [['#stoneware', 88]],
    competitors: [['Quarry Lane Ceramics', 930, 1.1]],
  },
];

const SUBJECTS = ['Behind the scenes', 'New this week', 'A question for you', 'From the archive', 'Thank you'];
const COMPETITOR_DAYS = 30;

const slug = (text: string): string => text.toLowerCase().replace(/[^a-z]+/g, '-');
const postsOn = (account: SocialAccount, profile: string, date: string, seed: string): number =>
  diceFor(seed, account.id, profile, 'posts', date).whole(0.6);

function profileRows(account: SocialAccount, date: string, seed: string): Row[] {
  const dice = diceFor(seed, account.id, date);
  const all = account.profiles.reduce((n, p) => n + p[1], 0);
  const age = dayNumber(date) - dayNumber(account.firstDay);
  return account.profiles.map(([profile, weight, followers, joins]): Row => {
    const posts = postsOn(account, profile, date, seed);
    const size = (levelOn(account.pulse, account.firstDay, date) * weight) / all;
    const impressions = dice.whole(dice.around(size * (1 + 0.5 * posts), 0.2));
    const rest = [0.62, 0.045, 0.008, 0.21].map((part) => dice.whole(impressions * dice.around(part, 0.15)));
    const [reach, engagements, clicks, plays] = rest as [number, number, number, number];
    const level = Math.round(followers + joins * age + 6 * Math.sin(age / 9));
    return { dims: [profile], m: [level, reach, impressions, posts, engagements, clicks, plays] };
  });
}

/** The day's posts, each with its text, where it is found and its picture. */
function postRows(account: SocialAccount, date: string, seed: string): Row[] {
  return account.profiles.flatMap(([profile]) =>
    Array.from({ length: postsOn(account, profile, date, seed) }, (_, i): Row => {
      const dice = diceFor(seed, account.id, profile, 'post', date, String(i));
      const subject = SUBJECTS[Math.floor(dice.next() * SUBJECTS.length)]!;
      const name = `${date}-${slug(subject)}${i > 0 ? `-${i + 1}` : ''}`;
      const link = `https://${slug(profile)}.social.example/${slug(account.name)}/${name}`;
      const reactions = dice.whole(dice.around(account.pulse.base * 0.02, 0.5));
      return {
        dims: [profile, `${subject}, ${date}`, link, `/pictures/${account.id}/${slug(profile)}-${name}.jpg`],
        m: [reactions, dice.whole(reactions * 0.12), dice.whole(reactions * 0.07)],
      };
    }),
  );
}

const competitorRows = (account: SocialAccount, date: string, seed: string): Row[] =>
  account.competitors.map(([name, followers, joins]) => {
    const dice = diceFor(seed, account.id, name, date);
    const posts = dice.whole(0.8);
    const level = Math.round(followers + joins * (dayNumber(date) - dayNumber(account.firstDay)));
    return { dims: [name], m: [level, posts, dice.whole(posts * dice.around(followers * 0.02, 0.4))] };
  });

const hashtagRows = (account: SocialAccount, date: string, seed: string): Row[] =>
  account.hashtags.map(([tag, a]) => ({
    dims: [tag, `https://social.example/tags/${tag.slice(1)}`],
    m: [diceFor(seed, account.id, tag, date).whole(diceFor(seed, tag, date).around(a, 0.3))],
  }));

const ROWS: Record<string, (account: SocialAccount, date: string, seed: string) => Row[]> = {
  profiles: profileRows,
  posts: postRows,
  hashtags: hashtagRows,
  competitors: competitorRows,
};

/** Profiles with followers as a level and reach as a unique; posts, hashtags followed, competitors for 30 days. */
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
    {
      key: 'posts',
      name: 'Posts',
      dimensions: ['profile', 'post', 'postLink', 'postPicture'],
      measures: ['reactions', 'comments', 'postShares'],
    },
    { key: 'hashtags', name: 'Hashtags', dimensions: ['hashtag', 'hashtagLink'], measures: ['hashtagPosts'] },
    {
      key: 'competitors',
      name: 'Competitors',
      dimensions: ['competitor'],
      measures: ['competitorFollowers', 'competitorPosts', 'competitorEngagements'],
      window: COMPETITOR_DAYS,
    },
  ],
  uniques: ['reach'],
  rows: (found, dataset, date, seed) => ROWS[dataset]!(found as SocialAccount, date, seed),
};
