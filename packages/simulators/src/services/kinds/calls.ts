import { diceFor, levelOn, type Pulse } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';

interface CallAccount extends ServiceAccount {
  /** Calls a day. */
  pulse: Pulse;
  sources: readonly (readonly [string, number])[];
}

const OFFICE = [1.3, 1.2, 1.15, 1.15, 1.1, 0.7, 0.4];
const ACCOUNTS: readonly CallAccount[] = [
  {
    id: 'ca-3310',
    name: 'Brackenhollow Physio',
    site: 'brackenhollow.example',
    zone: 'America/Toronto',
    currency: 'CAD',
    firstDay: '2025-01-06',
    pulse: { base: 34, growth: 0.2, week: OFFICE },
    sources: [
      ['Website', 5],
      ['Local listing', 3],
      ['Paid search', 2],
    ],
  },
  {
    id: 'ca-3502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2026-01-05',
    pulse: { base: 6, growth: 0.1, week: OFFICE },
    sources: [['Website', 1]],
  },
];
/** When people call: from eight in the morning to eight in the evening. */
const HOURS = [5, 9, 12, 12, 9, 8, 10, 11, 10, 7, 4, 3];

/** Calls to tracked numbers by hour and source; answered ones, time on the phone, first-time callers. */
export const calls: ServiceKind = {
  kind: 'calls',
  label: 'Call tracking',
  accounts: ACCOUNTS,
  datasets: [
    {
      key: 'calls',
      name: 'Calls',
      dimensions: ['hour', 'source'],
      measures: ['calls', 'callsAnswered', 'callSeconds', 'firstCalls'],
    },
  ],
  uniques: [],
  rows(found, _dataset, date, seed) {
    const account = found as CallAccount;
    const dice = diceFor(seed, account.id, date);
    const size = dice.around(levelOn(account.pulse, account.firstDay, date), 0.15);
    const all = account.sources.reduce((n, [, w]) => n + w, 0);
    return HOURS.flatMap((weight, i) =>
      account.sources.flatMap(([source, part]): Row[] => {
        const taken = dice.whole((size * weight * part) / (100 * all));
        if (taken === 0) return [];
        const answered = Math.min(taken, dice.whole(taken * 0.86));
        const seconds = dice.whole(answered * dice.around(205, 0.4));
        return [
          { dims: [String(8 + i), source], m: [taken, answered, seconds, Math.min(taken, dice.whole(taken * 0.55))] },
        ];
      }),
    );
  },
};
