import type { CivilDate, ComparisonSpec, PeriodSpec, Rule } from '@chronicon/core/calendar';
import type { ScheduleInput } from '@chronicon/core/contract';
import type { MetricSettings, Target } from '@chronicon/core/figures';
import type { Logo, SegmentInput } from '@chronicon/core/report';
import { cycles } from './designs/cycles.ts';
import { dairy } from './designs/dairy.ts';
import type { Design } from './designs/design.ts';
import { ferries } from './designs/ferries.ts';
import { garden } from './designs/garden.ts';
import { nearby } from './designs/nearby.ts';
import { physio } from './designs/physio.ts';
import { rail } from './designs/rail.ts';
import type { LOGOS } from './logos.ts';

export interface DemoSchedule {
  report: string;
  rule: Rule;
  time: string;
  period: PeriodSpec;
  comparison: ComparisonSpec;
  /** Assumptions that are set anew. */
  assumed?: Record<string, number>;
  /** Numbers of the client's contacts. */
  readers: number[];
  /** A dimension with the numbers of those who read of each value. */
  groups?: { by: string; of: Record<string, number[]> };
  /** What it chooses beyond that. */
  choices?: Partial<ScheduleInput>;
  subject?: string;
  message?: string;
}

export interface DemoClient {
  logo: keyof typeof LOGOS;
  account: string;
  /** Further feeds: kind and account. */
  feeds?: [kind: string, account: string][];
  name: string;
  zone: string;
  currency: string;
  language: string;
  startDate: string;
  colours: [main: string, second: string];
  tags: string[];
  manager: 'ines.tallow@fernglass.example' | 'joren.vask@fernglass.example';
  /** With a mark for those of whom nobody noted that they want reports. */
  contacts: [firstName: string, lastName: string, email: string, silent?: true][];
  /** What is said is written for the months that went out, or stands in every edition; empty: nothing is said. */
  /** A design of its own, or a starter with a heading. */
  reports: {
    title: string;
    design?: Design;
    starter?: string;
    heading?: string;
    commentary: string;
    stands?: true;
    done?: string[];
  }[];
  schedules: DemoSchedule[];
  metrics?: MetricSettings;
  targets?: Target[];
  segments?: (SegmentInput & { id: string })[];
  notes?: { from: string; to: string; text: string; inReports: boolean }[];
}

const lastMonth: PeriodSpec = { kind: 'unit', unit: 'month', offset: -1 };
const lastWeek: PeriodSpec = { kind: 'unit', unit: 'week', offset: -1 };
const sevenDays: PeriodSpec = { kind: 'rolling', days: 7 };
const previous: ComparisonSpec = { kind: 'previous' };
const lastYear: ComparisonSpec = { kind: 'lastYear' };
const monthly = (day: number): Rule => ({ freq: 'monthly', every: 1, on: { day } });
const weekly = (...weekdays: number[]): Rule => ({ freq: 'weekly', every: 1, weekdays });

