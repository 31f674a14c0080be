import { entries, ratio, sum, unique } from './entry.ts';

export const web = entries('web', [
  ['visits', 'count', 'higher', sum('visits'), 'Sessions on the website; one person may visit several times.'],
  [
    'visitors',
    'count',
    'higher',
    unique('visitors'),
    'Different people who came within the whole period, as the service counted them. Days cannot be added up: who comes twice is one visitor.',
  ],
  ['pageViews', 'count', 'higher', sum('pageViews'), 'Pages that were loaded.'],
  ['pagesPerVisit', 'decimal', 'higher', ratio('pageViews', 'visits'), 'Page views over visits.'],
  ['bounceRate', 'percent', 'lower', ratio('bounces', 'visits'), 'Visits that saw one page and left, over all visits.'],
  [
    'engagedTime',
    'duration',
    'higher',
    ratio('engagedSeconds', 'visits'),
    'Time in which the page was in front and used, over visits.',
  ],
]);
