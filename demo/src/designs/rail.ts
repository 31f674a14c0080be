import { type Design, words } from './design.ts';

/** Enquiries and what they cost, by advertiser and campaign, with what a better margin would change. */
export const rail: Design = {
  assumptions: [{ key: 'margin', label: 'Marge', unit: 'percent', value: 0.16 }],
  pages: [
    {
      title: 'Demandes',
      rows: [
        [{ kind: 'opening', metric: 'leads', dimension: 'channel' }],
        [words()],
        [{ kind: 'kpiRow', metrics: ['visits', 'leads', 'leadRate', 'revenue'] }],
        [{ kind: 'trend', metric: 'leads', title: '' }],
        [
          { kind: 'ranking', dimension: 'channel', metrics: ['leads'], n: 6, title: '' },
          { kind: 'drivers', metric: 'leads', dimension: 'channel', n: 6, title: '' },
        ],
      ],
    },
    {
      title: 'Publicité',
      paper: { orientation: 'landscape' },
      rows: [
        [{ kind: 'heading', text: 'Annonceurs et campagnes' }],
        [
          {
            kind: 'ranking',
            dimension: 'advertiser',
            metrics: ['adCost', 'adClicks', 'adConversions', 'returnOnAdSpend'],
            changes: 'each',
            n: 5,
            title: '',
          },
        ],
        [
          {
            kind: 'ranking',
            dimension: 'campaign',
            metrics: ['adCost', 'adConversions', 'costPerConversion'],
            n: 5,
            title: '',
            columns: 7,
          },
          { kind: 'whatIf', metrics: ['adProfit', 'adValue', 'adCost'], title: '' },
        ],
      ],
    },
    {
      title: 'Recherche',
      rows: [
        [{ kind: 'heading', text: 'Ce que l’on cherche' }],
        [{ kind: 'kpiRow', metrics: ['searchClicks', 'searchImpressions', 'searchClickRate', 'position'] }],
        [
          {
            kind: 'ranking',
            dimension: 'keyword',
            metrics: ['searchClicks', 'searchImpressions', 'position'],
            n: 10,
            filter: [{ dimension: 'segment', how: 'only', values: ['sg_horsmarque'] }],
            title: 'Ce que l’on cherche sans nous connaître',
          },
        ],
        [{ kind: 'notes', title: '' }],
      ],
    },
  ],
};
