import type { Block } from './blocks/registry.ts';
import type { ReportDocument } from './document.ts';

/** Blocks without the ids that a new document gives them. */
type Draft = Block extends infer B ? (B extends Block ? Omit<B, 'id'> : never) : never;

export interface Starter {
  key: string;
  label: string;
  about: string;
  pages: { title: string; rows: Draft[][] }[];
}

const kpis = (...metrics: string[]): Draft => ({ kind: 'kpiRow', metrics });
const trend = (metric: string): Draft => ({ kind: 'trend', metric, title: '' });
const say = (text: string): Draft => ({ kind: 'commentary', text });
const head = (text: string): Draft => ({ kind: 'heading', text });
const ranking = (dimension: 'channel' | 'device' | 'country' | 'landingPage', n: number, ...metrics: string[]): Draft => ({
  kind: 'ranking',
  dimension,
  metrics,
  n,
  title: '',
});

/** Designs to begin with, by kind of business; two pages each. */
export const STARTERS: readonly Starter[] = [
  {
    key: 'shop',
    label: 'Online shop',
    about: 'Visits, orders and revenue; where they came from; which pages they began on.',
    pages: [
      {
        title: 'Overview',
        rows: [
          [head('How the shop did')],
          [say('')],
          [kpis('visits', 'orders', 'revenue', 'orderRate')],
          [trend('revenue')],
          [ranking('channel', 6, 'revenue', 'orders', 'visits')],
        ],
      },
      {
        title: 'Visits',
        rows: [
          [head('Who came, and where they began')],
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
    about: 'Visits and enquiries; which channels and pages bring them.',
    pages: [
      {
        title: 'Overview',
        rows: [
          [head('Enquiries and where they came from')],
          [say('')],
          [kpis('visits', 'leads', 'leadRate', 'engagedTime')],
          [trend('leads')],
          [ranking('channel', 6, 'leads', 'visits', 'leadRate')],
        ],
      },
      {
        title: 'Visits',
        rows: [
          [head('How people use the site')],
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
    about: 'Visits and how deep they go; channels, pages, devices and countries.',
    pages: [
      {
        title: 'Overview',
        rows: [
          [head('How the site did')],
          [say('')],
          [kpis('visits', 'pageViews', 'bounceRate', 'engagedTime')],
          [trend('visits')],
          [ranking('channel', 6, 'visits', 'pageViews', 'bounceRate')],
        ],
      },
      {
        title: 'Pages and people',
        rows: [
          [head('Where visits began, and on what')],
          [ranking('landingPage', 10, 'visits', 'bounceRate')],
          [trend('pageViews')],
          [ranking('device', 3, 'visits'), ranking('country', 4, 'visits')],
        ],
      },
    ],
  },
];

/**
 * A new document from a starter: last month against the month before. Ids come from `makeId`, since the core has no chance.
 * @throws RangeError for a starter that does not exist
 */
export function documentFrom(starterKey: string, makeId: () => string): ReportDocument {
  const starter = STARTERS.find((s) => s.key === starterKey);
  if (!starter) throw new RangeError(`no starter ${starterKey}`);
  return {
    version: 1,
    period: { kind: 'unit', unit: 'month', offset: -1 },
    comparison: { kind: 'previous' },
    pages: starter.pages.map((page) => ({
      id: makeId(),
      title: page.title,
      rows: page.rows.map((blocks) => ({
        id: makeId(),
        blocks: blocks.map((b) => ({ ...b, id: makeId() }) as Block),
      })),
    })),
  };
}
