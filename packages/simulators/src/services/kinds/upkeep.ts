import { dayNumber, diceFor } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';

/** Known only from the day on which the service was connected to the site: there is no history before it. */
const ACCOUNTS: readonly ServiceAccount[] = [
  {
    id: 'up-8041',
    name: 'Skerrybound Ferries',
    site: 'skerrybound.example',
    zone: 'Atlantic/Faroe',
    currency: 'DKK',
    firstDay: '2026-06-15',
  },
  {
    id: 'up-8502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2026-09-01',
  },
];
const CHECKS = 288;

/** What was done for the site: updates and backups, checks every five minutes, a scan every night. */
export const upkeep: ServiceKind = {
  kind: 'upkeep',
  label: 'Site upkeep',
  accounts: ACCOUNTS,
  datasets: [
    {
      key: 'events',
      name: 'Events',
      dimensions: ['event'],
      measures: ['updates', 'backups', 'checks', 'checksPassed', 'downSeconds', 'scans', 'threats'],
    },
  ],
  uniques: [],
  rows(account, _dataset, date, seed) {
    const dice = diceFor(seed, account.id, date);
    const weekday = (dayNumber(date) + 3) % 7;
    const failed = dice.next() < 0.06 ? dice.whole(5) : 0;
    const rows: Row[] = [
      { dims: ['Backup'], m: [0, 1, 0, 0, 0, 0, 0] },
      { dims: ['Check'], m: [0, 0, CHECKS, CHECKS - failed, failed * 300, 0, 0] },
      { dims: ['Scan'], m: [0, 0, 0, 0, 0, 1, dice.next() < 0.01 ? 1 : 0] },
    ];
    if (weekday === 2) rows.push({ dims: ['Update'], m: [1 + dice.whole(3), 0, 0, 0, 0, 0, 0] });
    return rows;
  },
};
