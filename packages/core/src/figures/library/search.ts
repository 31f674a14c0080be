import { entries, ratio, sum, weighted } from './entry.ts';

export const search = entries('search', [
  ['searchImpressions', 'count', 'higher', sum('searchImpressions'), 'Times a page appeared in search results.'],
  ['searchClicks', 'count', 'higher', sum('searchClicks'), 'Clicks from search results.'],
  [
    'searchClickRate',
    'percent',
    'higher',
    ratio('searchClicks', 'searchImpressions'),
    'Search clicks ÷ search impressions.',
  ],
  [
    'position',
    'position',
    'lower',
    weighted('position', 'searchImpressions'),
    'Average position in search results: 1 is the top.',
  ],
]);