/** The clients of Fernglass Media. Everything here is made up. `today` is a weekday number, 1 = Monday. */
export const demoClients = (today: number, date: CivilDate, lanterns: Logo): DemoClient[] => [
  {
    logo: 'skerrybound',
    targets: [{ metric: 'revenue', span: 'month', from: '2025-10', repeats: true, value: 920_000 }],
    account: 'wa-2041',
    feeds: [['upkeep', 'up-8041']],
    name: 'Skerrybound Ferries',
    zone: 'Atlantic/Faroe',
    currency: 'DKK',
    language: 'en-GB',
    startDate: '2023-09-01',
    colours: ['#1f5f99', '#e0762e'],
    tags: ['Travel'],
    manager: 'ines.tallow@fernglass.example',
    contacts: [
      ['Halla', 'Djurhus', 'halla@skerrybound.example'],
      ['Rói', 'Klett', 'roi@skerrybound.example'],
    ],
    reports: [
      {
        title: 'Monthly overview',
        design: ferries(date),
        done: [
          'The winter timetable is online, with every island on one page',
          'Forms for cars ask for the length first',
          'Pictures of the harbour load twice as fast',
        ],
        commentary:
          'The winter timetable went online in the second week. Foot passengers book later than last year, most of them on a phone in the last two days before sailing.\n\n- The booking page now remembers the chosen island.\n- Next: a reminder by email for cars that wait on the list.',
      },
      { title: 'Bookings week', starter: 'shop', heading: 'This week on the water', commentary: '' },
    ],
    schedules: [
      {
        report: 'Monthly overview',
        rule: monthly(3),
        time: '08:00',
        period: lastMonth,
        comparison: lastYear,
        readers: [0, 1],
      },
      // Due on the demo's first day, from a feed that stopped the day before: it is held, with the reason.
      {
        report: 'Bookings week',
        rule: weekly(today),
        time: '07:30',
        period: sevenDays,
        comparison: previous,
        readers: [0],
      },
    ],
  },
  {
    logo: 'mosswick',
    account: 'wa-2187',
    feeds: [
      ['paid-ads', 'ad-7187'],
      ['social', 'so-4187'],
    ],
    name: 'Mosswick Botanic Garden',
    zone: 'Europe/London',
    currency: 'GBP',
    language: 'en-GB',
    startDate: '2023-10-16',
    colours: ['#2f6b3a', '#b8862d'],
    tags: ['Visitors', 'Travel'],
    manager: 'ines.tallow@fernglass.example',
    metrics: {
      changed: { orders: { label: 'Ticket orders' } },
      own: [
        {
          key: 'salesPerHundred',
          label: 'Sales per 100 visits',
          unit: 'money',
          polarity: 'higher',
          formula: 'revenue / visits * 100',
          definition: 'What a hundred visits to the site bring in ticket sales.',
        },
      ],
    },
    targets: [
      { metric: 'revenue', span: 'month', from: '2026-01', repeats: true, value: 28_000 },
      { metric: 'orderRate', span: 'year', from: '2026-01', repeats: false, value: 0.036 },
      { metric: 'bounceRate', span: 'month', from: '2026-01', repeats: true, value: 0.4 },
    ],
    notes: [
      { from: '2026-10-24', to: '2026-10-31', text: 'Lantern evenings', inReports: true },
      { from: '2026-08-06', to: '2026-08-06', text: 'Measuring was off until the evening', inReports: true },
    ],
    contacts: [
      ['Orla', 'Fenwick', 'orla.fenwick@mosswick.example'],
      ['Tobin', 'Aske', 'tobin.aske@mosswick.example'],
      ['Sunniva', 'Reed', 'sunniva.reed@mosswick.example'],
    ],
    reports: [
      {
        title: 'Monthly overview',
        design: garden(lanterns),
        done: [
          'Opened the ticket page for the Lantern evenings',
          'Two steps fewer on a phone, from choice to payment',
          'New pictures of the glasshouse, by the gardeners themselves',
          'A letter to holders of the annual pass',
        ],
        commentary:
          'Paid search carried the Lantern evenings from the day they opened; people who came for them also looked at winter opening times and the tea room.\n\n- The ticket page is now two steps shorter on a phone.\n- Next: offer the annual pass on the last step.',
      },
      { title: 'Visits week', starter: 'visits', heading: 'A week in the garden', commentary: '' },
    ],
    schedules: [
      {
        report: 'Monthly overview',
        rule: monthly(2),
        time: '09:00',
        period: lastMonth,
        comparison: previous,
        readers: [0, 1, 2],
      },
      { report: 'Visits week', rule: weekly(4), time: '08:00', period: sevenDays, comparison: previous, readers: [0] },
    ],
  },
  {
    logo: 'quillon',
    account: 'wa-2233',
    feeds: [['paid-ads', 'ad-7233']],
    name: 'Quillon Cycle Works',
    zone: 'Europe/Berlin',
    currency: 'EUR',
    language: 'de-DE',
    startDate: '2023-08-07',
    colours: ['#8a6210', '#33302a'],
    tags: ['Shops'],
    manager: 'joren.vask@fernglass.example',
    targets: [{ metric: 'revenue', span: 'quarter', from: '2026-01', repeats: true, value: 400_000 }],
    notes: [{ from: '2026-10-08', to: '2026-10-08', text: 'Automated visits, being looked into', inReports: false }],
    contacts: [
      ['Benno', 'Laschke', 'benno@quillon.example'],
      ['Wiebke', 'Torn', 'wiebke@quillon.example'],
    ],
    reports: [
      {
        title: 'Shop im Monat',
        design: cycles,
        commentary:
          'Taschen und Licht tragen den Herbst; Reiseräder sind wie jedes Jahr ruhiger. Die neue Größenhilfe wird auf jeder dritten Produktseite geöffnet.\n\n- Werkstatt-Termine lassen sich jetzt online buchen.',
      },
    ],
    schedules: [
      {
        report: 'Shop im Monat',
        rule: monthly(2),
        time: '09:00',
        period: lastMonth,
        comparison: lastYear,
        readers: [0, 1],
        message:
          'Guten Tag {{contact.firstName}},\n\nim Anhang finden Sie „{{report.title}}“ für {{period.label}}, verglichen mit {{comparison.label}}. Der Umsatz lag bei {{figure.revenue}} ({{change.revenue}}).',
      },
      {
        report: 'Shop im Monat',
        rule: weekly(2),
        time: '07:00',
        period: lastWeek,
        comparison: lastYear,
        readers: [0],
        message: 'Guten Tag {{contact.firstName}},\n\nim Anhang die Zahlen der Woche {{period.label}}.',
      },
    ],
  },
  {
    logo: 'brackenhollow',
    account: 'wa-2310',
    feeds: [
      ['calls', 'ca-3310'],
      ['listings', 'li-5310'],
    ],
    name: 'Brackenhollow Physio',
    zone: 'America/Toronto',
    currency: 'CAD',
    language: 'en-CA',
    startDate: '2024-02-12',
    colours: ['#157f7a', '#e39b4b'],
    tags: ['Enquiries'],
    manager: 'joren.vask@fernglass.example',
    contacts: [
      ['Della', 'Marsh', 'della@brackenhollow.example'],
      ['Ivo', 'Stannard', 'ivo@brackenhollow.example', true],
      ['Wren', 'Calloway', 'riverside@brackenhollow.example'],
      ['Sorrel', 'Aldous', 'oldmill@brackenhollow.example'],
      ['Tamsin', 'Quay', 'northyard@brackenhollow.example'],
    ],
    reports: [
      {
        title: 'Enquiries',
        design: physio(
          'Most enquiries start on the pages on back and knee pain. Old Mill has free slots on Thursday afternoons.',
        ),
        commentary: '',
      },
      { title: 'Found nearby', design: nearby, commentary: '' },
    ],
    schedules: [
      {
        report: 'Found nearby',
        rule: { freq: 'monthly', every: 1, on: { workday: 3 } },
        time: '09:00',
        period: lastMonth,
        comparison: previous,
        readers: [0],
        groups: { by: 'location', of: { Riverside: [2], 'Old Mill': [3], 'North Yard': [4] } },
      },
      {
        report: 'Enquiries',
        rule: weekly(1, 3),
        time: '08:30',
        period: sevenDays,
        comparison: previous,
        readers: [0, 1],
      },
      { report: 'Enquiries', rule: monthly(5), time: '10:00', period: lastMonth, comparison: previous, readers: [0] },
    ],
  },
  {
    logo: 'oatmere',
    account: 'wa-2377',
    feeds: [
      ['email', 'em-6377'],
      ['social', 'so-4377'],
    ],
    name: 'Oatmere Dairy Co-op',
    zone: 'Europe/Dublin',
    currency: 'EUR',
    language: 'en-IE',
    startDate: '2023-11-01',
    colours: ['#a8452f', '#5d6b2f'],
    tags: ['Shops', 'Food'],
    manager: 'joren.vask@fernglass.example',
    metrics: { changed: {}, own: [], names: { hashtag: { '#summerbutter': 'Summer butter' } } },
    contacts: [
      ['Niamh', 'Corrigan', 'niamh@oatmere.example'],
      ['Lorcan', 'Harrow', 'l.harrow@oatmere.example'],
    ],
    reports: [
      {
        title: 'Shop month',
        design: dairy,
        commentary: 'Hampers are back. Social posts from the farms bring twice the visits of product posts.',
      },
    ],
    schedules: [
      {
        report: 'Shop month',
        rule: { freq: 'monthly', every: 1, on: { workday: 2 } },
        time: '17:00',
        period: lastMonth,
        comparison: previous,
        readers: [0],
      },
      {
        report: 'Shop month',
        rule: weekly(5),
        time: '07:30',
        period: sevenDays,
        comparison: previous,
        readers: [0, 1],
      },
    ],
  },
  {
    logo: 'nightjar',
    account: 'wa-2450',
    feeds: [
      ['search', 'se-9450'],
      ['paid-ads', 'ad-7450'],
    ],
    metrics: {
      changed: {},
      own: [
        {
          key: 'adProfit',
          label: 'Résultat des annonces',
          unit: 'money',
          polarity: 'higher',
          formula: 'adValue * margin - adCost',
          definition: 'What ads leave once the margin is taken of what they sold.',
        },
      ],
    },
    segments: [
      {
        id: 'sg_horsmarque',
        name: 'Hors marque',
        parts: [{ dimension: 'brandTerm', how: 'only', values: ['Other'] }],
      },
    ],
    name: 'Nightjar Rail Holidays',
    zone: 'Europe/Paris',
    currency: 'EUR',
    language: 'fr-FR',
    startDate: '2023-08-21',
    colours: ['#5b4a91', '#c9a24a'],
    tags: ['Travel', 'Shops'],
    manager: 'ines.tallow@fernglass.example',
    contacts: [
      ['Maëlle', 'Ostrand', 'maelle@nightjar.example'],
      ['Cyprien', 'Vale', 'cyprien@nightjar.example'],
    ],
    reports: [
      {
        title: 'Demandes et réservations',
        design: rail,
        commentary:
          'Les trains de nuit portent les demandes de l’automne. La campagne Alpes démarre après les vacances.',
      },
    ],
    schedules: [
      {
        report: 'Demandes et réservations',
        assumed: { margin: 0.2 },
        rule: weekly(7, 3),
        time: '08:00',
        period: sevenDays,
        comparison: previous,
        readers: [0, 1],
        message:
          'Bonjour {{contact.firstName}},\n\nvous trouverez ci-joint « {{report.title}} » pour {{period.label}}.',
      },
      {
        report: 'Demandes et réservations',
        assumed: { margin: 0.2 },
        rule: monthly(3),
        time: '08:00',
        period: lastMonth,
        comparison: lastYear,
        readers: [0],
        message:
          'Bonjour {{contact.firstName}},\n\nvous trouverez ci-joint « {{report.title}} » pour {{period.label}}.',
      },
    ],
  },
];
