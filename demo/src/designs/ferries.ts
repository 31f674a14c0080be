import { type CivilDate, partsOf, type Range } from '@chronicon/core/calendar';
import { type Design, words } from './design.ts';

/** The half year of the timetable in which a day lies: from October, and from April. */
export function seasonOf(day: CivilDate): Range {
  const { year, month } = partsOf(day);
  if (month >= 4 && month <= 9) return { from: `${year}-04-01`, to: `${year}-09-30` };
  const begun = month >= 10 ? year : year - 1;
  return { from: `${begun}-10-01`, to: `${begun + 1}-03-31` };
}

/** Bookings on their way through the season, and the care of the site that takes them. */
export const ferries = (today: CivilDate): Design => ({
  pages: [
    {
      title: 'Bookings',
      rows: [
        [{ kind: 'opening', metric: 'revenue', dimension: 'channel' }],
        [
          { kind: 'kpi', metric: 'revenue', columns: 5 },
          {
            kind: 'pace',
            metric: 'revenue',
            title: 'Bookings of the season',
            period: { kind: 'fixed', ...seasonOf(today) },
          },
        ],
        [words()],
        [{ kind: 'trend', metric: 'revenue', shape: 'area', title: '' }],
        [
          {
            kind: 'ranking',
            dimension: 'channel',
            metrics: ['revenue', 'orders'],
            changes: 'each',
            n: 6,
            title: 'Where bookings came from',
          },
        ],
      ],
    },
    {
      title: 'On the water',
      rows: [
        [{ kind: 'heading', text: 'Who books, and on what' }],
        [
          { kind: 'share', metric: 'visits', dimension: 'device', form: 'ring', limit: 3, title: '', columns: 6 },
          { kind: 'drivers', metric: 'orders', dimension: 'country', n: 5, title: '' },
        ],
        [{ kind: 'trend', metric: 'orders', by: 'country', title: '' }],
        [
          {
            kind: 'ranking',
            dimension: 'landingPage',
            metrics: ['visits', 'bounceRate'],
            n: 8,
            zeroes: 'leave',
            title: '',
          },
        ],
      ],
    },
    {
      title: 'Care of the site',
      rows: [
        [{ kind: 'heading', text: 'What was done for the site' }],
        [{ kind: 'kpiRow', metrics: ['uptime', 'downtime', 'backups', 'updates'] }],
        [{ kind: 'trend', metric: 'downtime', shape: 'columns', title: '' }],
        [
          { kind: 'workLog', metrics: ['updates', 'backups', 'scans', 'threats'], dayNotes: 'show', title: '' },
          { kind: 'notes', title: '' },
        ],
      ],
    },
  ],
});
