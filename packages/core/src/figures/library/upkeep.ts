import { entries, ratio, sum } from './entry.ts';

export const upkeep = entries('upkeep', [
  ['updates', 'count', 'neutral', sum('updates'), 'Updates of the website’s software that were installed.'],
  ['backups', 'count', 'higher', sum('backups'), 'Backups that were made and can be read.'],
  [
    'uptime',
    'percent',
    'higher',
    ratio('checksPassed', 'checks'),
    'Checks in which the site answered, over all checks.',
  ],
  ['downtime', 'duration', 'lower', sum('downSeconds'), 'Time in which the site did not answer.'],
  ['scans', 'count', 'neutral', sum('scans'), 'Security scans.'],
  ['threats', 'count', 'lower', sum('threats'), 'Threats that scans found.'],
]);
