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
const opening = (metric: string): Draft => ({ kind: 'opening', metric, dimension: 'channel' });
const head = (text: string): Draft => ({ kind: 'heading', text });
const ranking = (
  dimension: 'channel' | 'device' | 'country' | 'landingPage',
  n: number,
  ...metrics: string[]
): Draft => ({
  kind: 'ranking',
  dimension,
  metrics,
  n,
  title: '',
});

const drivers = (metric: string): Draft => ({ kind: 'drivers', metric, dimension: 'channel', n: 6, title: '' });

/** Designs to begin with, by kind of business; two pages each. */
export const STARTERS: readonly Starter[] = [
  {
    key: 'shop',
    label: 'Online shop',
    about: 'Visits, orders and revenue; where they came from; which pages they began on.',
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
    about: 'Visits and enquiries; which channels and pages bring them.',
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
    about: 'Visits and how deep they go; channels, pages, devices and countries.',
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
