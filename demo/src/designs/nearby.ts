import { type Design, words } from './design.ts';

/** How one door was found: made for each location, for the people who work there. */
export const nearby: Design = {
  paper: { size: 'letter' },
  pages: [
    {
      title: 'Found nearby',
      rows: [
        [
          { kind: 'kpi', metric: 'listingViews' },
          { kind: 'kpi', metric: 'directionRequests' },
          { kind: 'kpi', metric: 'listingCalls' },
        ],
        [{ kind: 'heading', text: 'How people find the door, and what they do next' }],
        [words('Opening hours and photographs are looked at once a month; answer reviews within two days.')],
        [{ kind: 'trend', metric: 'listingViews', shape: 'line', title: '' }],
        [
          { kind: 'trend', metric: 'directionRequests', shape: 'columns', title: '', columns: 6 },
          { kind: 'trend', metric: 'listingCalls', shape: 'columns', title: '', columns: 6 },
        ],
      ],
    },
  ],
};
