import type { Block, ReportDocument } from '@chronicon/core/report';

let ids = 0;
const id = () => `t${ids++}`;
type Draft = Block extends infer B ? (B extends Block ? Omit<B, 'id'> : never) : never;

const heading = (text: string): Draft => ({ kind: 'heading', text });
const trend = (metric: string): Draft => ({ kind: 'trend', metric, title: '' });
const kpis = (...metrics: string[]): Draft => ({ kind: 'kpiRow', metrics });
const rank = (dimension: 'channel' | 'device' | 'country' | 'landingPage', n: number, ...metrics: string[]): Draft => ({
  kind: 'ranking',
  dimension,
  metrics,
  n,
  title: '',
});

/** What stands on each sheet behind the cover. */
const SHEETS: Draft[][][] = [
  [
    [{ kind: 'opening', metric: 'revenue', dimension: 'channel' }],
    [{ kind: 'commentary', span: 'standing', text: 'Visits came to {{figure.visits}}, **{{change.visits}}**.' }],
    [kpis('visits', 'orders', 'revenue', 'orderRate')],
    [trend('revenue')],
    [rank('channel', 5, 'visits', 'revenue')],
  ],
  [
    [
      { kind: 'kpi', metric: 'revenue' },
      { kind: 'pace', metric: 'revenue', title: '' },
    ],
    [{ kind: 'stages', metrics: ['visits', 'orders'], title: '' }],
    [{ kind: 'drivers', metric: 'revenue', dimension: 'channel', n: 5, title: '' }],
    [trend('orders')],
  ],
  [
    [
      { kind: 'share', metric: 'visits', dimension: 'channel', form: 'ring', limit: 3, title: '' },
      { kind: 'share', metric: 'visits', dimension: 'device', form: 'bars', limit: 3, title: '' },
    ],
    [{ kind: 'standouts', metric: 'visits', dimension: 'landingPage', ends: 'both', n: 5, title: '' }],
    [trend('visits')],
  ],
  [
    [{ kind: 'peers', metric: 'visits', theirs: 'orders', dimension: 'channel', title: '' }],
    [{ kind: 'topics', metric: 'visits', dimension: 'channel', n: 8, title: '' }],
    [{ kind: 'whatIf', metrics: ['revenue', 'orders'], title: '' }],
  ],
  [
    [{ kind: 'workLog', metrics: ['visits', 'orders'], dayNotes: 'show', title: '' }],
    [{ kind: 'rhythm', metric: 'visits', title: '' }],
    [{ kind: 'trend', metric: 'revenue', by: 'channel', title: '' }],
  ],
  ...['Visits', 'Orders', 'Pages', 'People'].map((name): Draft[][] => [
    [heading(`${name}, one by one`)],
    [rank('landingPage', 12, 'visits', 'bounceRate', 'pagesPerVisit')],
    [trend(name === 'Orders' ? 'orders' : 'pageViews')],
    [rank('device', 3, 'visits'), rank('country', 3, 'visits')],
  ]),
  [[{ kind: 'notes', title: '' }], [trend('bounceRate')]],
];

/** A cover, a table of contents and ten sheets: every kind of block, a hundred and more figures. */
export const twelveSheets = (): ReportDocument => ({
  version: 2,
  period: { kind: 'fixed', from: '2026-10-01', to: '2026-10-31' },
  comparison: { kind: 'previous' },
  assumptions: [{ key: 'margin', label: 'Margin', unit: 'percent', value: 0.2 }],
  pages: [[[{ kind: 'cover', text: 'A year in figures.' } satisfies Draft]], ...SHEETS].map((rows, i) => ({
    id: id(),
    title: i === 0 ? 'Cover' : `Sheet ${i}`,
    rows: rows.map((blocks) => ({ id: id(), blocks: blocks.map((b) => ({ ...b, id: id() }) as Block) })),
  })),
});
