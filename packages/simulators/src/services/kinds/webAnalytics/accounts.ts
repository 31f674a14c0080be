import type { ServiceAccount } from '../../serviceKind.ts';

/** A website that the service measures, and how its visitors behave. */
export interface Account extends ServiceAccount {
  /** Visits on an ordinary day at the beginning. */
  base: number;
  /** Growth a year: 0.1 is ten per cent. */
  growth: number;
  /** Busiest day of the year (1-365) and how far the season swings: 0.4 is 40 % up and down. */
  peak: number;
  swing: number;
  /** Visits by weekday against the mean, Monday first. */
  week: readonly [number, number, number, number, number, number, number];
  countries: readonly (readonly [string, number])[];
  pages: readonly (readonly [string, number])[];
  /** Orders a visit and money an order; no shop: both 0. */
  orders: number;
  basket: number;
  /** Enquiries a visit. */
  leads: number;
  campaigns: readonly Campaign[];
  /** Days on which measuring went wrong: how much of the day was counted (0: nothing, 3: thrice). */
  incidents?: Readonly<Record<string, number>>;
}

/** Days of every year on which one channel brings more. */
export interface Campaign {
  channel: string;
  /** Day of the year, 1-366. */
  from: number;
  to: number;
  lift: number;
}

const WORKDAYS = [1.15, 1.2, 1.15, 1.1, 0.95, 0.7, 0.75] as const;
const WEEKENDS = [0.8, 0.82, 0.85, 0.9, 1.05, 1.35, 1.23] as const;
const EVEN = [1.02, 0.98, 0.97, 0.99, 1.0, 1.02, 1.02] as const;

