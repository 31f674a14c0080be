import type { DimensionKey } from '../figures/index.ts';
import type { Words } from '../words/index.ts';
import type { Block } from './blocks/registry.ts';
import type { ReportDocument } from './document.ts';

/** Blocks without the ids that a new document gives them. */
type Draft = Block extends infer B ? (B extends Block ? Omit<B, 'id'> : never) : never;

export interface Starter {
  key: string;
  label: string;
  about: string;
  /** Titles and headings are keys of a language's own (Words.starters). */
  pages: { title: string; rows: Draft[][] }[];
}

const kpis = (...metrics: string[]): Draft => ({ kind: 'kpiRow', metrics });
const trend = (metric: string): Draft => ({ kind: 'trend', metric, title: '' });
const note = (): Draft => ({ kind: 'commentary', span: 'period', text: '' });
const opening = (metric: string, dimension: DimensionKey = 'channel'): Draft => ({
  kind: 'opening',
  metric,
  dimension,
});
const head = (text: string): Draft => ({ kind: 'heading', text });
const ranking = (dimension: DimensionKey, n: number, ...metrics: string[]): Draft => ({
  kind: 'ranking',
  dimension,
  metrics,
  n,
  title: '',
});

const drivers = (metric: string, dimension: DimensionKey = 'channel'): Draft => ({
  kind: 'drivers',
  metric,
  dimension,
  n: 6,
  title: '',
});
const stages = (...metrics: string[]): Draft => ({ kind: 'stages', metrics, title: '' });

const overview = (metric: string, dimension: DimensionKey, ...metrics: string[]): Starter['pages'][number] => ({
  title: 'overview',
  rows: [[opening(metric, dimension)], [note()], [kpis(...metrics)], [trend(metric)]],
});

