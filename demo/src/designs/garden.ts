import type { Logo } from '@chronicon/core/report';
import { type Design, words } from './design.ts';

/** Tickets, the rhythm of the week, and what was done for both. */
export const garden = (lanterns: Logo): Design => ({
  pages: [
    {
      title: 'Mosswick',
      rows: [[{ kind: 'cover', text: 'Tickets, visits and what brought people through the gate.' }]],
    },
    {
      title: 'Tickets and visits',
      rows: [
        [{ kind: 'opening', metric: 'revenue', dimension: 'channel' }],
        [words()],
        [{ kind: 'kpiRow', metrics: ['visits', 'orders', 'revenue', 'orderRate'] }],
        [{ kind: 'trend', metric: 'revenue', title: '' }],
        [
          { kind: 'ranking', dimension: 'channel', metrics: ['revenue'], n: 6, title: '' },
          { kind: 'drivers', metric: 'revenue', dimension: 'channel', n: 6, title: '' },
        ],
      ],
    },
    {
      title: 'A week in the garden',
      rows: [
        [{ kind: 'heading', text: 'When people plan their visit' }],
        [{ kind: 'rhythm', metric: 'visits', title: '' }],
        [
          {
            kind: 'picture',
            picture: lanterns,
            alt: 'Lanterns hang between two trees',
            caption: 'The Lantern evenings run until the end of the month.',
            columns: 5,
          },
          { kind: 'workLog', metrics: [], dayNotes: 'show', title: 'What we did' },
        ],
        [
          { kind: 'share', metric: 'visits', dimension: 'device', form: 'bars', limit: 3, title: '' },
          { kind: 'share', metric: 'visits', dimension: 'country', form: 'bars', limit: 3, title: '' },
        ],
      ],
    },
    {
      title: 'Ads and posts',
      rows: [
        [{ kind: 'heading', text: 'What brought them here' }],
        [{ kind: 'kpiRow', metrics: ['adCost', 'adClicks', 'costPerConversion', 'followers'] }],
        [
          {
            kind: 'ranking',
            dimension: 'campaign',
            metrics: ['adCost', 'adConversions', 'costPerConversion'],
            n: 6,
            title: '',
          },
        ],
        [{ kind: 'trend', metric: 'adConversions', shape: 'columns', step: 'week', title: '' }],
        [{ kind: 'ranking', dimension: 'landingPage', metrics: ['visits', 'bounceRate'], n: 8, title: '' }],
      ],
    },
  ],
});