export const ACCOUNTS: readonly Account[] = [
  {
    id: 'wa-2041',
    name: 'Skerrybound Ferries',
    site: 'skerrybound.example',
    zone: 'Atlantic/Faroe',
    currency: 'DKK',
    firstDay: '2023-09-01',
    base: 820,
    growth: 0.09,
    peak: 190,
    swing: 0.45,
    week: EVEN,
    countries: [
      ['Faroe Islands', 5],
      ['Denmark', 3],
      ['Iceland', 2],
    ],
    pages: [
      ['/', 24],
      ['/timetable', 30],
      ['/book', 18],
      ['/freight', 6],
      ['/islands/nolsay', 8],
      ['/islands/skuvoy', 7],
      ['/with-a-car', 5],
      ['/contact', 3],
    ],
    orders: 0.071,
    basket: 412,
    leads: 0.004,
    campaigns: [
      { channel: 'Email', from: 60, to: 72, lift: 2.2 },
      { channel: 'Paid search', from: 140, to: 200, lift: 0.7 },
    ],
  },
  {
    id: 'wa-2187',
    name: 'Mosswick Botanic Garden',
    site: 'mosswick.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2023-10-16',
    base: 760,
    growth: 0.14,
    peak: 150,
    swing: 0.32,
    week: WEEKENDS,
    countries: [
      ['United Kingdom', 8],
      ['Ireland', 1],
      ['France', 1],
    ],
    pages: [
      ['/', 26],
      ['/visit', 22],
      ['/tickets', 17],
      ['/whats-on/lantern-evenings', 12],
      ['/glasshouse', 8],
      ['/schools', 5],
      ['/tea-room', 5],
      ['/volunteer', 3],
    ],
    orders: 0.031,
    basket: 27.4,
    leads: 0.002,
    campaigns: [
      { channel: 'Paid search', from: 288, to: 325, lift: 1.4 },
      { channel: 'Social', from: 95, to: 110, lift: 1.1 },
    ],
    incidents: { '2026-10-19': 0, '2026-08-06': 0.1 },
  },
  {
    id: 'wa-2233',
    name: 'Quillon Cycle Works',
    site: 'quillon.example',
    zone: 'Europe/Berlin',
    currency: 'EUR',
    firstDay: '2023-08-07',
    base: 1450,
    growth: 0.18,
    peak: 125,
    swing: 0.3,
    week: EVEN,
    countries: [
      ['Germany', 7],
      ['Austria', 2],
      ['Switzerland', 1],
    ],
    pages: [
      ['/', 18],
      ['/raeder/stadt', 17],
      ['/raeder/reise', 14],
      ['/werkstatt', 9],
      ['/zubehoer/licht', 12],
      ['/zubehoer/taschen', 10],
      ['/rahmenfinder', 8],
      ['/gutscheine', 4],
      ['/filiale', 5],
    ],
    orders: 0.019,
    basket: 148,
    leads: 0.003,
    campaigns: [
      { channel: 'Email', from: 326, to: 335, lift: 3 },
      { channel: 'Paid search', from: 75, to: 130, lift: 0.6 },
    ],
    incidents: { '2026-10-08': 2.9, '2026-11-12': 0 },
  },
  {
    id: 'wa-2310',
    name: 'Brackenhollow Physio',
    site: 'brackenhollow.example',
    zone: 'America/Toronto',
    currency: 'CAD',
    firstDay: '2024-02-12',
    base: 210,
    growth: 0.22,
    peak: 20,
    swing: 0.15,
    week: WORKDAYS,
    countries: [
      ['Canada', 9],
      ['United States', 1],
    ],
    pages: [
      ['/', 22],
      ['/back-pain', 18],
      ['/knee', 13],
      ['/riverside', 9],
      ['/old-mill', 8],
      ['/north-yard', 7],
      ['/prices', 11],
      ['/book-a-call', 12],
    ],
    orders: 0,
    basket: 0,
    leads: 0.058,
    campaigns: [{ channel: 'Paid search', from: 5, to: 40, lift: 0.9 }],
  },
  {
    id: 'wa-2377',
    name: 'Oatmere Dairy Co-op',
    site: 'oatmere.example',
    zone: 'Europe/Dublin',
    currency: 'EUR',
    firstDay: '2023-11-01',
    base: 540,
    growth: 0.12,
    peak: 345,
    swing: 0.25,
    week: EVEN,
    countries: [
      ['Ireland', 8],
      ['United Kingdom', 2],
    ],
    pages: [
      ['/', 20],
      ['/shop/cheese', 21],
      ['/shop/hampers', 18],
      ['/shop/butter', 9],
      ['/farms', 10],
      ['/recipes', 16],
      ['/stockists', 6],
    ],
    orders: 0.027,
    basket: 41.8,
    leads: 0.001,
    campaigns: [
      { channel: 'Social', from: 300, to: 345, lift: 1.2 },
      { channel: 'Email', from: 318, to: 352, lift: 1.8 },
    ],
  },
  {
    id: 'wa-2450',
    name: 'Nightjar Rail Holidays',
    site: 'nightjar.example',
    zone: 'Europe/Paris',
    currency: 'EUR',
    firstDay: '2023-08-21',
    base: 980,
    growth: 0.06,
    peak: 35,
    swing: 0.38,
    week: WORKDAYS,
    countries: [
      ['France', 7],
      ['Belgique', 2],
      ['Suisse', 1],
    ],
    pages: [
      ['/', 16],
      ['/trains-de-nuit', 22],
      ['/escapades', 18],
      ['/lisbonne', 11],
      ['/alpes', 12],
      ['/offres', 13],
      ['/devis', 8],
    ],
    orders: 0.006,
    basket: 865,
    leads: 0.021,
    campaigns: [
      { channel: 'Paid search', from: 1, to: 45, lift: 1.1 },
      { channel: 'Referral', from: 240, to: 262, lift: 1.5 },
    ],
  },
  {
    id: 'wa-2502',
    name: 'Tarnbeck Pottery',
    site: 'tarnbeck.example',
    zone: 'Europe/London',
    currency: 'GBP',
    firstDay: '2025-03-03',
    base: 160,
    growth: 0.3,
    peak: 340,
    swing: 0.3,
    week: WEEKENDS,
    countries: [
      ['United Kingdom', 9],
      ['Ireland', 1],
    ],
    pages: [
      ['/', 30],
      ['/mugs', 25],
      ['/classes', 20],
      ['/kiln-hire', 10],
      ['/about', 15],
    ],
    orders: 0.022,
    basket: 33.5,
    leads: 0.01,
    campaigns: [{ channel: 'Social', from: 310, to: 350, lift: 1 }],
  },
];
