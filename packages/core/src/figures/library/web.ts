import { entries, ratio, sum, unique } from './entry.ts';

export const web = entries('web', [
  ['visits', 'count', 'higher', sum('visits'), 'Sessions on the website; one person can visit several times.'],
  [
    'visitors',
    'count',
    'higher',
    unique('visitors'),
    'Unique people in the whole period, as the service counted them. Daily values can’t be summed.',
  ],
  ['pageViews', 'count', 'higher', sum('pageViews'), 'Pages loaded.'],
  ['pagesPerVisit', 'decimal', 'higher', ratio('pageViews', 'visits'), 'Page views ÷ visits.'],
  ['bounceRate', 'percent', 'lower', ratio('bounces', 'visits'), 'Share of visits with a single page view.'],
  [
    'engagedTime',
    'duration',
    'higher',
    ratio('engagedSeconds', 'visits'),
    'Time the page was in view and active ÷ visits.',
  ],
]);