/** Designs to begin with, by what an agency does for a client. */
export const STARTERS: readonly Starter[] = [
  {
    key: 'shop',
    label: 'Online shop',
    about: 'Visits, orders and revenue, by channel and landing page.',
    pages: [
      {
        title: 'overview',
        rows: [
          [opening('revenue')],
          [note()],
          [kpis('visits', 'orders', 'revenue', 'orderRate')],
          [trend('revenue')],
          [ranking('channel', 6, 'revenue'), drivers('revenue')],
        ],
      },
      {
        title: 'visits',
        rows: [
          [head('cameHead')],
          [kpis('visits', 'pagesPerVisit', 'bounceRate', 'engagedTime')],
          [trend('visits')],
          [ranking('landingPage', 8, 'visits', 'bounceRate')],
          [ranking('device', 3, 'visits'), ranking('country', 4, 'visits')],
        ],
      },
    ],
  },
  {
    key: 'leads',
    label: 'Enquiries',
    about: 'Visits and enquiries, by channel and page.',
    pages: [
      {
        title: 'overview',
        rows: [
          [opening('leads')],
          [note()],
          [kpis('visits', 'leads', 'leadRate', 'engagedTime')],
          [trend('leads')],
          [ranking('channel', 6, 'leads'), drivers('leads')],
        ],
      },
      {
        title: 'visits',
        rows: [
          [head('useHead')],
          [kpis('visits', 'pageViews', 'pagesPerVisit', 'bounceRate')],
          [trend('visits')],
          [ranking('landingPage', 8, 'visits', 'bounceRate')],
          [ranking('device', 3, 'visits'), ranking('country', 4, 'visits')],
        ],
      },
    ],
  },
  {
    key: 'visits',
    label: 'Website visits',
    about: 'Visits and engagement, by channel, page, device and country.',
    pages: [
      {
        title: 'overview',
        rows: [
          [opening('visits')],
          [note()],
          [kpis('visits', 'pageViews', 'bounceRate', 'engagedTime')],
          [trend('visits')],
          [ranking('channel', 6, 'visits'), drivers('visits')],
        ],
      },
      {
        title: 'people',
        rows: [
          [head('beganHead')],
          [ranking('landingPage', 10, 'visits', 'bounceRate')],
          [trend('pageViews')],
          [ranking('device', 3, 'visits'), ranking('country', 4, 'visits')],
        ],
      },
    ],
  },
  {
    key: 'social',
    label: 'Content and social',
    about: 'Posts, engagement, and follower growth compared with others.',
    pages: [
      overview('engagements', 'profile', 'followers', 'posts', 'reach', 'engagementRate'),
      {
        title: 'posts',
        rows: [
          [head('posts')],
          [{ kind: 'standouts', metric: 'postEngagements', dimension: 'post', ends: 'both', n: 4, title: '' }],
          [
            { kind: 'peers', metric: 'followers', theirs: 'competitorFollowers', dimension: 'competitor', title: '' },
            { kind: 'topics', metric: 'topicPosts', dimension: 'hashtag', n: 6, title: '' },
          ],
          [trend('followers')],
        ],
      },
    ],
  },
  {
    key: 'ads',
    label: 'Paid ads by advertiser',
    about: 'Spend and results, by advertiser and campaign.',
    pages: [
      overview('adConversions', 'campaign', 'adCost', 'adConversions', 'costPerConversion', 'returnOnAdSpend'),
      {
        title: 'ads',
        rows: [
          [head('ads')],
          [stages('adImpressions', 'adClicks', 'adConversions')],
          [ranking('advertiser', 10, 'adCost', 'adConversions', 'costPerConversion', 'returnOnAdSpend')],
          [ranking('campaign', 10, 'adCost', 'adConversions', 'costPerConversion')],
          [trend('adCost')],
        ],
      },
    ],
  },
  {
    key: 'local',
    label: 'Local presence by location',
    about: 'Searches, calls and ratings for each location.',
    pages: [
      overview('listingActions', 'location', 'listingViews', 'listingActions', 'calls', 'rating'),
      {
        title: 'places',
        rows: [
          [head('places')],
          [ranking('location', 12, 'listingViews', 'directionRequests', 'listingCalls', 'listingClicks')],
          [ranking('location', 12, 'calls', 'callsAnswered', 'answerRate')],
          [drivers('listingActions', 'location'), trend('calls')],
        ],
      },
    ],
  },
  {
    key: 'upkeep',
    label: 'Site upkeep',
    about: 'Uptime, security, work done, and visits.',
    pages: [
      {
        title: 'upkeep',
        rows: [
          [note()],
          [kpis('uptime', 'downtime', 'updates', 'backups')],
          [trend('uptime')],
          [kpis('scans', 'threats', 'visits')],
          [{ kind: 'workLog', metrics: ['updates', 'backups', 'scans'], dayNotes: 'show', title: '' }],
        ],
      },
    ],
  },
  {
    key: 'executive',
    label: 'Monthly page for the board',
    about: 'One page: key figures, progress to target, and why they changed.',
    pages: [
      {
        title: 'executive',
        rows: [
          [opening('revenue')],
          [kpis('revenue', 'orders', 'visits', 'averageOrder')],
          [{ kind: 'pace', metric: 'revenue', title: '' }, drivers('revenue')],
          [note()],
        ],
      },
    ],
  },
  {
    key: 'empty',
    label: 'Empty',
    about: 'One empty page.',
    pages: [{ title: 'overview', rows: [] }],
  },
];

/**
 * A new document from a starter, in the words of the report's language: last month against the month before. Ids come from `makeId`, since the core has no chance.
 * @throws RangeError for a starter that does not exist
 */
export function documentFrom(starterKey: string, words: Words, makeId: () => string): ReportDocument {
  const starter = STARTERS.find((s) => s.key === starterKey);
  if (!starter) throw new RangeError(`no starter ${starterKey}`);
  const say = (key: string) => words.starters[key] ?? key;
  const worded = (b: Draft): Draft => (b.kind === 'heading' ? { ...b, text: say(b.text) } : b);
  return {
    version: 2,
    period: { kind: 'unit', unit: 'month', offset: -1 },
    comparison: { kind: 'previous' },
    pages: starter.pages.map((page) => ({
      id: makeId(),
      title: say(page.title),
      rows: page.rows.map((blocks) => ({
        id: makeId(),
        blocks: blocks.map((b) => ({ ...worded(b), id: makeId() }) as Block),
      })),
    })),
  };
}
