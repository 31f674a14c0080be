import { dayNumber, diceFor, levelOn } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';

interface MailAccount extends ServiceAccount {
  list: string;
  /** Addresses at the beginning; new ones a day. */
  size: number;
  joins: number;
  /** Weekdays on which a mailing goes out, 1 = Monday, with its name. */
  mailings: Readonly<Record<number, string>>;
  /** People written to for the first time on a working day. */
  outreach: number;
}

const ACCOUNTS: readonly MailAccount[] = [
  {
    id: 'em-6377',
    name: 'Oatmere Dairy Co-op',
    site: 'oatmere.example',
    zone: 'Europe/Dublin',
    currency: 'EUR',
    firstDay: '2025-01-01',
    list: 'Friends of the farms',
    size: 4_200,
    joins: 6,
    mailings: { 2: 'Farm letter', 5: 'Weekend recipes' },
    outreach: 12,
  },
  {
    id: 'em-6502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2026-03-02',
    list: 'Kiln news',
    size: 380,
    joins: 1.2,
    mailings: { 4: 'Kiln news' },
    outreach: 0,
  },
];

/** Addresses on the list at the end of a day: never random, so that its growth is steady to the day. */
const sizeOn = (a: MailAccount, date: string): number =>
  Math.round(a.size + a.joins * (dayNumber(date) - dayNumber(a.firstDay) + 1));

/** Email campaigns, outreach and the list: a day without a mailing has no mails, but always a list size. */
export const email: ServiceKind = {
  kind: 'email',
  label: 'Email',
  accounts: ACCOUNTS,
  datasets: [
    {
      key: 'mailings',
      name: 'Mailings',
      dimensions: ['mailing'],
      measures: ['mailsSent', 'mailsDelivered', 'mailsOpened', 'mailClicks', 'unsubscribes'],
    },
    { key: 'outreach', name: 'Outreach', dimensions: ['campaign'], measures: ['contacted', 'replies', 'interested'] },
    { key: 'lists', name: 'Lists', dimensions: ['list'], measures: ['listSize'] },
  ],
  uniques: [],
  rows(found, dataset, date, seed) {
    const account = found as MailAccount;
    const dice = diceFor(seed, account.id, dataset, date);
    const weekday = ((dayNumber(date) + 3) % 7) + 1;
    if (dataset === 'lists') return [{ dims: [account.list], m: [sizeOn(account, date)] }];
    if (dataset === 'outreach') {
      const pulse = { base: account.outreach, growth: 0, week: [1, 1, 1, 1, 1, 0, 0] };
      const contacted = dice.whole(levelOn(pulse, account.firstDay, date));
      if (contacted === 0) return [];
      const replies = Math.min(contacted, dice.whole(contacted * 0.18));
      return [{ dims: ['Shops nearby'], m: [contacted, replies, Math.min(replies, dice.whole(replies * 0.4))] }];
    }
    const mailing = account.mailings[weekday];
    if (!mailing) return [];
    const sent = sizeOn(account, date);
    const delivered = sent - dice.whole(sent * 0.012);
    const opened = dice.whole(delivered * dice.around(0.38, 0.15));
    const row: Row = {
      dims: [mailing],
      m: [sent, delivered, opened, dice.whole(opened * dice.around(0.11, 0.3)), dice.whole(delivered * 0.0015)],
    };
    return [row];
  },
};
