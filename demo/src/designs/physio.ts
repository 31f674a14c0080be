import { type Design, words } from './design.ts';

/** Enquiries of three locations, by the page, by the phone, by the map. */
export const physio = (standing: string): Design => ({
  paper: { size: 'letter' },
  pages: [
    {
      title: 'Enquiries',
      rows: [
        [{ kind: 'opening', metric: 'leads', dimension: 'channel' }],
        [
          { kind: 'kpi', metric: 'leads' },
          { kind: 'kpi', metric: 'calls' },
          { kind: 'kpi', metric: 'directionRequests' },
        ],
        [{ kind: 'heading', text: 'Enquiries for Riverside, Old Mill and North Yard' }],
        [words(standing)],
        [
          { kind: 'trend', metric: 'leads', shape: 'columns', title: '', columns: 7 },
          { kind: 'ranking', dimension: 'channel', metrics: ['leads'], n: 5, title: '' },
        ],
        [{ kind: 'ranking', dimension: 'landingPage', metrics: ['visits', 'leads', 'leadRate'], n: 4, title: '' }],
      ],
    },
    {
      title: 'Locations and calls',
      rows: [
        [{ kind: 'heading', text: 'Three doors, one telephone' }],
        [
          {
            kind: 'ranking',
            dimension: 'location',
            metrics: ['listingViews', 'directionRequests', 'listingCalls', 'rating'],
            changes: 'each',
            n: 3,
            title: 'How each location was found',
          },
        ],
        [{ kind: 'rhythm', metric: 'calls', title: 'When the telephone rings' }],
        [
          { kind: 'kpiRow', metrics: ['answerRate', 'callsMissed', 'callTime'] },
          { kind: 'ranking', dimension: 'source', metrics: ['calls', 'answerRate'], n: 4, title: '' },
        ],
      ],
    },
  ],
});
