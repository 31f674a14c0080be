import { entries, ratio, sum } from './entry.ts';

export const upkeep = entries('upkeep', [
  ['updates', 'count', 'neutral', sum('updates'), 'Website software updates installed.'],
  ['backups', 'count', 'higher', sum('backups'), 'Backups made and verified as readable.'],
  ['uptime', 'percent', 'higher', ratio('checksPassed', 'checks'), 'Checks in which the site responded ÷ all checks.'],
  ['downtime', 'duration', 'lower', sum('downSeconds'), 'Time in which the site did not respond.'],
  ['scans', 'count', 'neutral', sum('scans'), 'Security scans.'],
  ['threats', 'count', 'lower', sum('threats'), 'Threats found by scans.'],
]);
