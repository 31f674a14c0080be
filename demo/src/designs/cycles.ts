import { type Design, words } from './design.ts';

/** A shop from the first look to the order. */
export const cycles: Design = {
  pages: [
    {
      title: 'Der Shop',
      rows: [
        [{ kind: 'opening', metric: 'revenue', dimension: 'channel' }],
        [
          { kind: 'kpi', metric: 'revenue', columns: 5 },
          { kind: 'kpiRow', metrics: ['orders', 'averageOrder', 'orderRate'] },
        ],
        [words()],
        [{ kind: 'trend', metric: 'revenue', title: '' }],
        [
          { kind: 'share', metric: 'revenue', dimension: 'channel', form: 'ring', limit: 3, title: '' },
          { kind: 'drivers', metric: 'revenue', dimension: 'channel', n: 5, title: '' },
        ],
      ],
    },
    {
      title: 'Von der Anzeige zur Bestellung',
      rows: [
        [{ kind: 'heading', text: 'Von der Anzeige zur Bestellung' }],
        [{ kind: 'stages', metrics: ['adImpressions', 'adClicks', 'adConversions'], title: '' }],
        [
          { kind: 'stages', metrics: ['visits', 'orders'], title: '', columns: 6 },
          { kind: 'share', metric: 'visits', dimension: 'device', form: 'bars', limit: 3, title: '' },
        ],
        [
          {
            kind: 'ranking',
            dimension: 'campaign',
            metrics: ['adCost', 'adConversions', 'costPerConversion', 'returnOnAdSpend'],
            n: 5,
            title: '',
          },
        ],
        [{ kind: 'trend', metric: 'adCost', by: 'campaign', step: 'day', title: '' }],
        [{ kind: 'ranking', dimension: 'landingPage', metrics: ['visits', 'bounceRate'], n: 6, title: '' }],
      ],
    },
  ],
};
