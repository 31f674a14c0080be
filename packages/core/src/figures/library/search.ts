import { entries, ratio, sum, weighted } from './entry.ts';

export const search = entries('search', [
  [
    'searchImpressions',
    'count',
    'higher',
    sum('searchImpressions'),
    'Times a page stood among search results that were shown.',
  ],
  ['searchClicks', 'count', 'higher', sum('searchClicks'), 'Clicks from search results.'],
  [
    'searchClickRate',
    'percent',
    'higher',
    ratio('searchClicks', 'searchImpressions'),
    'Search clicks over search impressions.',
  ],
  [
    'position',
    'position',
    'lower',
    weighted('position', 'searchImpressions'),
    'Mean position among search results, each impression counted once: 1 is the top.',
  ],
]);
