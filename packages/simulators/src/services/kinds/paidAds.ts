import { diceFor, levelOn, type Pulse } from '../pulse.ts';
import type { Row, ServiceAccount, ServiceKind } from '../serviceKind.ts';
import { sharedOut, shares } from '../shareOut.ts';

interface AdAccount extends ServiceAccount {
  /** Impressions a day. */
  pulse: Pulse;
  campaigns: readonly (readonly [campaign: string, group: string, weight: number, clickRate: number])[];
  click: number;
  /** Who pays, by how much of it; the account alone where none is named. */
  advertisers?: readonly (readonly [name: string, weight: number])[];
  /** Conversions a click, and what one is worth. */
  converts: number;
  worth: number;
}

const EVEN = [1, 1, 1, 1, 1, 1.05, 0.95];
const MEASURES = ['adImpressions', 'adClicks', 'adCost', 'adConversions', 'adValue'];
const MONEY = [false, false, true, false, true];

const ACCOUNTS: readonly AdAccount[] = [
  {
    id: 'ad-7187',
    name: 'Mosswick Botanic Garden',
    site: 'mosswick.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2025-02-01',
    pulse: { base: 5_200, growth: 0.2, week: [0.9, 0.9, 0.95, 1, 1.1, 1.15, 1], swing: 0.2 },
    campaigns: [
      ['Garden tickets', 'Day out', 30, 0.034],
      ['Garden tickets', 'Families', 22, 0.041],
      ['Lantern evenings', 'Evenings', 26, 0.052],
      ['Annual pass', 'Members', 12, 0.021],
    ],
    click: 0.46,
    converts: 0.037,
    worth: 27.4,
  },
  {
    id: 'ad-7233',
    name: 'Quillon Cycle Works',
    site: 'quillon.example',
    zone: 'Europe/Berlin',
    currency: 'EUR',
    firstDay: '2025-03-10',
    pulse: { base: 9_400, growth: 0.15, week: EVEN, swing: 0.25 },
    campaigns: [
      ['Stadträder', 'Marke', 20, 0.061],
      ['Stadträder', 'Allgemein', 34, 0.022],
      ['Zubehör', 'Licht', 24, 0.031],
      ['Zubehör', 'Taschen', 22, 0.029],
    ],
    click: 0.58,
    converts: 0.021,
    worth: 148,
  },
  {
    id: 'ad-7450',
    name: 'Nightjar Rail Holidays',
    site: 'nightjar.example',
    zone: 'Europe/Paris',
    currency: 'EUR',
    firstDay: '2025-04-07',
    pulse: { base: 7_100, growth: 0.1, week: EVEN, swing: 0.3 },
    campaigns: [
      ['Trains de nuit', 'Capitales', 34, 0.031],
      ['Trains de nuit', 'Littoral', 21, 0.027],
      ['Alpes', 'Hiver', 26, 0.036],
      ['Lisbonne', 'Printemps', 19, 0.024],
    ],
    advertisers: [
      ['Nightjar Rail Holidays', 62],
      ['Couchettes du Midi', 24],
      ['Refuges & Rails', 14],
    ],
    click: 0.62,
    converts: 0.019,
    worth: 236,
  },
  {
    id: 'ad-7502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2026-05-04',
    pulse: { base: 900, growth: 0.1, week: EVEN },
    campaigns: [
      ['Classes', 'Weekend', 3, 0.04],
      ['Mugs', 'Gifts', 2, 0.03],
    ],
    click: 0.35,
    converts: 0.03,
    worth: 33.5,
  },
];
const DEVICES = shares([
  ['Mobile', 64],
  ['Desktop', 31],
  ['Tablet', 5],
]);
const LINE_ITEMS = shares([
  ['Always on', 55],
  ['Season', 30],
  ['Again to visitors', 15],
]);

function campaignRows(account: AdAccount, date: string, seed: string): Row[] {
  const dice = diceFor(seed, account.id, date);
  const all = account.campaigns.reduce((n, c) => n + c[2], 0);
  const size = dice.around(levelOn(account.pulse, account.firstDay, date), 0.1);
  return account.campaigns.flatMap(([campaign, group, weight, clickRate]) =>
    DEVICES.flatMap(([device, part]): Row[] => {
      const impressions = dice.whole(dice.around((size * weight * part) / all, 0.15));
      if (impressions === 0) return [];
      const clicks = Math.min(impressions, dice.whole(impressions * clickRate));
      const cost = Math.round(clicks * dice.around(account.click, 0.2) * 100) / 100;
      const conversions = Math.min(clicks, dice.whole(clicks * account.converts));
      const value = Math.round(conversions * dice.around(account.worth, 0.2) * 100) / 100;
      return [{ dims: [campaign, group, device], m: [impressions, clicks, cost, conversions, value] }];
    }),
  );
}

/** The same day by line item: what the advertiser ordered. */
function lineItemRows(account: AdAccount, date: string, seed: string): Row[] {
  const sums = MEASURES.map((_, i) => campaignRows(account, date, seed).reduce((n, r) => n + r.m[i]!, 0));
  const advertisers = shares(account.advertisers ?? [[account.name, 1]]);
  return sharedOut(sums, advertisers, MONEY).flatMap(([advertiser, own]) =>
    sharedOut(own, LINE_ITEMS, MONEY).map(([item, m]) => ({ dims: [advertiser, item], m })),
  );
}

/** Campaigns, ad groups, advertisers and line items; impressions, clicks, cost, conversions and their value. */
export const paidAds: ServiceKind = {
  kind: 'paid-ads',
  label: 'Paid ads',
  accounts: ACCOUNTS,
  datasets: [
    { key: 'campaigns', name: 'Campaigns', dimensions: ['campaign', 'adGroup', 'device'], measures: MEASURES },
    { key: 'lineItems', name: 'Line items', dimensions: ['advertiser', 'lineItem'], measures: MEASURES },
  ],
  uniques: [],
  rows: (account, dataset, date, seed) =>
    (dataset === 'campaigns' ? campaignRows : lineItemRows)(account as AdAccount, date, seed),
};
